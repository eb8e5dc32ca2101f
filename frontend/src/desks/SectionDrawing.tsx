/** A joint's halves cut where the gap is least: as a whole to scale, and near by with the gap measured. */
import { useEffect, useState } from 'react'
import { api, type Joint } from '../api/client'
import type { components } from '../api/schema'
import { useStore } from '../state/store'
import { length } from '../widgets/figures'

type Drawing = components['schemas']['DrawingOut']
type Window = components['schemas']['WindowOut']
type Loop = [number, number][]

/** What the last drawings were of, so that going from card to card asks once. */
const kept = new Map<string, Drawing>()
const KEEP = 40

export function SectionDrawing({ joint }: { joint: Joint }) {
  const id = useStore((s) => s.id)
  const version = useStore((s) => s.project!.version)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const parts = useStore((s) => s.project!.document.parts!)
  const whole = useStore((s) => !!s.report?.measured && s.reportFor === s.project!.version && !s.preview && !s.limits)
  const key = `${id} ${version} ${joint.step}`
  const [drawing, setDrawing] = useState<Drawing | null>(kept.get(key) ?? null)
  useEffect(() => {
    if (kept.has(key)) return setDrawing(kept.get(key)!)
    if (!whole || !joint.measured_mm) return
    let gone = false
    void api.drawing(id, joint.step).then(
      (found) => {
        if (kept.size > KEEP) kept.clear()
        kept.set(key, found)
        if (!gone) setDrawing(found)
      },
      () => !gone && setDrawing(null),
    )
    return () => {
      gone = true
    }
  }, [key, whole, id, joint.step, joint.measured_mm])
  if (!drawing || drawing.joint !== joint.step || !joint.measured_mm) return null
  const named = drawing.parts.map((p) => parts.find((q) => q.id === p.part))
  const mm = drawing.gap.mm
  const larger = Math.round(half(drawing.whole) / half(drawing.near))
  return (
    <figure className="mt-3" data-drawing>
      <div className="flex gap-2">
        {(['whole', 'near'] as const).map((which) => (
          <svg
            key={which}
            viewBox={`0 0 ${SIZE} ${SIZE}`}
            className="min-w-0 flex-1 border border-hair bg-card"
            role="img"
            aria-label={which === 'whole' ? `${named[1]?.name} in ${named[0]?.name}, cut through the joint` : `the gap near by: ${length(mm, unit)} as drawn`}
          >
            <defs>
              {drawing.parts.map((p, k) => (
                <pattern key={p.part} id={`cut-${which}-${k}`} width="7" height="7" patternTransform={`rotate(${k ? -45 : 45})`} patternUnits="userSpaceOnUse">
                  <rect width="7" height="7" fill={named[k]?.colour} />
                  <path d="M0 0V7" stroke="#22302F" strokeWidth="0.8" opacity="0.45" />
                </pattern>
              ))}
            </defs>
            {drawing.parts.map((p, k) => (
              <path key={p.part} d={pathOf(p[which] as Loop[], drawing[which])} fill={`url(#cut-${which}-${k})`} stroke="var(--ink)" strokeWidth="1.1" fillRule="evenodd" />
            ))}
            {which === 'whole' ? !drawing.apart && <Frame outer={drawing.whole} inner={drawing.near} /> : <Size drawing={drawing} text={length(mm, unit)} />}
          </svg>
        ))}
      </div>
      <figcaption className="mt-0.5 text-[12.5px] text-ink2">
        {drawing.apart ? 'Cut where it is seen best, and near by where the gap is least' : 'Cut where the gap is least'}
        {mm < 0 ? ': the halves overlap there' : ''}
        {larger > 1 && !drawing.apart && `; near by ${larger} times larger`}{joint.per === 'diameter' && ', the gap a side'}.
      </figcaption>
    </figure>
  )
}

const SIZE = 160

/** Half of the square that a window is drawn in, mm. */
const half = (w: Window) => Math.max(w.half[0], w.half[1])

const place = ([u, v]: readonly number[], w: Window): [number, number] => {
  const k = SIZE / 2 / half(w)
  return [SIZE / 2 + (u - w.middle[0]) * k, SIZE / 2 - (v - w.middle[1]) * k]
}

const pathOf = (loops: Loop[], w: Window) => loops.map((loop) => `M${loop.map((p) => place(p, w).map((c) => c.toFixed(2)).join(' ')).join('L')}Z`).join('')

/** What is drawn near by, in the whole. */
function Frame({ outer, inner }: { outer: Window; inner: Window }) {
  const [x, y] = place([inner.middle[0] - half(inner), inner.middle[1] + half(inner)], outer)
  const side = (half(inner) / half(outer)) * SIZE
  const least = Math.max(side, 7)
  return <rect x={x - (least - side) / 2} y={y - (least - side) / 2} width={least} height={least} fill="none" stroke="var(--accent)" strokeWidth="1.4" />
}

/** The gap between two small strokes, with its figure. */
function Size({ drawing, text }: { drawing: Drawing; text: string }) {
  const [a, b] = drawing.gap.ends.map((p) => place(p, drawing.near))
  const y = (a[1] + b[1]) / 2
  const right = Math.max(a[0], b[0])
  const wide = text.length * 6.6 + 8
  const left = right + 10 + wide > SIZE ? SIZE - wide : right + 10
  return (
    <g stroke="var(--accent)" strokeWidth="1.4" fill="none">
      {[a, b].map(([x], k) => (
        <path key={k} d={`M${x - 3} ${y + 3}L${x + 3} ${y - 3}`} />
      ))}
      <path d={`M${Math.min(a[0], b[0]) - 10} ${y}H${left}`} />
      <rect x={left} y={y - 9} width={wide} height="18" fill="var(--card)" stroke="var(--accent)" strokeWidth="1" />
      <text x={left + wide / 2} y={y + 4} textAnchor="middle" fontSize="11" className="fig" fill="var(--ink)" stroke="none">
        {text}
      </text>
    </g>
  )
}
