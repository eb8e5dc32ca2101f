/** Planes, axes and points that steps made, shown for looking only. */
import { Box3, Group, Shape, ShapeGeometry, Vector2, Vector3 } from 'three'
import type { AxisOut, FrameOut } from '../api/client'
import { colour } from '../theme/theme'
import { frameMatrix } from './eye'
import { line, overlay } from './ink'

type Triple = [number, number, number]

export class Refers {
  readonly group = new Group()
  private planes = new Group()
  private lines = new Group()

  constructor() {
    this.group.add(this.planes, this.lines)
  }

  /** Shows planes as squares about the model's middle, for looking only. */
  setPlanes(frames: FrameOut[], about: Vector3[]): boolean {
    if (!frames.length && !this.planes.children.length) return false
    this.planes.clear()
    const box = boxOf(about)
    const middle = box.getCenter(new Vector3())
    const half = Math.max(20, 0.62 * box.getSize(new Vector3()).length() / 1.4)
    for (const frame of frames) {
      const matrix = frameMatrix(frame)
      const at = middle.clone().applyMatrix4(matrix.clone().invert())
      const [x0, x1, y0, y1] = [at.x - half, at.x + half, at.y - half, at.y + half]
      const sheet = overlay(new ShapeGeometry(new Shape([new Vector2(x0, y0), new Vector2(x1, y0), new Vector2(x1, y1), new Vector2(x0, y1)])), 'accent', 0.1, matrix)
      sheet.raycast = () => {}
      this.planes.add(sheet)
      const rim = line(new Float32Array([x0, y0, 0, x1, y0, 0, x1, y0, 0, x1, y1, 0, x1, y1, 0, x0, y1, 0, x0, y1, 0, x0, y0, 0]), colour('accent'), 1.5)
      rim.matrixAutoUpdate = false
      rim.matrix.copy(matrix)
      rim.raycast = () => {}
      this.planes.add(rim)
    }
    return true
  }

  /** Shows axes as dashes through the model, and points as small crosses, for looking only. */
  setLines(axes: AxisOut[], points: number[][], about: Vector3[]): boolean {
    if (!axes.length && !points.length && !this.lines.children.length) return false
    this.lines.clear()
    const box = boxOf(about)
    const middle = box.getCenter(new Vector3())
    const size = box.getSize(new Vector3()).length()
    for (const { at, way } of axes) {
      const [from, along] = [new Vector3(...(at as Triple)), new Vector3(...(way as Triple))]
      const nearest = from.clone().addScaledVector(along, middle.clone().sub(from).dot(along))
      const pieces: number[] = []
      // long dashes and dots, as an axis is drawn on paper
      for (let t = -0.62 * size, k = 0; t < 0.62 * size; k += 1) {
        const long = size * (k % 2 ? 0.006 : 0.05)
        pieces.push(...nearest.clone().addScaledVector(along, t).toArray(), ...nearest.clone().addScaledVector(along, t + long).toArray())
        t += long + size * 0.012
      }
      this.refer(pieces)
    }
    for (const at of points) {
      const arm = Math.max(1, size * 0.015)
      this.refer([[1, 0, 0], [0, 1, 0], [0, 0, 1]].flatMap((d) => [...d.map((v, k) => at[k] - v * arm), ...d.map((v, k) => at[k] + v * arm)]))
    }
    return true
  }

  private refer(pieces: number[]): void {
    // what lies in the material is seen through it, faintly
    for (const through of [false, true]) {
      const drawn = line(new Float32Array(pieces), colour('accent'), 2)
      if (through) Object.assign(drawn.material, { depthTest: false, transparent: true, opacity: 0.4 })
      drawn.renderOrder = through ? 1 : 0
      drawn.raycast = () => {}
      this.lines.add(drawn)
    }
  }
}

/** Round the model, or where one will be. */
function boxOf(points: Vector3[]): Box3 {
  const box = new Box3().setFromPoints(points)
  return box.isEmpty() ? box.setFromCenterAndSize(new Vector3(), new Vector3(60, 60, 60)) : box
}
