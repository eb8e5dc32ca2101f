/** Which size fits what is selected. */
import { type SketchDoc, places, rimOf } from './geometry'

export type SizeWay = 'drive' | 'read' | 'across' | 'up' | 'along'

/** The size that fits what is selected, driving or only read, or nothing. */
export function sizeOf(chosen: string[], sketch: SketchDoc, how: SizeWay): { kind: string; of: string[] } | null {
  // a tie has no size, nor has anything together with it
  if (chosen.some((c) => sketch.constraints.some((t) => t.id === c))) return null
  const kinds = chosen.map((c) => sketch.curves.find((k) => k.id === c)?.kind ?? 'point')
  const two = kinds.length === 2
  const points = two && kinds.every((k) => k === 'point')
  if (how === 'along') return { kind: 'perimeter', of: chosen }
  if (how === 'across' || how === 'up') return points ? { kind: how === 'across' ? 'distance_x' : 'distance_y', of: chosen } : null
  if (kinds.length === 1) {
    if (kinds[0] === 'line') return { kind: 'length', of: chosen }
    if (kinds[0] === 'spline') return { kind: 'perimeter', of: chosen }
    if (kinds[0] === 'text') return { kind: 'distance', of: sketch.curves.find((c) => c.id === chosen[0])!.points }
    return kinds[0] === 'point' ? null : { kind: kinds[0] === 'circle' ? 'diameter' : 'radius', of: chosen }
  }
  if (two && kinds.every((k) => k === 'line')) return { kind: parallel(chosen, sketch) ? 'distance' : 'angle', of: chosen }
  if (points) return { kind: 'distance', of: chosen }
  const rims = two ? rimsOf(chosen, sketch) : null
  if (rims) return { kind: 'ring', of: rims }
  if (two && kinds.includes('line') && kinds.includes('point')) return { kind: 'distance', of: [...chosen].sort((a) => (sketch.curves.some((k) => k.id === a) ? 1 : -1)) }
  return kinds.length > 2 && !kinds.includes('point') ? { kind: 'perimeter', of: chosen } : null
}

/** Two circles or arcs about one centre, the inner one first. */
function rimsOf(chosen: string[], sketch: SketchDoc): string[] | null {
  const rims = chosen.map((id) => sketch.curves.find((c) => c.id === id)!)
  if (!rims.every((c) => c && (c.kind === 'circle' || c.kind === 'arc')) || rims[0].points[0] !== rims[1].points[0]) return null
  const at = places(sketch, undefined, null)
  return rims.sort((a, b) => rimOf(a, at, a.radius) - rimOf(b, at, b.radius)).map((c) => c.id)
}

/** Whether two lines run alike, to the eye. */
function parallel(lines: string[], sketch: SketchDoc): boolean {
  const [one, two] = lines.map((id) => {
    const [a, b] = sketch.curves.find((c) => c.id === id)!.points.map((p) => sketch.points.find((q) => q.id === p) ?? { x: 0, y: 0 })
    return Math.atan2(b.y - a.y, b.x - a.x)
  })
  return Math.abs(Math.sin(one - two)) < 0.002
}
