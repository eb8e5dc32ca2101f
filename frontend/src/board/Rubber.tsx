/** What would be drawn, while the last place is still open. */
import { plain } from '../widgets/figures'
import { type Meant, type Spot, type Tool, arcAbout, arcOver, beside, besideArc, centreOf, splineThrough } from './drawing'
import { type BoardMap, type Vec2, alongSpline, between, middle, roundEllipse } from './geometry'
import { tieWord } from './words'

interface Props { tool: Tool; spots: Spot[]; pointer: Spot; meant: Meant | null; sides: number; map: BoardMap }

const turn = (a: Vec2, b: Vec2) => Math.atan2(b[1] - a[1], b[0] - a[0])
const circle = (centre: Vec2, r: number) => roundEllipse(centre, [centre[0] + r, centre[1]], r)
const cap = (c: Vec2, from: number, r: number): Vec2[] => Array.from({ length: 13 }, (_, k) => [c[0] + r * Math.cos(from + (Math.PI * k) / 12), c[1] + r * Math.sin(from + (Math.PI * k) / 12)])

/** Runs of places to draw, and what to say of them. */
function shapeOf(tool: Tool, places: Vec2[], sides: number): { runs: Vec2[][]; words: string } {
  const [a, b, c, d] = places
  const last = places[places.length - 1]
  const before = places[places.length - 2]
  const size = `${plain(between(before, last), 2)}, ${plain((turn(before, last) * 180) / Math.PI, 1)}°`
  const box = (low: Vec2, high: Vec2): Vec2[] => [low, [high[0], low[1]], high, [low[0], high[1]], low]
  switch (tool) {
    case 'arc':
    case 'bend': {
      const arc = c && arcOver(a, b, c)
      if (!c || !arc) return { runs: [places], words: size }
      const centre = centreOf(a, b, c)!
      const r = d ? besideArc(a, b, c, d) : 0
      const beside = (by: number) => arc.map((p): Vec2 => [centre[0] + ((p[0] - centre[0]) / between(centre, a)) * (between(centre, a) + by), centre[1] + ((p[1] - centre[1]) / between(centre, a)) * (between(centre, a) + by)])
      return { runs: d ? [arc, beside(r), beside(-r)] : [arc], words: d ? `${plain(2 * r, 2)} wide` : `r ${plain(between(centre, a), 2)}` }
    }
    case 'about':
      return c ? { runs: [arcAbout(a, b, c), [a, last]], words: `${plain(Math.abs(((turn(a, c) - turn(a, b)) * 180) / Math.PI), 1)}°` } : { runs: [[a, b]], words: `r ${plain(between(a, b), 2)}` }
    case 'slot': {
      if (!c) return { runs: [places], words: size }
      const r = beside(a, b, c)
      const way = turn(a, b)
      return { runs: [[...cap(a, way + Math.PI / 2, r), ...cap(b, way - Math.PI / 2, r), cap(a, way + Math.PI / 2, r)[0]]], words: `${plain(2 * r, 2)} wide` }
    }
    case 'polygon': {
      const r = between(a, b)
      const corners = Array.from({ length: sides + 1 }, (_, k): Vec2 => [a[0] + r * Math.cos(turn(a, b) + (2 * Math.PI * k) / sides), a[1] + r * Math.sin(turn(a, b) + (2 * Math.PI * k) / sides)])
      return { runs: [corners], words: `Ø ${plain(2 * r, 2)} over corners` }
    }
    case 'circle':
      return { runs: [circle(a, between(a, b))], words: `Ø ${plain(2 * between(a, b), 2)}` }
    case 'across':
      return { runs: [circle(middle(a, b), between(a, b) / 2)], words: `Ø ${plain(between(a, b), 2)}` }
    case 'over': {
      const centre = c && centreOf(a, b, c)
      return centre ? { runs: [circle(centre, between(centre, a))], words: `Ø ${plain(2 * between(centre, a), 2)}` } : { runs: [places], words: '' }
    }
    case 'ellipse':
      return c ? { runs: [roundEllipse(a, b, beside(a, b, c))], words: `${plain(2 * between(a, b), 2)} × ${plain(2 * beside(a, b, c), 2)}` } : { runs: [[a, b]], words: size }
    case 'leaning': {
      if (!c) return { runs: [places], words: size }
      const long = between(a, b) || 1
      const deep = ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / long
      const n: Vec2 = [(-(b[1] - a[1]) / long) * deep, ((b[0] - a[0]) / long) * deep]
      return { runs: [[a, b, [b[0] + n[0], b[1] + n[1]], [a[0] + n[0], a[1] + n[1]], a]], words: `${plain(long, 2)} × ${plain(Math.abs(deep), 2)}` }
    }
    case 'spline':
      return { runs: [alongSpline(splineThrough(places, false))], words: places.length > 2 ? 'Enter ends it' : '' }
    case 'centre':
    case 'corner': {
      const k = tool === 'centre' ? 2 : 1
      const [dx, dy] = [Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1])]
      const low: Vec2 = tool === 'centre' ? [a[0] - dx, a[1] - dy] : [Math.min(a[0], b[0]), Math.min(a[1], b[1])]
      return { runs: [box(low, [low[0] + dx * k, low[1] + dy * k])], words: `${plain(dx * k, 2)} × ${plain(dy * k, 2)}` }
    }
    default:
      return { runs: [places], words: size }
  }
}

export function Rubber({ tool, spots, pointer, meant, sides, map }: Props) {
  const end = tool === 'line' ? (meant?.at ?? pointer.at) : pointer.at
  const [x, y] = map.screen(end)
  const says = [meant?.tie && tieWord(meant.tie), pointer.lies && tieWord(pointer.lies)].filter(Boolean).join(', ')
  const { runs, words } = spots.length ? shapeOf(tool, [...spots.map((s) => s.at), end], sides) : { runs: [], words: '' }
  return (
    <g pointerEvents="none" stroke="var(--accent)" fill="none" strokeWidth="1.8">
      {runs.map((run, k) => (
        <path key={k} d={map.run(run)} />
      ))}
      {pointer.lies ? <path d={`M${x - 7} ${y}L${x} ${y - 7}L${x + 7} ${y}L${x} ${y + 7}Z`} strokeWidth="1.5" /> : <circle cx={x} cy={y} r={pointer.on ? 7 : 3} strokeWidth="1.5" />}
      <text x={x + 12} y={y - 10} fill="var(--ink)" stroke="none" className="fig" fontSize="12">
        {words}
        {says && (
          <tspan fill="var(--accent)">
            {words ? ' · ' : ''}
            {says}
          </tspan>
        )}
      </text>
    </g>
  )
}
