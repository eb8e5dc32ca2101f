/** The sketch as the document keeps it, and where it stands. */
import type { FrameOut } from '../api/client'
import type { Viewer } from '../stage/viewer'
import { Vector3 } from 'three'

export interface SketchPoint { id: string; x: number; y: number }
export interface SketchCurve { id: string; kind: 'line' | 'circle' | 'arc'; points: string[]; radius: number; construction: boolean }
export interface SketchTie { id: string; kind: string; of: string[] }
export interface SketchSize { id: string; kind: string; of: string[]; formula: string; follows?: string }
export interface SketchDoc { points: SketchPoint[]; curves: SketchCurve[]; constraints: SketchTie[]; dimensions: SketchSize[] }
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
      viewer.toScreen(new Vector3(...([0, 1, 2].map((k) => frame.origin[k] + a * frame.x[k] + b * frame.y[k]) as [number, number, number])))
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
