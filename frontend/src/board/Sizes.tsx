/** Dimensions where they stand: lines with ticks, and labels that are edited in place. */
import { useLayoutEffect, useRef, useState } from 'react'
import { ToleranceField } from '../sentence/ToleranceField'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { length, plain, result } from '../widgets/figures'
import type { Words } from './words'
import { type Box, overlap } from './layout'
import { type BoardMap, type SketchDoc, type SketchSize, type Vec2, alongArc, middle, rimOf, runsOf } from './geometry'

interface Props {
  shown: Shown[]
  wide: number
  step: string
  figures: Record<string, number>
  words: Words
  editing: Editing | null
  ahead: React.RefObject<Ahead | null>
  edit: (editing: Editing | null) => void
  take: (ids: string[]) => void
}

/** A size whose label is open, and what was typed for it already. */
export interface Editing { id: string; typed: string }
/** What fingers typed for a size whose label does not stand yet; ``taken`` when Enter was among it, ``id`` once it is made. */
export interface Ahead { id: string | null; typed: string; taken: boolean }
export interface Shown { size: SketchSize; spot: Spot }
interface Spot { path: string; label: Vec2 }

/** Where all labels go: each as near as it can stand without covering another; ``taken`` grows by them. */
export function layoutSizes(sketch: SketchDoc, at: Record<string, Vec2>, radius: (id: string) => number, map: BoardMap, wide: number, taken: Box[]): Shown[] {
  const xs = sketch.points.map((p) => at[p.id])
  const centre = map.screen(xs.length ? [xs.reduce((s, p) => s + p[0], 0) / xs.length, xs.reduce((s, p) => s + p[1], 0) / xs.length] : [0, 0])
  return sketch.dimensions.flatMap((size) => {
    if (size.follows) return []
    let first: { spot: Spot; box: Box } | null = null
    for (let level = 0; level < 7; level++) {
      const spot = place(size, sketch, at, radius, map, centre, level)
      if (!spot) return []
      const half = halfOf(size)
      const x = Math.max(half, Math.min(wide - half, spot.label[0]))
      const box: Box = [x - half, spot.label[1] - 11, x + half, spot.label[1] + 11]
      first ??= { spot, box }
      if (taken.some((t) => overlap(t, box))) continue
      taken.push(box)
      return [{ size, spot }]
    }
    taken.push(first!.box)
    return [{ size, spot: first!.spot }]
  })
}

/** Half of a label's width, near enough. */
const halfOf = (size: SketchSize) => (size.reading ? 46 : 4.1 * (size.formula.length + (/^[\d.]+ ?(mm|deg)$/.test(size.formula) ? 0 : 10) + 2) + 8)

export function Sizes({ shown, wide, step, figures, words, editing, ahead, edit, take }: Props) {
  return (
    <>
      <svg className="pointer-events-none absolute inset-0" width="100%" height="100%" aria-hidden>
        {shown.map(({ size, spot }) => (
          <path key={size.id} d={spot.path} stroke="var(--ink2)" fill="none" />
        ))}
      </svg>
      {shown.map(({ size, spot }) => (
        <Label key={size.id} size={size} x={spot.label[0]} y={spot.label[1]} wide={wide} step={step} figure={figures[size.id]} words={words} open={editing?.id === size.id} typed={editing?.typed ?? ''} ahead={ahead} edit={edit} take={take} />
      ))}
    </>
  )
}

/** The lines of a dimension and the place of its label; ``level`` 0 is the nearest, further ones lie further out. */
function place(size: SketchSize, sketch: SketchDoc, at: Record<string, Vec2>, radius: (id: string) => number, map: BoardMap, centre: Vec2, level: number): Spot | null {
  const more = level * 24
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
      return { path: `M${cx} ${cy}L${mx + ux * (14 + more)} ${my + uy * (14 + more)}${tick(mx, my)}`, label: [mx + ux * (44 + more), my + uy * (26 + more)] }
    }
    const r = radius(curve.id) * map.scale
    if (curve.kind === 'ellipse') {
      // the second half axis stands square on the first
      const [mx, my] = map.screen(at[curve.points[1]])
      const long = Math.hypot(mx - cx, my - cy) || 1
      const [nx, ny] = [(my - cy) / long, -(mx - cx) / long]
      return { path: `M${cx} ${cy}L${cx + nx * r} ${cy + ny * r}${tick(cx + nx * r, cy + ny * r)}`, label: [cx + nx * (r + 20 + more), cy + ny * (r + 20 + more)] }
    }
    return { path: `M${cx - (size.kind === 'diameter' ? r : 0)} ${cy}H${cx + r}${tick(cx + r, cy)}${size.kind === 'diameter' ? tick(cx - r, cy) : ''}`, label: [cx, cy + 22 + more] }
  }
  const first = sketch.curves.find((c) => c.id === size.of[0])
  if (size.kind === 'ring' && first && curve) {
    // from rim to rim, aslant from the centre, its figure outside
    const [cx, cy] = map.screen(at[curve.points[0]])
    const [inner, outer] = [first, curve].map((c) => rimOf(c, at, radius(c.id)) * map.scale)
    const on = (r: number): Vec2 => [cx + r * Math.SQRT1_2, cy - r * Math.SQRT1_2]
    const [p, q, far] = [on(inner), on(outer), on(outer + 16 + more)]
    return { path: `M${p.join(' ')}L${far.join(' ')}${tick(...p)}${tick(...q)}`, label: [far[0] + 24, far[1] - 10] }
  }
  if (size.kind === 'perimeter' && first) {
    const run = runsOf(first, at, radius(first.id))[0]
    const k = Math.max(1, Math.floor(run.length / 2))
    const [mx, my] = map.screen(run.length === 2 ? middle(run[0], run[1]) : run[k])
    const [px, py] = map.screen(run[k - 1])
    const long = Math.hypot(mx - px, my - py) || 1
    let [nx, ny] = [-(my - py) / long, (mx - px) / long]
    if ((mx - centre[0]) * nx + (my - centre[1]) * ny < 0) [nx, ny] = [-nx, -ny]
    return { path: `M${mx} ${my}L${mx + nx * (24 + more)} ${my + ny * (24 + more)}`, label: [mx + nx * (36 + more), my + ny * (36 + more)] }
  }
  let [a, b] = size.of.length === 1 && first ? [at[first.points[0]], at[first.points[1]]] : [at[size.of[0]], at[size.of[1]]]
  if (size.kind === 'angle' && first && curve) {
    const ends = [first, curve].map((c) => c.points.map((p) => map.screen(at[p]))) as [Vec2[], Vec2[]]
    const round = roundCorner(ends[0], size.back ? [...ends[1]].reverse() : ends[1], more)
    if (round) return round
    ;[a, b] = [middle(at[first.points[0]], at[first.points[1]]), middle(at[curve.points[0]], at[curve.points[1]])]
  } else if (size.of.length === 2 && curve) {
    // from a line: to the place on it that lies squarely below
    if (first) a = at[first.points[0]]
    b = footOf(a, at[curve.points[0]], at[curve.points[1]])
  }
  if (!a || !b) return null
  const [p, q] = [map.screen(a), map.screen(b)]
  if (size.kind === 'distance_x' || size.kind === 'distance_y') {
    // measured along one direction: the line runs along it, beyond both ends
    const k = size.kind === 'distance_x' ? 1 : 0
    const out = (p[k] + q[k]) / 2 >= centre[k] ? Math.max(p[k], q[k]) + 34 + more : Math.min(p[k], q[k]) - 34 - more
    const [p2, q2]: [Vec2, Vec2] = k ? [[p[0], out], [q[0], out]] : [[out, p[1]], [out, q[1]]]
    return { path: `M${p.join(' ')}L${p2.join(' ')}L${q2.join(' ')}L${q.join(' ')}${tick(...p2)}${tick(...q2)}`, label: middle(p2, q2) }
  }
  const [dx, dy] = [q[0] - p[0], q[1] - p[1]]
  const long = Math.hypot(dx, dy) || 1
  let [nx, ny] = [-dy / long, dx / long]
  const m = middle(p, q)
  // outside of the drawing, away from its middle
  if ((m[0] - centre[0]) * nx + (m[1] - centre[1]) * ny < 0) [nx, ny] = [-nx, -ny]
  const away = 40 + more
  const [p2, q2]: [Vec2, Vec2] = [[p[0] + nx * away, p[1] + ny * away], [q[0] + nx * away, q[1] + ny * away]]
  return {
    path: `M${p[0] + nx * 6} ${p[1] + ny * 6}L${p2[0] + nx * 6} ${p2[1] + ny * 6}M${q[0] + nx * 6} ${q[1] + ny * 6}L${q2[0] + nx * 6} ${q2[1] + ny * 6}M${p2[0]} ${p2[1]}L${q2[0]} ${q2[1]}${tick(...p2)}${tick(...q2)}`,
    label: middle(p2, q2),
  }
}

/** An arc from the way of one line to that of another (each from where it begins to where it ends, in pixels), about where they meet; nothing where they hardly do. */
function roundCorner(one: Vec2[], other: Vec2[], more: number): Spot | null {
  const way = ([p, q]: Vec2[]) => Math.atan2(q[1] - p[1], q[0] - p[0])
  const [from, to] = [way(one), way(other)]
  const cross = Math.sin(to - from)
  if (Math.abs(cross) < 0.02) return null
  const [dx, dy] = [other[0][0] - one[0][0], other[0][1] - one[0][1]]
  const t = (dx * Math.sin(to) - dy * Math.cos(to)) / cross
  const meet: Vec2 = [one[0][0] + t * Math.cos(from), one[0][1] + t * Math.sin(from)]
  const far = (ends: Vec2[]) => middle(ends[0], ends[1])
  // both lines, or both run on backwards, whichever is where the first line is
  const [mx, my] = far(one)
  const turned = (mx - meet[0]) * Math.cos(from) + (my - meet[1]) * Math.sin(from) < 0 ? Math.PI : 0
  const [ox, oy] = far(other)
  const room = Math.min(Math.hypot(mx - meet[0], my - meet[1]), Math.hypot(ox - meet[0], oy - meet[1]))
  const turn = Math.atan2(Math.sin(to - from), Math.cos(to - from))
  const on = (share: number, out: number): Vec2 => [meet[0] + out * Math.cos(from + turned + turn * share), meet[1] + out * Math.sin(from + turned + turn * share)]
  const arc = (r: number) => `M${Array.from({ length: 25 }, (_, k) => on(k / 24, r).join(' ')).join('L')}${tick(...on(0, r))}${tick(...on(1, r))}`
  if (room > 110) return { path: arc(60 + more), label: on(0.5, 86 + more) }
  // in a narrow corner the figure would lie over what is drawn: it stands behind the corner
  return { path: `${arc(Math.max(18, 0.6 * room))}M${on(0.5, -6).join(' ')}L${on(0.5, -22 - more).join(' ')}`, label: on(0.5, -36 - more) }
}

/** The place on a line (run on beyond its ends) that lies squarely below another. */
function footOf(p: Vec2, a: Vec2, b: Vec2): Vec2 {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
  const t = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy || 1)
  return [a[0] + t * dx, a[1] + t * dy]
}

const tick = (x: number, y: number) => `M${x - 4} ${y + 4}L${x + 4} ${y - 4}`

interface LabelProps { size: SketchSize; x: number; y: number; wide: number; step: string; figure: number | undefined; words: Words; open: boolean; typed: string; ahead: Props['ahead']; edit: Props['edit']; take: Props['take'] }

const WORD: Record<string, string> = { distance_x: 'width', distance_y: 'height', perimeter: 'length along', ring: 'width of the ring' }

function Label({ size, x, y, wide, step, figure, words, open, typed, ahead, edit, take }: LabelProps) {
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const path = `sketch.dimensions.${size.id}.formula`
  const tolerance = useStore((s) => s.project!.document.recipe!.find((r) => r.id === step)?.tolerances?.[path] ?? '')
  const value = size.reading || figure === undefined ? '' : result(size.formula, figure, size.kind === 'angle' ? 'angle' : 'length', unit)
  const read = figure === undefined ? '…' : size.kind === 'angle' ? `${plain((figure * 180) / Math.PI, 2)}°` : length(figure, unit)
  // half the label's width, near enough to keep it on the board
  const half = size.reading ? 40 : 4.1 * (size.formula.length + (value ? value.length + 3 : 0) + 2) + 8
  const style = { left: Math.round(Math.max(half, Math.min(wide - half, x))), top: Math.round(y) }
  const word = WORD[size.kind] ?? size.kind
  const of = size.of.filter((o) => o !== 'origin' || size.of.length === 1).map(words).join(', ')
  const name = `${word} of ${of}`
  if (open) return <Edit {...{ size, step, path, tolerance, read, name, typed, ahead, edit, take }} style={style} />
  const sign = size.kind === 'diameter' ? 'Ø ' : size.kind === 'radius' ? 'r ' : size.kind === 'perimeter' && !size.reading ? 'along ' : ''
  return (
    <button
      data-size={size.id}
      data-reading={size.reading || undefined}
      className={`fig absolute z-10 -translate-x-1/2 -translate-y-1/2 whitespace-nowrap bg-card px-1.5 ${size.reading ? 'border border-dashed border-hair text-ink2 hover:border-ink' : 'font-semibold hover:bg-accent hover:text-accentink'}`}
      style={style}
      aria-label={`${word} ${size.reading ? `reads ${read}` : `${size.formula}${value ? `, ${value}` : ''}`}, of ${of}; Enter changes it, Delete takes it away`}
      onClick={() => edit({ id: size.id, typed: '' })}
      onKeyDown={(e) => e.key === 'Delete' && (e.stopPropagation(), take([size.id]))}
    >
      {size.reading && 'reads '}
      {sign}
      {size.reading ? read : size.formula}
      {tolerance && <span className="font-normal text-accent"> {tolerance}</span>}
      {value && <span className="font-normal"> → {value}</span>}
    </button>
  )
}

interface EditProps { size: SketchSize; step: string; path: string; tolerance: string; read: string; name: string; typed: string; ahead: Props['ahead']; style: React.CSSProperties; edit: Props['edit']; take: Props['take'] }

/** An open label: the formula, whether it drives or only reads, its tolerance, and the way to be rid of it. */
function Edit({ size, step, path, tolerance, read, name, typed, ahead, style, edit, take }: EditProps) {
  const said = useStore((s) => s.said)
  const at = { step: `size:${size.id}` }
  const [text, setText] = useState(typed || size.formula)
  const card = useRef<HTMLDivElement>(null)
  const leave = () => {
    edit(null)
    useStore.setState({ said: null })
  }
  const resize = async (formula: string) => {
    if (formula.trim() === size.formula || (await send({ do: 'ResizeSketch', step, dimension: size.id, formula }, at))) leave()
  }
  // before anything else is typed: what was typed already stays, what the size says is replaced
  useLayoutEffect(() => {
    const field = card.current?.querySelector('input')
    if (!field) card.current?.querySelector('button')?.focus()
    else {
      field.focus()
      if (typed) field.setSelectionRange(typed.length, typed.length)
      else field.select()
    }
  }, [typed])
  // once, when the label first stands
  useLayoutEffect(() => {
    const before = ahead.current?.id === size.id ? ahead.current : null
    if (before) {
      ahead.current = null
      if (before.typed) {
        edit({ id: size.id, typed: before.typed })
        setText(before.typed)
      }
      if (before.taken) void (before.typed ? resize(before.typed) : leave())
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])
  const LINK = 'mr-3 border-b border-dotted border-ink text-[13px]'
  return (
    <div
      ref={card}
      data-edit-size={size.id}
      role="group"
      aria-label={name}
      className="absolute z-20 -translate-x-1/2 -translate-y-1/2"
      style={style}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Escape') leave()
      }}
    >
      {size.reading ? (
        <p className="fig border border-dashed border-ink bg-card px-2 text-center">reads {read}</p>
      ) : (
        <input
          aria-label={name}
          className="field fig w-44! text-center"
          value={text}
          spellCheck={false}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && void resize(text)}
        />
      )}
      <div className="border border-hair bg-card px-2 pb-1 whitespace-nowrap">
        <button className={LINK} onClick={() => (leave(), void send({ do: 'ReadingSketch', step, dimension: size.id, on: !size.reading }, { step: 'board' }))}>
          {size.reading ? 'let it drive' : 'only read it'}
        </button>
        <button className={LINK} onClick={() => (leave(), take([size.id]))}>
          take it away
        </button>
        {!size.reading && <ToleranceField dimension={`${step}:${path}`} text={tolerance} target={{ step, path }} at={at} />}
      </div>
      {said?.step === at.step && (
        <p role="alert" className="w-60 border border-wrong bg-card px-2 text-[13px] text-wrong">
          {said.text}
        </p>
      )}
    </div>
  )
}
