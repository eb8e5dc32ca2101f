/** The tools of the board. A tool can be used by clicking on the board or by filling in its figures here. */
import { useState } from 'react'
import { send, useStore } from '../state/store'
import type { Tool } from './drawing'
import { type SketchDoc, type Vec2, between } from './geometry'
import { TIE_WORDS } from './Ties'

const TOOLS: [Tool, string, string][] = [
  ['move', 'move and select', ''], ['line', 'line', 'l'], ['arc', 'arc', 'a'], ['circle', 'circle', 'o'], ['centre', 'rectangle by centre', 'r'], ['corner', 'rectangle by corners', ''],
  ['slot', 'slot', ''], ['polygon', 'polygon', ''], ['trim', 'trim', 't'],
]
const HOW: Record<Tool, string> = {
  move: '', centre: 'Click the middle, then a corner.', corner: 'Click two corners.', circle: 'Click the centre, then the rim.',
  line: 'Click from end to end; type a figure for a length. Alt: as it is pointed.', arc: 'Click both ends, then a place on it.', slot: 'Click both centres, then its side.',
  polygon: 'Click the middle, then a corner.', trim: 'Click the stretch to take away.',
}

interface Props {
  tool: Tool
  setTool: (tool: Tool) => void
  chosen: string[]
  sketch: SketchDoc
  step: string
  size: () => void
  take: (ids: string[]) => void
  drawn: () => void
  sides: number
  setSides: (sides: number) => void
  construction: boolean
  setConstruction: (on: boolean) => void
  at: Record<string, Vec2>
}

export function ToolTray({ tool, setTool, chosen, sketch, step, size, take, drawn, sides, setSides, construction, setConstruction, at }: Props) {
  const ties = fitting(chosen, sketch)
  return (
    <div role="toolbar" aria-label="board tools" aria-orientation="vertical" className="absolute top-[60px] left-4 z-10 flex w-[184px] flex-col border border-ink bg-card">
      {TOOLS.map(([id, word, key]) => (
        <button key={id} aria-pressed={tool === id} className={`flex justify-between px-3 py-1 text-left ${tool === id ? 'bg-ink font-semibold text-card' : 'hover:bg-row'}`} onClick={() => setTool(id)}>
          {word}
          {key && <span className={`key ${tool === id ? 'bg-transparent! text-card!' : ''}`}>{key}</span>}
        </button>
      ))}
      {['centre', 'corner', 'circle'].includes(tool) && <Exact key={tool} tool={tool} step={step} drawn={drawn} />}
      {['line', 'arc', 'slot', 'polygon', 'trim'].includes(tool) && (
        <div className="border-t border-hair bg-sheet px-3 py-2 text-[12.5px] text-ink2">
          <p>{HOW[tool]}</p>
          {tool === 'polygon' && (
            <label className="mt-1 flex items-center gap-2">
              sides
              <input type="number" min={3} max={60} className="field fig w-16! py-0! text-ink" value={sides} onChange={(e) => setSides(Math.max(3, Math.min(60, Number(e.target.value) || 6)))} />
            </label>
          )}
          {(tool === 'line' || tool === 'arc') && <Places key={tool} {...{ tool, step, at, construction }} />}
          {(tool === 'line' || tool === 'arc') && (
            <label className="mt-1 flex items-center gap-1.5">
              <input type="checkbox" className="accent-(--accent)" checked={construction} onChange={(e) => setConstruction(e.target.checked)} />
              construction <span className="key ml-auto">c</span>
            </label>
          )}
        </div>
      )}
      {chosen.length > 0 && (
        <div className="border-t border-hair py-1">
          <p className="px-3 text-[12.5px] text-ink2">{chosen.length === 1 ? 'what is selected' : `${chosen.length} things`}</p>
          <button className="flex w-full justify-between px-3 py-0.5 text-left hover:bg-row" onClick={size}>
            give it a size<span className="key">d</span>
          </button>
          {ties.map((kind) => (
            <button key={kind} className="block w-full px-3 py-0.5 text-left hover:bg-row" onClick={() => void send({ do: 'TieSketch', step, kind, of: ordered(kind, chosen, sketch) }, { step: 'board' })}>
              tie: {TIE_WORDS[kind]}
            </button>
          ))}
          <Work {...{ chosen, sketch, step }} />
          <button className="flex w-full justify-between px-3 py-0.5 text-left hover:bg-row" onClick={() => take(chosen)}>
            take away<span className="key">del</span>
          </button>
        </div>
      )}
    </div>
  )
}

/** Ties that make sense for what is selected. */
function fitting(chosen: string[], sketch: SketchDoc): string[] {
  const kinds = chosen.map((c) => sketch.curves.find((k) => k.id === c)?.kind ?? (c === 'origin' || sketch.points.some((p) => p.id === c) ? 'point' : 'other'))
  if (kinds.includes('other')) return []
  const count = (k: string) => kinds.filter((x) => x === k).length
  const round = count('circle') + count('arc')
  if (kinds.length === 1) return kinds[0] === 'line' ? ['horizontal', 'vertical'] : kinds[0] === 'point' && chosen[0] !== 'origin' ? ['fixed'] : []
  if (kinds.length === 2 && count('line') === 2) return ['parallel', 'perpendicular', 'equal', 'collinear']
  if (kinds.length === 2 && count('point') === 2) return ['coincident', 'horizontal', 'vertical']
  if (kinds.length === 2 && count('point') === 1) return count('line') ? ['point_on', 'midpoint'] : ['point_on']
  if (kinds.length === 2 && round === 2) return ['tangent', 'equal', 'concentric']
  if (kinds.length === 2 && round === 1 && count('line') === 1) return ['tangent']
  if (kinds.length === 3 && count('point') === 3) return ['midpoint']
  if (kinds.length === 3 && count('point') === 2 && count('line') === 1) return ['symmetric']
  if (kinds.length > 2 && (count('line') === kinds.length || round === kinds.length)) return ['equal']
  return []
}

/** What can be done with the selected shapes: construction, mirroring, rounding corners. */
function Work({ chosen, sketch, step }: { chosen: string[]; sketch: SketchDoc; step: string }) {
  const [radius, setRadius] = useState<string | null>(null)
  const [rows, setRows] = useState(false)
  const [ring, setRing] = useState(false)
  const [off, setOff] = useState(false)
  const curves = chosen.filter((c) => sketch.curves.some((k) => k.id === c))
  const corners = chosen.filter((p) => sketch.curves.filter((c) => c.kind === 'line' && c.points.includes(p)).length === 2)
  const last = sketch.curves.find((c) => c.id === chosen[chosen.length - 1])
  const on = curves.some((c) => !sketch.curves.find((k) => k.id === c)!.construction)
  const item = 'flex w-full justify-between px-3 py-0.5 text-left hover:bg-row'
  const round = async () => {
    if (await send({ do: 'RoundSketch', step, corners, radius: radius ?? '' }, { step: 'board' })) setRadius(null)
  }
  const chain = curves.length > 0 && curves.length === chosen.length && curves.every((c) => sketch.curves.find((k) => k.id === c)!.kind !== 'circle')
  const isPoint = (id: string) => id === 'origin' || sketch.points.some((p) => p.id === id)
  const centre = chosen.length > 1 && curves.length === chosen.length - 1 && isPoint(chosen[chosen.length - 1]) ? chosen[chosen.length - 1] : null
  return (
    <>
      {curves.length > 0 && curves.length === chosen.length && !rows && (
        <button className={item} onClick={() => setRows(true)}>
          repeat in rows …
        </button>
      )}
      {rows && (
        <Figures
          fields={[['across', '3'], ['apart', '10 mm'], ['deep', '1'], ['apart, deep', '10 mm']]}
          leave={() => setRows(false)}
          take={([across, pitch_x, deep, pitch_y]) => send({ do: 'RepeatSketch', step, ids: curves, across: Number(across) || 0, deep: Number(deep) || 0, pitch_x, pitch_y }, { step: 'board' })}
        />
      )}
      {chain && !off && (
        <button className={item} onClick={() => setOff(true)}>
          set off beside …
        </button>
      )}
      {chain && off && (
        <Figures
          fields={[['by', '3 mm']]}
          also="other side"
          leave={() => setOff(false)}
          take={([distance, also]) => send({ do: 'OffsetSketch', step, ids: curves, distance, other_side: !!also }, { step: 'board' })}
        />
      )}
      {centre && !ring && (
        <button className={item} onClick={() => setRing(true)}>
          repeat round the point …
        </button>
      )}
      {centre && ring && (
        <Figures
          fields={[['times', '6']]}
          leave={() => setRing(false)}
          take={([count]) => send({ do: 'RingSketch', step, ids: curves, centre, count: Number(count) || 0 }, { step: 'board' })}
        />
      )}
      {curves.length > 0 && curves.length === chosen.length && (
        <button className={item} onClick={() => void send({ do: 'ConstructSketch', step, ids: curves, on }, { step: 'board' })}>
          {on ? 'make construction' : 'make real'}
          <span className="key">c</span>
        </button>
      )}
      {curves.length === chosen.length && curves.length > 1 && last?.kind === 'line' && (
        <button className={item} onClick={() => void send({ do: 'MirrorSketch', step, ids: curves.slice(0, -1), axis: last.id }, { step: 'board' })}>
          mirror in the last one
        </button>
      )}
      {corners.length === chosen.length && radius === null && (
        <button className={item} onClick={() => setRadius('3 mm')}>
          round {corners.length > 1 ? `${corners.length} corners` : 'the corner'} …
        </button>
      )}
      {radius !== null && (
        <form className="flex gap-1 px-3 py-0.5" onSubmit={(e) => (e.preventDefault(), void round())}>
          <input className="field fig min-w-0 py-0!" autoFocus aria-label="radius of the corners" value={radius} onChange={(e) => setRadius(e.target.value)} onKeyDown={(e) => (e.stopPropagation(), e.key === 'Escape' && setRadius(null))} />
          <button className="plain px-2! py-0!" type="submit">
            take
          </button>
        </form>
      )}
    </>
  )
}

/** A line or an arc by the places of its ends, for exactness and for the keyboard; it goes on from where the last one ended. */
function Places({ tool, step, at, construction }: { tool: Tool; step: string; at: Record<string, Vec2>; construction: boolean }) {
  const said = useStore((s) => s.said)
  const [texts, setTexts] = useState(['0', '0', '', '', '', ''])
  const arc = tool === 'arc'
  /** The point that is at a place already. */
  const spot = (place: Vec2) => ({ at: place, on: Object.keys(at).find((p) => between(at[p], place) < 1e-4) ?? null })
  const draw = async () => {
    const figures = texts.map((t) => (t.trim() ? Number(t) : NaN))
    if (!figures.slice(0, arc ? 6 : 4).every(Number.isFinite)) {
      useStore.setState({ said: { text: 'A place needs two plain figures, in mm.', step: 'places' } })
      return
    }
    const [start, end, through] = [0, 2, 4].map((k) => [figures[k], figures[k + 1]] as Vec2)
    const level = end[1] === start[1] ? 'horizontal' : end[0] === start[0] ? 'vertical' : ''
    const command = arc
      ? { do: 'DrawArc', step, start: spot(start), end: spot(end), through, construction }
      : { do: 'DrawLine', step, start: spot(start), end: spot(end), tie: level, construction }
    if (await send(command, { step: 'places' })) setTexts([texts[2], texts[3], '', '', '', ''])
  }
  const words = ['from x', 'from y', 'to x', 'to y', 'over x', 'over y'].slice(0, arc ? 6 : 4)
  return (
    <form className="mt-1 grid grid-cols-2 gap-x-2" onSubmit={(e) => (e.preventDefault(), void draw())}>
      {words.map((word, k) => (
        <label key={word}>
          {word}
          <input className="field fig py-0! text-ink" value={texts[k]} spellCheck={false} onChange={(e) => setTexts(texts.map((t, i) => (i === k ? e.target.value : t)))} />
        </label>
      ))}
      <button className="plain col-span-2 mt-1 py-0! text-ink" type="submit">
        draw
      </button>
      {said?.step === 'places' && (
        <p role="alert" className="col-span-2 text-wrong">
          {said.text}
        </p>
      )}
    </form>
  )
}

/** A few figures to fill in for what is done with a selection. */
function Figures({ fields, also, take, leave }: { fields: [string, string][]; also?: string; take: (texts: string[]) => Promise<unknown>; leave: () => void }) {
  const [texts, setTexts] = useState(fields.map(([, first]) => first))
  return (
    <form
      className="grid grid-cols-2 gap-x-2 gap-y-0.5 border-y border-hair bg-sheet px-3 py-1.5"
      onSubmit={async (e) => {
        e.preventDefault()
        if (await take(texts)) leave()
      }}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Escape') leave()
      }}
    >
      {fields.map(([label], k) => (
        <label key={label} className="text-[12.5px] text-ink2">
          {label}
          <input className="field fig py-0! text-ink" autoFocus={k === 0} value={texts[k]} spellCheck={false} onChange={(e) => setTexts(texts.map((t, i) => (i === k ? e.target.value : t)))} />
        </label>
      ))}
      <button className={`strong mt-1 py-0! ${also ? '' : 'col-span-2'}`} type="submit">
        take
      </button>
      {also && (
        <button className="plain mt-1 px-1! py-0! text-[13px]" type="button" onClick={async () => (await take([...texts, also])) && leave()}>
          {also}
        </button>
      )}
    </form>
  )
}

/** The point goes before the line or the two points that it is tied to. */
function ordered(kind: string, chosen: string[], sketch: SketchDoc): string[] {
  if (kind !== 'point_on' && kind !== 'midpoint' && kind !== 'symmetric') return chosen
  return [...chosen].sort((a, b) => Number(sketch.curves.some((c) => c.id === a)) - Number(sketch.curves.some((c) => c.id === b)))
}

/** Draws by figures: a place and formulas, for exactness and for the keyboard. */
function Exact({ tool, step, drawn }: { tool: Tool; step: string; drawn: () => void }) {
  const said = useStore((s) => s.said)
  const [x, setX] = useState('0')
  const [y, setY] = useState('0')
  const [a, setA] = useState('')
  const [b, setB] = useState('')
  const round = tool === 'circle'
  const place: [number, number] = [Number(x), Number(y)]
  const draw = async () => {
    if (!place.every(Number.isFinite)) {
      useStore.setState({ said: { text: 'The place needs two plain figures, in mm from the middle.', step: 'exact' } })
      return
    }
    const on = place[0] === 0 && place[1] === 0 ? 'origin' : null
    // a start near enough for the solver; the formulas then say how large it is
    const command = round
      ? { do: 'DrawCircle', step, centre: place, on, radius: 10, diameter: a }
      : { do: 'DrawRectangle', step, first: place, corner: [place[0] + 20, place[1] + 15], by_centre: tool === 'centre', on, width: a, height: b }
    if (await send(command, { step: 'exact' })) drawn()
  }
  const field = (label: string, value: string, set: (v: string) => void, first = false) => (
    <label className="text-[12.5px] text-ink2">
      {label}
      <input className="field fig py-0.5! text-ink" autoFocus={first} data-first-figure={first || undefined} value={value} spellCheck={false} onChange={(e) => set(e.target.value)} />
    </label>
  )
  return (
    <form className="grid grid-cols-2 gap-x-2 gap-y-1 border-t border-hair bg-sheet px-3 py-2" onSubmit={(e) => (e.preventDefault(), void draw())}>
      <p className="col-span-2 text-[12.5px] text-ink2">{HOW[tool]} Or write it:</p>
      {round ? <div className="col-span-2">{field('diameter', a, setA, true)}</div> : <div className="col-span-2">{field('width', a, setA, true)}</div>}
      {!round && <div className="col-span-2">{field('height', b, setB)}</div>}
      {field(tool === 'corner' ? 'corner x' : 'centre x', x, setX)}
      {field(tool === 'corner' ? 'corner y' : 'centre y', y, setY)}
      <button className="strong col-span-2 mt-1" type="submit" disabled={!a.trim() || (!round && !b.trim())}>
        draw
      </button>
      {said?.step === 'exact' && (
        <p role="alert" className="col-span-2 text-[12.5px] text-wrong">
          {said.text}
        </p>
      )}
    </form>
  )
}
