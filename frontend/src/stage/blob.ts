/** Reads the mesh blob (docs/mesh-blob.md): zero-copy views on one buffer. */
export interface Seen {
  kind: string
  at: [number, number, number]
  direction: [number, number, number]
  size: number
  around: string[]
  label: string
  radius: number
  axis: [number, number, number]
}
export interface SeenThing { name: string; seen: Seen | null; part?: string }

/** What may be pointed at on a part, in the order of its mesh. ``{part}`` in a label stands for the part's name. */
export interface Things {
  faces: { name: string; label: string; kind: string; hollow: boolean; loops: number; seen: Seen }[]
  edges: { name: string; label: string; kind: string; between: [number, number]; seen: Seen; smooth: boolean }[]
}

export interface BlobHeader {
  faceRuns: [number, number][]
  edgeRuns: [number, number][]
  smooth: boolean[]
  arrays: Record<string, [number, string, number]>
}

export interface Blob3d {
  header: BlobHeader
  positions: Float32Array
  normals: Float32Array
  triangles: Uint32Array
  lines: Float32Array
}

export function readBlob(buffer: ArrayBuffer): Blob3d {
  const view = new DataView(buffer)
  if (view.getUint32(0, false) !== 0x444a4d31) throw new Error('not a mesh')
  const length = view.getUint32(4, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 8, length))) as BlobHeader
  const floats = (name: string) => new Float32Array(buffer, header.arrays[name][0], header.arrays[name][2])
  const [offset, , count] = header.arrays.triangles
  return {
    header,
    positions: floats('positions'),
    normals: floats('normals'),
    triangles: new Uint32Array(buffer, offset, count),
    lines: floats('lines'),
  }
}
