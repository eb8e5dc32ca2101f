/** How a part lies on the bed: by the face that lies down (pointed at, or from the list), and a turn about the upright. */
import { useEffect, useRef } from 'react'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { FigureChip } from '../widgets/Chips'
import { arrowThrough } from '../widgets/focus'

/** Lays a part on one of its faces, by its place in the mesh on show. */
export async function layOn(id: string, index: number | null): Promise<void> {
  const { viewer, project } = useStore.getState()
  const part = project!.document.parts!.find((p) => p.id === id)
  const face = index === null ? null : viewer?.header(id)?.faces[index]
  if (!part || face === undefined) return
  const pick = face && { rule: 'flat' as const, part: id, face: { name: face.name, seen: face.seen } }
  if (await send({ do: 'LayPart', part: id, face: pick, turn_deg: part.turn_deg ?? 0 })) useStore.setState({ laying: null, selected: [], hover: null })
}

export function LieSheet({ id, close }: { id: string; close: () => void }) {
  const part = useStore((s) => s.project!.document.parts!.find((p) => p.id === id))
  const viewer = useStore((s) => s.viewer)
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    useStore.setState({ laying: id, selected: [] })
    box.current?.querySelector('button')?.focus()
    return () => useStore.setState({ laying: null, hover: null })
  }, [id])
  if (!part) return null
  const faces = (viewer?.header(id)?.faces ?? []).flatMap((face, index) => (face.kind === 'plane' ? [{ face, index }] : [])).sort((a, b) => b.face.seen.size - a.face.seen.size)
  const light = (index: number | null) => useStore.setState({ hover: index === null ? null : { type: 'face', part: id, index } })
  return (
    <div
      ref={box}
      className="mt-1 border border-ink bg-card px-3 py-2 text-[13px]"
      onKeyDown={(e) => {
        if (e.key === 'Escape') {
          e.stopPropagation()
          close()
        }
        arrowThrough(e, e.currentTarget.querySelectorAll<HTMLElement>('li button'))
      }}
    >
      <p className="text-ink2">Point at the flat face that lies down, or take one:</p>
      <ul className="max-h-32 overflow-auto" aria-label={`faces that ${part.name} can lie on`}>
        <li>
          <button className="w-full px-1 text-left hover:bg-row" onClick={() => void layOn(id, null).then(close)} onFocus={() => light(null)}>
            as modelled
          </button>
        </li>
        {faces.map(({ face, index }) => (
          <li key={index}>
            <button
              className="w-full px-1 text-left hover:bg-row"
              onClick={() => void layOn(id, index).then(close)}
              onFocus={() => light(index)}
              onMouseEnter={() => light(index)}
              onMouseLeave={() => light(null)}
            >
              {face.label}
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-1">
        turned about the upright by{' '}
        <FigureChip
          label={`turn of ${part.name}`}
          value={part.turn_deg ?? 0}
          unit="°"
          step={15}
          take={(turn) => void send({ do: 'LayPart', part: id, face: part.lies ?? null, turn_deg: ((turn % 360) + 360) % 360 })}
        />
      </p>
    </div>
  )
}
