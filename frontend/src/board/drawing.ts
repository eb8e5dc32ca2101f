/** What a drawing hand means: tools, how many clicks they take, what is inferred before a click, and the command that comes of it. */
import type { Command } from '../api/client'
import { type SketchCurve, type SketchDoc, type Vec2, between } from './geometry'

export type Tool = 'move' | 'line' | 'arc' | 'centre' | 'corner' | 'circle' | 'slot' | 'polygon' | 'trim'
/** A place pointed at, and the point that is there, if any. */
export interface Spot { at: Vec2; on: string | null }
/** What is inferred of the line or arc that would be drawn. */
export interface Meant { at: Vec2; tie: '' | 'horizontal' | 'vertical' | 'perpendicular' | 'parallel' | 'tangent'; to: string; says: string }

/** Clicks that a tool takes; a line goes on from its end until it is left. */
export const CLICKS: Record<Tool, number> = { move: 0, line: 2, arc: 3, centre: 2, corner: 2, circle: 2, slot: 3, polygon: 2, trim: 1 }
const NEAR = (4 * Math.PI) / 180

const angle = (a: Vec2, b: Vec2) => Math.atan2(b[1] - a[1], b[0] - a[0])
const turnOf = (x: number, half = Math.PI) => ((((x + half / 2) % half) + half) % half) - half / 2

/** The curve that ends in a point, the newest first. */
const endingIn = (sketch: SketchDoc, point: string | null): SketchCurve | undefined =>
  point === null ? undefined : [...sketch.curves].reverse().find((c) => c.kind !== 'circle' && c.points.slice(-2).includes(point))

/** The direction in which a curve runs out at one of its ends. */
function running(curve: SketchCurve, point: string, at: Record<string, Vec2>): number {
  if (curve.kind === 'line') {
    const other = curve.points.find((p) => p !== point) ?? point
    return angle(at[other], at[point])
  }
  const [centre, , end] = curve.points
  // an arc runs counter-clockwise: square to its radius
  return angle(at[centre], at[point]) + (point === end ? Math.PI / 2 : -Math.PI / 2)
}

/** What a line from one spot to another is meant to be, and where its end then lies. */
export function meantLine(sketch: SketchDoc, at: Record<string, Vec2>, start: Spot, end: Spot, free: boolean): Meant {
  const none: Meant = { at: end.at, tie: '', to: '', says: '' }
  if (free || between(start.at, end.at) < 1e-9) return none
  const way = angle(start.at, end.at)
  const size = between(start.at, end.at)
  const along = (a: number): Vec2 => [start.at[0] + size * Math.cos(way - turnOf(way - a, 2 * Math.PI)), start.at[1] + size * Math.sin(way - turnOf(way - a, 2 * Math.PI))]
  // an end on a point stays there; the tie is meant all the same when it fits to the eye
  const place = (a: number) => (end.on ? end.at : along(a))
  for (const [tie, goal, says] of [['horizontal', 0, 'level'], ['vertical', Math.PI / 2, 'upright']] as const) {
    const off = turnOf(way - goal)
    if (Math.abs(off) < (end.on ? 1e-6 : NEAR)) return { at: place(way - off), tie, to: '', says }
  }
  const before = endingIn(sketch, start.on)
  if (before && start.on) {
    const run = running(before, start.on, at)
    if (before.kind === 'arc') {
      const off = turnOf(way - run, 2 * Math.PI)
      if (Math.abs(off) < NEAR) return { at: place(way - off), tie: 'tangent', to: before.id, says: 'touching' }
    } else {
      const off = turnOf(way - run - Math.PI / 2)
      if (Math.abs(off) < (end.on ? 1e-6 : NEAR)) return { at: place(way - off), tie: 'perpendicular', to: before.id, says: 'square' }
    }
  }
  return none
}

/** The centre of the circle through three places, or nothing when they lie in line. */
export function centreOf(a: Vec2, b: Vec2, c: Vec2): Vec2 | null {
  const twice = 2 * ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
  if (Math.abs(twice) < 1e-6) return null
  const [b2, c2] = [between(a, b) ** 2, between(a, c) ** 2]
  return [a[0] + ((c[1] - a[1]) * b2 - (b[1] - a[1]) * c2) / twice, a[1] + ((b[0] - a[0]) * c2 - (c[0] - a[0]) * b2) / twice]
}

/** Places along an arc that runs counter-clockwise from start to end. */
export function alongArc(centre: Vec2, start: Vec2, end: Vec2): Vec2[] {
  const radius = between(centre, start)
  const first = angle(centre, start)
  let sweep = angle(centre, end) - first
  while (sweep <= 0) sweep += 2 * Math.PI
  const n = Math.max(8, Math.ceil(sweep / 0.12))
  return Array.from({ length: n + 1 }, (_, k) => [centre[0] + radius * Math.cos(first + (sweep * k) / n), centre[1] + radius * Math.sin(first + (sweep * k) / n)])
}

/** The arc over a place, as it would be drawn. */
export function arcOver(start: Vec2, end: Vec2, through: Vec2): Vec2[] | null {
  const centre = centreOf(start, end, through)
  if (!centre) return null
  const left = (end[0] - start[0]) * (through[1] - start[1]) - (end[1] - start[1]) * (through[0] - start[0]) > 0
  return left ? alongArc(centre, end, start) : alongArc(centre, start, end)
}

/** Whether the arc runs on smoothly from what ends at its start; then it is moved to do so exactly. */
export function meantArc(sketch: SketchDoc, at: Record<string, Vec2>, start: Spot, end: Spot, through: Spot, free: boolean): { through: Vec2; to: string } {
  const before = endingIn(sketch, start.on)
  const centre = centreOf(start.at, end.at, through.at)
  if (free || !before || !start.on || !centre) return { through: through.at, to: '' }
  const run = running(before, start.on, at)
  const left = (end.at[0] - start.at[0]) * (through.at[1] - start.at[1]) - (end.at[1] - start.at[1]) * (through.at[0] - start.at[0]) > 0
  // over a place to the left of the chord it runs clockwise from its start
  const leaving = angle(centre, start.at) + (left ? -Math.PI / 2 : Math.PI / 2)
  const off = turnOf(leaving - run, 2 * Math.PI)
  return { through: through.at, to: Math.abs(off) < 2.5 * NEAR ? before.id : '' }
}

/** How far a place lies beside the line through two others. */
export const beside = (a: Vec2, b: Vec2, p: Vec2): number => Math.abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / Math.max(between(a, b), 1e-9)

/** The command for a finished set of clicks. */
export function commandFor(tool: Tool, step: string, spots: Spot[], more: { meant?: Meant; length?: string; tangent?: string; sides: number; construction: boolean }): Command {
  const [a, b, c] = spots
  switch (tool) {
    case 'line':
      return {
        do: 'DrawLine', step, start: a, end: { at: more.meant?.at ?? b.at, on: b.on }, tie: more.meant?.tie ?? '', to: more.meant?.to ?? '', length: more.length ?? '',
        construction: more.construction,
      }
    case 'arc':
      return { do: 'DrawArc', step, start: a, end: b, through: c.at, tangent: more.tangent ?? '', construction: more.construction }
    case 'slot':
      return { do: 'DrawSlot', step, start: a, end: b, radius: Math.max(beside(a.at, b.at, c.at), 1e-6) }
    case 'polygon':
      return { do: 'DrawPolygon', step, centre: a, corner: b.at, sides: more.sides }
    case 'circle':
      return { do: 'DrawCircle', step, centre: a.at, on: a.on, radius: Math.max(between(a.at, b.at), 1e-6) }
    default:
      return { do: 'DrawRectangle', step, first: a.at, corner: b.at, by_centre: tool === 'centre', on: a.on }
  }
}
