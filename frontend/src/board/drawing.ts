/** What a drawing hand means: tools, how many clicks they take, what is inferred before a click, and the command that comes of it. */
import type { Command } from '../api/client'
import { type SketchCurve, type SketchDoc, type Vec2, alongArc, between } from './geometry'

export type Tool =
  | 'move' | 'line' | 'point' | 'arc' | 'about' | 'centre' | 'corner' | 'leaning' | 'circle' | 'across' | 'over' | 'slot' | 'bend' | 'polygon' | 'ellipse' | 'spline' | 'text'
  | 'trim' | 'split' | 'extend' | 'bring'
/** A place pointed at, and the point that is there, if any; or the curve that it lies on. A written one has its formulas, to be kept as sizes. */
export interface Spot { at: Vec2; on: string | null; lies?: 'point_on' | 'midpoint'; curve?: string; x?: string; y?: string }
/** What is inferred of the line or arc that would be drawn. */
export interface Meant { at: Vec2; tie: '' | 'horizontal' | 'vertical' | 'perpendicular' | 'parallel' | 'tangent'; to: string }

/** What each click of a tool says; a line goes on from its end until it is left, a spline until it is ended. */
export const CLICKS: Record<Tool, string[]> = {
  move: [], point: ['at'], line: ['from', 'to'], arc: ['from', 'to', 'over'], about: ['centre', 'from', 'towards'], centre: ['centre', 'corner'], corner: ['corner', 'corner across'],
  leaning: ['corner', 'next corner', 'beside'], circle: ['centre', 'rim'], across: ['one side', 'other side'], over: ['first', 'second', 'third'],
  slot: ['one centre', 'other centre', 'side'], bend: ['one centre', 'other centre', 'over', 'side'], polygon: ['middle', 'corner'],
  ellipse: ['middle', 'end of axis', 'beside'], spline: [], text: ['foot'], trim: [], split: [], extend: [], bring: [],
}
/** Tools that take hold of a curve. */
export const ON_CURVES: Partial<Record<Tool, 'TrimSketch' | 'SplitSketch' | 'ExtendSketch'>> = { trim: 'TrimSketch', split: 'SplitSketch', extend: 'ExtendSketch' }
const NEAR = (4 * Math.PI) / 180

const angle = (a: Vec2, b: Vec2) => Math.atan2(b[1] - a[1], b[0] - a[0])
const turnOf = (x: number, half = Math.PI) => ((((x + half / 2) % half) + half) % half) - half / 2

/** The curve that ends in a point, the newest first. */
const endingIn = (sketch: SketchDoc, point: string | null): SketchCurve | undefined =>
  point === null ? undefined : [...sketch.curves].reverse().find((c) => ['line', 'arc', 'spline'].includes(c.kind) && ends(c).includes(point))

export const ends = (c: SketchCurve): string[] => (c.kind === 'spline' ? [c.points[0], c.points[c.points.length - 1]] : c.kind === 'line' || c.kind === 'arc' ? c.points.slice(-2) : [])

/** The direction in which a curve runs out at one of its ends. */
function running(curve: SketchCurve, point: string, at: Record<string, Vec2>): number {
  if (curve.kind === 'line') {
    const other = curve.points.find((p) => p !== point) ?? point
    return angle(at[other], at[point])
  }
  if (curve.kind === 'spline') return angle(at[curve.points[point === curve.points[0] ? 1 : curve.points.length - 2]], at[point])
  const [centre, , end] = curve.points
  // an arc runs counter-clockwise: square to its radius
  return angle(at[centre], at[point]) + (point === end ? Math.PI / 2 : -Math.PI / 2)
}

/** What a line from one spot to another is meant to be, and where its end then lies. */
export function meantLine(sketch: SketchDoc, at: Record<string, Vec2>, start: Spot, end: Spot, free: boolean): Meant {
  const none: Meant = { at: end.at, tie: '', to: '' }
  if (free || between(start.at, end.at) < 1e-9) return none
  const way = angle(start.at, end.at)
  const size = between(start.at, end.at)
  const along = (a: number): Vec2 => [start.at[0] + size * Math.cos(way - turnOf(way - a, 2 * Math.PI)), start.at[1] + size * Math.sin(way - turnOf(way - a, 2 * Math.PI))]
  // an end on a point stays there; the tie is meant all the same when it fits to the eye
  const held = !!end.on || !!end.lies
  const place = (a: number) => (held ? end.at : along(a))
  const near = end.on ? 1e-6 : NEAR
  for (const [tie, goal] of [['horizontal', 0], ['vertical', Math.PI / 2]] as const) {
    const off = turnOf(way - goal)
    if (Math.abs(off) < near) return { at: place(way - off), tie, to: '' }
  }
  const before = endingIn(sketch, start.on)
  if (before && start.on) {
    const run = running(before, start.on, at)
    if (before.kind !== 'line') {
      const off = turnOf(way - run, 2 * Math.PI)
      if (Math.abs(off) < NEAR) return { at: place(way - off), tie: 'tangent', to: before.id }
    } else {
      const off = turnOf(way - run - Math.PI / 2)
      if (Math.abs(off) < near) return { at: place(way - off), tie: 'perpendicular', to: before.id }
    }
  }
  // as a line that leans: one that was drawn not long ago
  for (const c of [...sketch.curves].reverse().slice(0, 12)) {
    if (c.kind !== 'line' || c.id === before?.id) continue
    const lean = angle(at[c.points[0]], at[c.points[1]])
    if (Math.min(Math.abs(turnOf(lean)), Math.abs(turnOf(lean - Math.PI / 2))) < NEAR) continue
    const off = turnOf(way - lean)
    if (Math.abs(off) < Math.min(near, NEAR / 2)) return { at: place(way - off), tie: 'parallel', to: c.id }
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

/** The arc over a place, as it would be drawn. */
export function arcOver(start: Vec2, end: Vec2, through: Vec2): Vec2[] | null {
  const centre = centreOf(start, end, through)
  if (!centre) return null
  const left = (end[0] - start[0]) * (through[1] - start[1]) - (end[1] - start[1]) * (through[0] - start[0]) > 0
  return left ? alongArc(centre, end, start) : alongArc(centre, start, end)
}

/** The arc about a centre to a direction, the shorter way round. */
export function arcAbout(centre: Vec2, start: Vec2, towards: Vec2): Vec2[] {
  const r = between(centre, start)
  const turn = turnOf(angle(centre, towards) - angle(centre, start), 2 * Math.PI)
  const end: Vec2 = [centre[0] + r * Math.cos(angle(centre, start) + turn), centre[1] + r * Math.sin(angle(centre, start) + turn)]
  return turn > 0 ? alongArc(centre, start, end) : alongArc(centre, end, start)
}

/** The poles of the spline through places, as it would be drawn: handles a third of the way, along the line through the neighbours. */
export function splineThrough(places: Vec2[], closed: boolean): Vec2[] {
  const n = places.length
  const way = (k: number): Vec2 => {
    const a = closed || k > 0 ? places[(k - 1 + n) % n] : places[k]
    const b = closed || k < n - 1 ? places[(k + 1) % n] : places[k]
    const size = between(a, b) || 1
    return [(b[0] - a[0]) / size, (b[1] - a[1]) / size]
  }
  const out: Vec2[] = [places[0]]
  for (let k = 0; k < (closed ? n : n - 1); k++) {
    const j = (k + 1) % n
    const [a, b, u, v, third] = [places[k], places[j], way(k), way(j), between(places[k], places[j]) / 3]
    out.push([a[0] + u[0] * third, a[1] + u[1] * third], [b[0] - v[0] * third, b[1] - v[1] * third], b)
  }
  return out
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

/** How far a place lies beside the arc over three others. */
export function besideArc(a: Vec2, b: Vec2, over: Vec2, p: Vec2): number {
  const centre = centreOf(a, b, over)
  return centre ? Math.abs(between(centre, p) - between(centre, a)) : 0
}

export interface Making { meant?: Meant; length?: string; tangent?: string; sides: number; construction: boolean; words: string; height: string; closed?: boolean }

/** The command for a finished set of clicks. */
export function commandFor(tool: Tool, step: string, spots: Spot[], more: Making): Command {
  const [a, b, c, d] = spots
  const { construction } = more
  switch (tool) {
    case 'line':
      return { do: 'DrawLine', step, start: a, end: { ...b, at: more.meant?.at ?? b.at }, tie: more.meant?.tie ?? '', to: more.meant?.to ?? '', length: more.length ?? '', construction }
    case 'point':
      return { do: 'DrawPoint', step, at: a }
    case 'arc':
      return { do: 'DrawArc', step, start: a, end: b, through: c.at, tangent: more.tangent ?? '', construction }
    case 'about':
      return { do: 'DrawArcAbout', step, centre: a, start: b, towards: c.at, construction }
    case 'slot':
      return { do: 'DrawSlot', step, start: a, end: b, radius: Math.max(beside(a.at, b.at, c.at), 1e-6) }
    case 'bend':
      return { do: 'DrawArcSlot', step, start: a, end: b, through: c.at, radius: Math.max(besideArc(a.at, b.at, c.at, d.at), 1e-6) }
    case 'polygon':
      return { do: 'DrawPolygon', step, centre: a, corner: b.at, sides: more.sides }
    case 'circle':
      return { do: 'DrawCircle', step, centre: a.at, on: a.on, radius: Math.max(between(a.at, b.at), 1e-6) }
    case 'across':
    case 'over':
      return { do: 'DrawCircleOver', step, spots, construction }
    case 'leaning':
      return { do: 'DrawLeaning', step, start: a, end: b, beside: c.at }
    case 'ellipse':
      return { do: 'DrawEllipse', step, centre: a, first: b, beside: c.at, construction }
    case 'spline':
      return { do: 'DrawSpline', step, spots, closed: !!more.closed, construction }
    case 'text':
      return { do: 'DrawText', step, foot: a, text: more.words, height: more.height }
    default:
      return { do: 'DrawRectangle', step, first: a.at, corner: b.at, by_centre: tool === 'centre', on: a.on }
  }
}
