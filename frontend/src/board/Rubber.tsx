/** What would be drawn, while the last place is still open. */
import { plain } from '../widgets/figures'
import { type Meant, type Spot, type Tool, arcOver, beside } from './drawing'
import { type BoardMap, type Vec2, between } from './geometry'

interface Props { tool: Tool; spots: Spot[]; pointer: Spot; meant: Meant | null; sides: number; map: BoardMap }

export function Rubber({ tool, spots, pointer, meant, sides, map }: Props) {
  const end = meant?.at ?? pointer.at
  const [x, y] = map.screen(end)
  const here = <circle cx={x} cy={y} r={pointer.on ? 7 : 3} fill="none" stroke="var(--accent)" strokeWidth="1.5" />
  const run = (points: Vec2[], closed = false) => <path d={`M${points.map((p) => map.screen(p).join(' ')).join('L')}${closed ? 'Z' : ''}`} />
  if (!spots.length) return <g pointerEvents="none">{here}</g>
  const a = spots[0].at
  const b = spots[1]?.at
  const [dx, dy] = [end[0] - a[0], end[1] - a[1]]
  let words = ''
  let shape: React.ReactNode = null
  if (tool === 'line' || ((tool === 'arc' || tool === 'slot') && !b)) {
    words = `${plain(Math.hypot(dx, dy), 2)}, ${plain((Math.atan2(dy, dx) * 180) / Math.PI, 1)}°`
    shape = run([a, end])
  } else if (tool === 'arc') {
    const arc = arcOver(a, b, end)
    words = meant?.says ?? ''
    shape = arc ? run(arc) : run([a, b])
  } else if (tool === 'slot') {
    const r = beside(a, b, end)
    words = `${plain(2 * r, 2)} wide`
    const [ux, uy] = [(b[0] - a[0]) / Math.max(between(a, b), 1e-9), (b[1] - a[1]) / Math.max(between(a, b), 1e-9)]
    const cap = (c: Vec2, from: number): Vec2[] => Array.from({ length: 13 }, (_, k) => {
      const t = Math.atan2(uy, ux) + from + (Math.PI * k) / 12
      return [c[0] + r * Math.cos(t), c[1] + r * Math.sin(t)]
    })
    shape = run([...cap(a, Math.PI / 2), ...cap(b, -Math.PI / 2)], true)
  } else if (tool === 'polygon') {
    const [r, turn] = [Math.hypot(dx, dy), Math.atan2(dy, dx)]
    words = `Ø ${plain(2 * r, 2)} over corners`
    shape = run(Array.from({ length: sides }, (_, k) => [a[0] + r * Math.cos(turn + (2 * Math.PI * k) / sides), a[1] + r * Math.sin(turn + (2 * Math.PI * k) / sides)]), true)
  } else if (tool === 'circle') {
    words = `Ø ${plain(2 * Math.hypot(dx, dy), 2)}`
    const [cx, cy] = map.screen(a)
    shape = <circle cx={cx} cy={cy} r={Math.hypot(x - cx, y - cy)} />
  } else {
    const k = tool === 'centre' ? 2 : 1
    words = `${plain(Math.abs(dx) * k, 2)} × ${plain(Math.abs(dy) * k, 2)}`
    const low: Vec2 = tool === 'centre' ? [a[0] - Math.abs(dx), a[1] - Math.abs(dy)] : [Math.min(a[0], end[0]), Math.min(a[1], end[1])]
    const high: Vec2 = [low[0] + Math.abs(dx) * k, low[1] + Math.abs(dy) * k]
    shape = run([low, [high[0], low[1]], high, [low[0], high[1]]], true)
  }
  return (
    <g pointerEvents="none" stroke="var(--accent)" fill="none" strokeWidth="1.8">
      {shape}
      {here}
      <text x={x + 12} y={y - 10} fill="var(--ink)" stroke="none" className="fig" fontSize="12">
        {words}
        {meant?.says && tool === 'line' && <tspan fill="var(--accent)"> · {meant.says}</tspan>}
      </text>
    </g>
  )
}
