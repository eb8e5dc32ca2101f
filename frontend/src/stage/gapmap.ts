/** A joint's gap as colours on both its halves: what travels, the scale, and the group of meshes that the stage shows. */
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Group, Mesh, MeshBasicMaterial, type Raycaster } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import type { components } from '../api/schema'

export type GapMap = components['schemas']['MapOut']

/** The wanted band as it is drawn: set off by what the printer takes. All mm a side. */
export interface Band { least: number; target: number; most: number }

/** Where the scale ends: as far beyond the band as it is wide, and at least to nothing. */
export function ends(band: Band): [number, number] {
  const wide = Math.max(band.most - band.least, 0.05)
  return [Math.min(band.least - wide, -0.02), band.most + wide]
}

/** Stops from overlap to loose: clay, ochre, the accent's green deepest at the target, and chalk. */
function stops(band: Band): [number, string][] {
  const [low, high] = ends(band)
  const nothing = Math.min(0, band.least - 0.01)
  return [
    [low, '#7d2a2f'], [nothing, '#b5523f'], [band.least - 1e-4, '#d3a24a'], [band.least, '#8fb98f'], [band.target, '#1e7268'],
    [band.most, '#86b7b4'], [band.most + 1e-4, '#c2cfd6'], [high, '#e9eef0'],
  ]
}

export function tintOf(gap: number, band: Band): string {
  const at = stops(band)
  const k = at.findIndex(([g]) => g > gap)
  if (k === 0) return at[0][1]
  if (k < 0) return at[at.length - 1][1]
  const [[a, from], [b, to]] = [at[k - 1], at[k]]
  return `#${new Color(from).lerp(new Color(to), (gap - a) / (b - a)).getHexString()}`
}

const floats = (text: string): Float32Array => new Float32Array(Uint8Array.from(atob(text), (c) => c.charCodeAt(0)).buffer)

/** Meshes of both halves, a hair in front of the faces that they lie on. */
export function groupOf(map: GapMap, band: Band): Group {
  const group = new Group()
  const [low, high] = ends(band)
  // colours from a table: a scale of 512 steps is finer than what is told apart
  const table = Array.from({ length: 513 }, (_, k) => new Color(tintOf(low + ((high - low) * k) / 512, band)))
  for (const half of map.halves) {
    const [corners, gaps] = [floats(half.corners), floats(half.gaps)]
    if (!gaps.length) continue
    const colours = new Float32Array(gaps.length * 3)
    gaps.forEach((g, k) => table[Math.max(0, Math.min(512, Math.round((512 * (g - low)) / (high - low))))].toArray(colours, 3 * k))
    const geometry = new BufferGeometry()
    geometry.setAttribute('position', new BufferAttribute(corners, 3))
    geometry.setAttribute('color', new BufferAttribute(colours, 3))
    // the tree puts triangles in another order by an index; the corners stay where they are
    geometry.boundsTree = new MeshBVH(geometry)
    const mesh = new Mesh(geometry, new MeshBasicMaterial({ vertexColors: true, side: DoubleSide, polygonOffset: true, polygonOffsetFactor: -2, polygonOffsetUnits: -2 }))
    mesh.userData = { gaps, part: half.part }
    mesh.renderOrder = 1
    group.add(mesh)
  }
  return group
}

/** The gap at what a ray meets first, between the corners of its triangle; and the part it lies on. */
export function probe(group: Group, ray: Raycaster): { gap: number; part: string } | null {
  const hit = ray.intersectObjects(group.children, false)[0]
  if (!hit?.face) return null
  const { gaps, part } = hit.object.userData as { gaps: Float32Array; part: string }
  const position = (hit.object as Mesh).geometry.getAttribute('position')
  const corners = [hit.face.a, hit.face.b, hit.face.c]
  const weights = corners.map((c) => 1 / Math.max(1e-6, Math.hypot(position.getX(c) - hit.point.x, position.getY(c) - hit.point.y, position.getZ(c) - hit.point.z)))
  const sum = weights.reduce((a, b) => a + b, 0)
  return { gap: corners.reduce((g, c, k) => g + (gaps[c] * weights[k]) / sum, 0), part }
}

export function dispose(group: Group): void {
  for (const child of group.children) {
    const mesh = child as Mesh
    mesh.geometry.dispose()
    ;(mesh.material as MeshBasicMaterial).dispose()
  }
}
