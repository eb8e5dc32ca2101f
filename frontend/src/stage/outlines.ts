/** Sketches on the stage: their areas, tinted, and their lines; both can be pointed at. */
import { Group, type Matrix4, type Mesh, Path, Shape, ShapeGeometry, Vector2, Vector3 } from 'three'
import type { SketchOut } from '../api/client'
import { colour } from '../theme/theme'
import { type Eye, frameMatrix } from './eye'
import { fromSegment, line, overlay } from './ink'
import type { Hit } from './viewer'

export class Outlines {
  readonly group = new Group()
  /** Lines of sketches that can be pointed at: where they are in the world. */
  private strokes: { step: string; name: string; from: Vector3; to: Vector3 }[] = []

  /** Shows the regions of these sketches as tinted areas that can be pointed at; with ``lines`` their lines too. */
  show(sketches: { step: string; sketch: SketchOut }[], lines = false): boolean {
    this.strokes = []
    if (!sketches.length && !this.group.children.length) return false
    this.group.clear()
    if (lines) this.drawStrokes(sketches)
    for (const { step, sketch } of sketches) {
      const matrix = frameMatrix(sketch.frame)
      for (const region of sketch.regions) {
        const [outer, ...holes] = region.loops
        const shape = new Shape(outer.map(([x, y]) => new Vector2(x, y)))
        for (const hole of holes) shape.holes.push(new Path(hole.map(([x, y]) => new Vector2(x, y))))
        const mesh = overlay(new ShapeGeometry(shape), 'accent', 0.16, matrix)
        mesh.userData = { step, name: region.name, area: region.area_mm2 }
        mesh.matrixWorld.copy(matrix)
        this.group.add(mesh)
        for (const loop of region.loops) {
          const points = loop.flatMap(([x, y], i) => {
            const [nx, ny] = loop[(i + 1) % loop.length]
            return [x, y, 0, nx, ny, 0]
          })
          const drawn = line(new Float32Array(points), colour('accent'), 2)
          drawn.matrixAutoUpdate = false
          drawn.matrix.copy(matrix)
          drawn.raycast = () => {}
          this.group.add(drawn)
        }
      }
    }
    return true
  }

  private drawStrokes(sketches: { step: string; sketch: SketchOut }[]): void {
    for (const { step, sketch } of sketches) {
      const matrix = frameMatrix(sketch.frame)
      for (const [name, [a, b]] of Object.entries(sketch.lines)) {
        const [from, to] = [new Vector3(a[0], a[1], 0).applyMatrix4(matrix), new Vector3(b[0], b[1], 0).applyMatrix4(matrix)]
        this.strokes.push({ step, name, from, to })
        const drawn = line(new Float32Array([...from.toArray(), ...to.toArray()]), colour('ink2'), 1.5)
        drawn.raycast = () => {}
        this.group.add(drawn)
      }
    }
  }

  /** The line of a sketch within a few pixels of a place. */
  strokeAt(eye: Eye, x: number, y: number): Hit | null {
    let best: { away: number; hit: Hit } | null = null
    for (const { step, name, from, to } of this.strokes) {
      const { away, t } = fromSegment(x, y, eye.toScreen(from), eye.toScreen(to))
      if (away > 6 || (best && away >= best.away)) continue
      const label = `line, ${Math.round(from.distanceTo(to) * 100) / 100} long`
      best = { away, hit: { thing: { type: 'line', step, name }, label, point: from.clone().lerp(to, t) } }
    }
    return best?.hit ?? null
  }

  /** The area of a region, and where it lies. */
  region(step: string, name: string): { geometry: Mesh['geometry']; matrix: Matrix4 } | null {
    return (this.group.children.find((r) => r.userData.step === step && r.userData.name === name) as Mesh | undefined) ?? null
  }

  stroke(step: string, name: string): { from: Vector3; to: Vector3 } | null {
    return this.strokes.find((l) => l.step === step && l.name === name) ?? null
  }
}
