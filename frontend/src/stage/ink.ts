/** How lines and tinted areas are drawn on the stage. */
import { BufferAttribute, BufferGeometry, Color, DoubleSide, LineBasicMaterial, LineSegments, type Matrix4, Mesh, MeshBasicMaterial } from 'three'
import { LineMaterial } from 'three/addons/lines/LineMaterial.js'
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js'
import { colour } from '../theme/theme'

/** Lines between pairs of points, so many pixels wide; 0: as thin as can be, which is cheap. */
export function line(points: Float32Array, tint: string, width: number): LineSegments | LineSegments2 {
  if (width > 0) {
    const geometry = new LineSegmentsGeometry()
    geometry.setPositions(points)
    const material = new LineMaterial({ color: new Color(tint), linewidth: width })
    return new LineSegments2(geometry, material)
  }
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(points, 3))
  return new LineSegments(geometry, new LineBasicMaterial({ color: new Color(tint) }))
}

/** A tinted area, a little before what it lies on. */
export function overlay(geometry: BufferGeometry, token: string, opacity: number, matrix?: Matrix4): Mesh {
  const material = new MeshBasicMaterial({
    color: new Color(colour(token)), transparent: true, opacity, depthWrite: false, side: DoubleSide,
    polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -1,
  })
  const mesh = new Mesh(geometry, material)
  mesh.renderOrder = 2
  if (matrix) {
    mesh.matrixAutoUpdate = false
    mesh.matrix.copy(matrix)
  }
  return mesh
}

/** How far a place of the screen is from a line between two others, px, and how far along it the nearest place is (0 to 1). */
export function fromSegment(x: number, y: number, p: { x: number; y: number }, q: { x: number; y: number }): { away: number; t: number } {
  const [dx, dy] = [q.x - p.x, q.y - p.y]
  const t = Math.max(0, Math.min(1, ((x - p.x) * dx + (y - p.y) * dy) / (dx * dx + dy * dy || 1)))
  return { away: Math.hypot(p.x + t * dx - x, p.y + t * dy - y), t }
}
