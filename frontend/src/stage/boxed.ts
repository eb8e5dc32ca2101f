/** Things within a box that was dragged over the stage: faces or edges that lie wholly in it, or that it touches; also those behind others. */
import { Vector3 } from 'three'
import type { Thing } from '../state/picks'
import type { Blob3d, Things } from './blob'
import type { Eye } from './eye'

export interface Box { from: Place; to: Place; touching: boolean }
interface Place { x: number; y: number }
interface Shown { id: string; blob: Blob3d; things: Things | null; matrix: Parameters<Vector3['applyMatrix4']>[0] }

/** A box is not meant where the pointer hardly moved, pixels. */
const LEAST = 4

export function thingsIn(box: Box, what: 'face' | 'edge', parts: Shown[], eye: Eye, hides: (p: Vector3) => boolean): Thing[] {
  const low = { x: Math.min(box.from.x, box.to.x), y: Math.min(box.from.y, box.to.y) }
  const high = { x: Math.max(box.from.x, box.to.x), y: Math.max(box.from.y, box.to.y) }
  if (high.x - low.x < LEAST && high.y - low.y < LEAST) return []
  const within = (p: Place) => p.x >= low.x && p.x <= high.x && p.y >= low.y && p.y <= high.y
  const found: Thing[] = []
  const at = new Vector3()
  for (const { id, blob, things, matrix } of parts) {
    if (!things) continue
    const seen = (array: Float32Array, k: number) => {
      at.fromArray(array, 3 * k).applyMatrix4(matrix)
      return hides(at) ? null : eye.toScreen(at)
    }
    const runs = what === 'edge' ? blob.header.edgeRuns : blob.header.faceRuns
    runs.forEach(([first, count], index) => {
      if (what === 'edge' && blob.header.smooth[index]) return
      const places: (Place | null)[] = []
      if (what === 'edge') for (let k = first; k < first + count; k++) places.push(seen(blob.lines, k))
      else for (let k = 3 * first; k < 3 * (first + count); k++) places.push(seen(blob.positions, blob.triangles[k]))
      // what is cut away is not there to be taken
      if (!places.length || !places.some((p) => p)) return
      const all = places.every((p) => p && within(p))
      if (all || (box.touching && touches(places, what, within, low, high))) found.push({ type: what, part: id, index })
    })
  }
  return found
}

/** Whether any piece (of an edge: a stretch between two places; of a face: a triangle) reaches into a box. */
function touches(places: (Place | null)[], what: 'face' | 'edge', within: (p: Place) => boolean, low: Place, high: Place): boolean {
  if (places.some((p) => p && within(p))) return true
  const corners = [low, { x: high.x, y: low.y }, high, { x: low.x, y: high.y }]
  const crossesBox = (a: Place, b: Place) => corners.some((c, k) => crosses(a, b, c, corners[(k + 1) % 4]))
  const step = what === 'edge' ? 1 : 3
  for (let k = 0; k + 1 < places.length; k += step) {
    const [a, b, c] = [places[k], places[k + 1], what === 'face' ? places[k + 2] : null]
    if (a && b && crossesBox(a, b)) return true
    if (a && b && c && (crossesBox(b, c) || crossesBox(c, a) || holds(a, b, c, low))) return true
  }
  return false
}

const side = (a: Place, b: Place, p: Place) => (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)
const crosses = (a: Place, b: Place, c: Place, d: Place) => side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0
const holds = (a: Place, b: Place, c: Place, p: Place) => {
  const [s, t, u] = [side(a, b, p), side(b, c, p), side(c, a, p)]
  return (s > 0 && t > 0 && u > 0) || (s < 0 && t < 0 && u < 0)
}
