/** The sketch as the document keeps it, and where it stands. */
import type { FrameOut } from '../api/client'
import type { Viewer } from '../stage/viewer'
import { Vector3 } from 'three'

export interface SketchPoint { id: string; x: number; y: number }
export interface SketchCurve {
  id: string
  kind: 'line' | 'circle' | 'arc' | 'ellipse' | 'spline' | 'text'
  points: string[]
  radius: number
  construction: boolean
  text?: string
  brought?: boolean
}
export interface SketchTie { id: string; kind: string; of: string[] }
export interface SketchSize { id: string; kind: string; of: string[]; formula: string; follows?: string; reading?: boolean; back?: boolean }
export interface SketchRepeat { id: string; of: string[]; counts: [number, number]; by?: [string, string]; pitches: [string, string]; centre: string; copies: { names: Record<string, string> }[]; made: string[] }
export interface SketchDoc { points: SketchPoint[]; curves: SketchCurve[]; constraints: SketchTie[]; dimensions: SketchSize[]; repeats?: SketchRepeat[] }
export type Vec2 = [number, number]

/** Coordinates by id: solved ones where they are known, else where the document last had them. */
export function places(doc: SketchDoc, solved: Record<string, Vec2> | undefined, dragged: Record<string, Vec2> | null): Record<string, Vec2> {
  const out: Record<string, Vec2> = { origin: [0, 0] }
  for (const p of doc.points) out[p.id] = dragged?.[p.id] ?? solved?.[p.id] ?? [p.x, p.y]
  return out
}

/** The affine map from sketch to screen; exact, as the view has no perspective. */
export class BoardMap {
  private o: { x: number; y: number }
  private u: Vec2
  private v: Vec2
  constructor(viewer: Viewer, frame: FrameOut) {
    const at = (a: number, b: number) =>
      viewer.eye.toScreen(new Vector3(...([0, 1, 2].map((k) => frame.origin[k] + a * frame.x[k] + b * frame.y[k]) as [number, number, number])))
    this.o = at(0, 0)
    const [p, q] = [at(1, 0), at(0, 1)]
    this.u = [p.x - this.o.x, p.y - this.o.y]
    this.v = [q.x - this.o.x, q.y - this.o.y]
  }
  screen([x, y]: Vec2): Vec2 {
    return [this.o.x + x * this.u[0] + y * this.v[0], this.o.y + x * this.u[1] + y * this.v[1]]
  }
  sketch(x: number, y: number): Vec2 {
    const det = this.u[0] * this.v[1] - this.u[1] * this.v[0]
    const [dx, dy] = [x - this.o.x, y - this.o.y]
    return [(dx * this.v[1] - dy * this.v[0]) / det, (this.u[0] * dy - this.u[1] * dx) / det]
  }
  /** Places as a run on the screen. */
  run(places: Vec2[], closed = false): string {
    return `M${places.map((p) => this.screen(p).join(' ')).join('L')}${closed ? 'Z' : ''}`
  }
  /** Whether the view stands square to the sketch; while it is still turning there, nothing can be drawn. */
  get square(): boolean {
    const area = Math.abs(this.u[0] * this.v[1] - this.u[1] * this.v[0])
    return Math.abs(area - Math.hypot(...this.u) * Math.hypot(...this.v)) < 1e-6 * area && Math.abs(Math.hypot(...this.u) - Math.hypot(...this.v)) < 1e-6 * area
  }
  get scale(): number {
    return Math.hypot(...this.u)
  }
}

export const middle = (a: Vec2, b: Vec2): Vec2 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
export const between = (a: Vec2, b: Vec2): number => Math.hypot(a[0] - b[0], a[1] - b[1])

/** The radius of a circle, which has one of its own, or of an arc. */
export const rimOf = (c: SketchCurve, at: Record<string, Vec2>, radius: number): number => (c.kind === 'circle' ? radius : between(at[c.points[0]], at[c.points[1]]))

/** Places along an arc that runs counter-clockwise from start to end. */
export function alongArc(centre: Vec2, start: Vec2, end: Vec2): Vec2[] {
  const radius = between(centre, start)
  const first = Math.atan2(start[1] - centre[1], start[0] - centre[0])
  let sweep = Math.atan2(end[1] - centre[1], end[0] - centre[0]) - first
  while (sweep <= 0) sweep += 2 * Math.PI
  const n = Math.max(8, Math.ceil(sweep / 0.12))
  return Array.from({ length: n + 1 }, (_, k) => [centre[0] + radius * Math.cos(first + (sweep * k) / n), centre[1] + radius * Math.sin(first + (sweep * k) / n)])
}

/** Places round an ellipse from its first half axis on. */
export function roundEllipse(centre: Vec2, major: Vec2, minor: number, n = 72): Vec2[] {
  const [ax, ay] = [major[0] - centre[0], major[1] - centre[1]]
  const a = Math.hypot(ax, ay) || 1e-9
  return Array.from({ length: n + 1 }, (_, k) => {
    const [cos, sin] = [Math.cos((2 * Math.PI * k) / n), (Math.sin((2 * Math.PI * k) / n) * minor) / a]
    return [centre[0] + cos * ax - sin * ay, centre[1] + cos * ay + sin * ax]
  })
}

/** Places along a chain of cubic Béziers. */
export function alongSpline(poles: Vec2[], n = 16): Vec2[] {
  const out: Vec2[] = [poles[0]]
  for (let k = 0; k + 3 < poles.length; k += 3)
    for (let i = 1; i <= n; i++) {
      const t = i / n
      const s = 1 - t
      const b = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
      out.push([0, 1].map((axis) => b.reduce((sum, w, j) => sum + w * poles[k + j][axis], 0)) as Vec2)
    }
  return out
}

/** The runs of places that a curve is drawn by; of a text those of its letters, as they were last worked out. */
export function runsOf(curve: SketchCurve, at: Record<string, Vec2>, radius: number, letters?: { runs: Vec2[][]; foot: Vec2; top: Vec2 }): Vec2[][] {
  const p = curve.points.map((id) => at[id])
  switch (curve.kind) {
    case 'line':
      return [[p[0], p[1]]]
    case 'arc':
      return [alongArc(p[0], p[1], p[2])]
    case 'circle':
      return [roundEllipse(p[0], [p[0][0] + radius, p[0][1]], radius)]
    case 'ellipse':
      return [roundEllipse(p[0], p[1], radius)]
    case 'spline':
      return [alongSpline(p)]
    default: {
      const up: Vec2 = [p[1][0] - p[0][0], p[1][1] - p[0][1]]
      // how long it is nobody knows before it is worked out: about three fifths of the height a letter
      const wide = (curve.text ?? '').length * 0.6
      if (!letters) return [[p[0], p[1], [p[1][0] + up[1] * wide, p[1][1] - up[0] * wide], [p[0][0] + up[1] * wide, p[0][1] - up[0] * wide], p[0]]]
      // turned and scaled along with what it hangs on
      const old: Vec2 = [letters.top[0] - letters.foot[0], letters.top[1] - letters.foot[1]]
      const size = old[0] ** 2 + old[1] ** 2 || 1
      const [cos, sin] = [(up[0] * old[0] + up[1] * old[1]) / size, (up[1] * old[0] - up[0] * old[1]) / size]
      return letters.runs.map((run) => run.map(([x, y]) => {
        const [u, v] = [x - letters.foot[0], y - letters.foot[1]]
        return [p[0][0] + cos * u - sin * v, p[0][1] + sin * u + cos * v] as Vec2
      }))
    }
  }
}

/** The place on a run that lies nearest to another. */
export function nearestOn(run: Vec2[], to: Vec2): Vec2 {
  let best: Vec2 = run[0]
  for (let k = 0; k + 1 < run.length; k++) {
    const [a, b] = [run[k], run[k + 1]]
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
    const t = Math.max(0, Math.min(1, ((to[0] - a[0]) * dx + (to[1] - a[1]) * dy) / (dx * dx + dy * dy || 1)))
    const p: Vec2 = [a[0] + t * dx, a[1] + t * dy]
    if (between(p, to) < between(best, to)) best = p
  }
  return best
}
