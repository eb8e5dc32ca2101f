/** Dimensions where they stand: lines with ticks, and labels that are edited in place. */
import { useEffect, useRef, useState } from 'react'
import { ToleranceField } from '../sentence/ToleranceField'
import { send, useStore } from '../state/store'
import { length, plain, result } from '../widgets/figures'
import { type BoardMap, type SketchDoc, type SketchSize, type Vec2, alongArc, middle, runsOf } from './geometry'

interface Props {
  sketch: SketchDoc
  at: Record<string, Vec2>
  radius: (id: string) => number
  map: BoardMap
  wide: number
  step: string
  figures: Record<string, number>
  editing: string | null
  edit: (id: string | null) => void
  take: (ids: string[]) => void
}

export function Sizes({ sketch, at, radius, map, wide, step, figures, editing, edit, take }: Props) {
  const xs = sketch.points.map((p) => at[p.id])
  const centre: Vec2 = xs.length ? [xs.reduce((s, p) => s + p[0], 0) / xs.length, xs.reduce((s, p) => s + p[1], 0) / xs.length] : [0, 0]
  const shown = sketch.dimensions.filter((size) => !size.follows).map((size) => ({ size, spot: place(size, sketch, at, radius, map, map.screen(centre)) }))
  return (
    <>
      <svg className="pointer-events-none absolute inset-0" width="100%" height="100%" aria-hidden>
        {shown.map(({ size, spot }) => spot && <path key={size.id} d={spot.path} stroke="var(--ink2)" fill="none" />)}
      </svg>
      {shown.map(
        ({ size, spot }) =>
          spot && <Label key={size.id} size={size} x={spot.label[0]} y={spot.label[1]} wide={wide} step={step} figure={figures[size.id]} open={editing === size.id} edit={edit} take={take} />,
      )}
    </>
  )
}

function place(size: SketchSize, sketch: SketchDoc, at: Record<string, Vec2>, radius: (id: string) => number, map: BoardMap, centre: Vec2): { path: string; label: Vec2 } | null {
  const curve = sketch.curves.find((c) => c.id === size.of[size.of.length - 1])
  if (size.kind === 'diameter' || size.kind === 'radius') {
    if (!curve) return null
    const [cx, cy] = map.screen(at[curve.points[0]])
    if (curve.kind === 'arc') {
      // from the centre to the middle of the arc, and a little on
      const run = alongArc(at[curve.points[0]], at[curve.points[1]], at[curve.points[2]])
      const [mx, my] = map.screen(run[Math.floor(run.length / 2)])
      const long = Math.hypot(mx - cx, my - cy) || 1
      const [ux, uy] = [(mx - cx) / long, (my - cy) / long]
      return { path: `M${cx} ${cy}L${mx + ux * 14} ${my + uy * 14}${tick(mx, my)}`, label: [mx + ux * 44, my + uy * 26] }
    }
    const r = radius(curve.id) * map.scale
    if (curve.kind === 'ellipse') {
      // the second half axis stands square on the first
      const [mx, my] = map.screen(at[curve.points[1]])
      const long = Math.hypot(mx - cx, my - cy) || 1
      const [nx, ny] = [(my - cy) / long, -(mx - cx) / long]
      return { path: `M${cx} ${cy}L${cx + nx * r} ${cy + ny * r}${tick(cx + nx * r, cy + ny * r)}`, label: [cx + nx * (r + 20), cy + ny * (r + 20)] }
    }
    return { path: `M${cx - (size.kind === 'diameter' ? r : 0)} ${cy}H${cx + r}${tick(cx + r, cy)}${size.kind === 'diameter' ? tick(cx - r, cy) : ''}`, label: [cx, cy + 22] }
  }
  const first = sketch.curves.find((c) => c.id === size.of[0])
  if (size.kind === 'perimeter' && first) {
    const run = runsOf(first, at, radius(first.id))[0]
    const k = Math.max(1, Math.floor(run.length / 2))
    const [mx, my] = map.screen(run.length === 2 ? middle(run[0], run[1]) : run[k])
    const [px, py] = map.screen(run[k - 1])
    const long = Math.hypot(mx - px, my - py) || 1
    let [nx, ny] = [-(my - py) / long, (mx - px) / long]
    if ((mx - centre[0]) * nx + (my - centre[1]) * ny < 0) [nx, ny] = [-nx, -ny]
    return { path: `M${mx} ${my}L${mx + nx * 24} ${my + ny * 24}`, label: [mx + nx * 36, my + ny * 36] }
  }
  let [a, b] = size.of.length === 1 && first ? [at[first.points[0]], at[first.points[1]]] : [at[size.of[0]], at[size.of[1]]]
  if (size.kind === 'angle' && first && curve) {
    ;[a, b] = [middle(at[first.points[0]], at[first.points[1]]), middle(at[curve.points[0]], at[curve.points[1]])]
  } else if (size.of.length === 2 && curve) {
    b = middle(at[curve.points[0]], at[curve.points[1]])
  }
  if (!a || !b) return null
  const [p, q] = [map.screen(a), map.screen(b)]
  const [dx, dy] = [q[0] - p[0], q[1] - p[1]]
  const long = Math.hypot(dx, dy) || 1
  let [nx, ny] = [-dy / long, dx / long]
  const m = middle(p, q)
  // outside of the drawing, away from its middle
  if ((m[0] - centre[0]) * nx + (m[1] - centre[1]) * ny < 0) [nx, ny] = [-nx, -ny]
  const away = 40
  const [p2, q2]: [Vec2, Vec2] = [[p[0] + nx * away, p[1] + ny * away], [q[0] + nx * away, q[1] + ny * away]]
  return {
    path: `M${p[0] + nx * 6} ${p[1] + ny * 6}L${p2[0] + nx * 6} ${p2[1] + ny * 6}M${q[0] + nx * 6} ${q[1] + ny * 6}L${q2[0] + nx * 6} ${q2[1] + ny * 6}M${p2[0]} ${p2[1]}L${q2[0]} ${q2[1]}${tick(...p2)}${tick(...q2)}`,
    label: middle(p2, q2),
  }
}

const tick = (x: number, y: number) => `M${x - 4} ${y + 4}L${x + 4} ${y - 4}`

function Label({ size, x, y, wide, step, figure, open, edit, take }: { size: SketchSize; x: number; y: number; wide: number; step: string; figure: number | undefined; open: boolean; edit: (id: string | null) => void; take: (ids: string[]) => void }) {
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const said = useStore((s) => s.said)
  const path = `sketch.dimensions.${size.id}.formula`
  const tolerance = useStore((s) => s.project!.document.recipe!.find((r) => r.id === step)?.tolerances?.[path] ?? '')
  const [text, setText] = useState(size.formula)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => {
    if (!open) return
    setText(size.formula)
    requestAnimationFrame(() => input.current?.select())
  }, [open, size.formula])
  if (size.reading) {
    const read = figure === undefined ? '…' : size.kind === 'angle' ? `${plain((figure * 180) / Math.PI, 2)}°` : length(figure, unit)
    return (
      <button
        data-size={size.id}
        data-reading
        className="fig absolute z-10 whitespace-nowrap -translate-x-1/2 -translate-y-1/2 border border-dashed border-hair bg-card px-1.5 text-ink2 hover:border-ink"
        style={{ left: Math.round(Math.max(40, Math.min(wide - 40, x))), top: Math.round(y) }}
        title="only read: click to let it drive"
        aria-label={`${size.kind} read: ${read}; Enter lets it drive, Delete takes it away`}
        onClick={() => void send({ do: 'ReadingSketch', step, dimension: size.id, on: false }, { step: 'board' })}
        onKeyDown={(e) => e.key === 'Delete' && (e.stopPropagation(), take([size.id]))}
      >
        reads {size.kind === 'diameter' ? 'Ø ' : size.kind === 'radius' ? 'r ' : ''}
        {read}
      </button>
    )
  }
  const value = figure === undefined ? '' : result(size.formula, figure, size.kind === 'angle' ? 'angle' : 'length', unit)
  // half the label's width, near enough to keep it on the board
  const half = 4.1 * (size.formula.length + (value ? value.length + 3 : 0) + 2) + 8
  const style = { left: Math.round(Math.max(half, Math.min(wide - half, x))), top: Math.round(y) }
  if (open) {
    return (
      <div className="absolute z-20 -translate-x-1/2 -translate-y-1/2" style={style}>
        <input
          ref={input}
          autoFocus
          aria-label={`${size.kind} of ${size.of.join(', ')}`}
          className="field fig w-44! text-center"
          value={text}
          spellCheck={false}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={async (e) => {
            e.stopPropagation()
            if (e.key === 'Escape') {
              edit(null)
              useStore.setState({ said: null })
            }
            if (e.key === 'Enter' && (text.trim() === size.formula || (await send({ do: 'ResizeSketch', step, dimension: size.id, formula: text }, { step: `size:${size.id}` })))) edit(null)
          }}
        />
        <div className="border border-hair bg-card px-2 pb-1" onKeyDown={(e) => e.stopPropagation()}>
          <button className="mr-2 border-b border-dotted border-ink text-[13px]" onClick={() => (edit(null), void send({ do: 'ReadingSketch', step, dimension: size.id, on: true }, { step: 'board' }))}>
            only read it
          </button>
          <ToleranceField dimension={`${step}:${path}`} text={tolerance} target={{ step, path }} at={{ step: `size:${size.id}` }} />
        </div>
        {said?.step === `size:${size.id}` && (
          <p role="alert" className="w-60 border border-wrong bg-card px-2 text-[13px] text-wrong">
            {said.text}
          </p>
        )}
      </div>
    )
  }
  return (
    <button
      data-size={size.id}
      className="fig absolute z-10 whitespace-nowrap -translate-x-1/2 -translate-y-1/2 bg-card px-1.5 font-semibold hover:bg-accent hover:text-accentink"
      style={style}
      aria-label={`${size.kind} ${size.formula}${value ? `, ${value}` : ''}; Enter changes it, Delete takes it away`}
      onClick={() => edit(size.id)}
      onKeyDown={(e) => e.key === 'Delete' && (e.stopPropagation(), take([size.id]))}
    >
      {size.kind === 'diameter' ? 'Ø ' : size.kind === 'radius' ? 'r ' : size.kind === 'perimeter' ? 'along ' : ''}
      {size.formula}
      {tolerance && <span className="font-normal text-accent"> {tolerance}</span>}
      {value && <span className="font-normal"> → {value}</span>}
    </button>
  )
}
