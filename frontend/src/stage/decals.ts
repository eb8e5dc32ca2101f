/** Images that lie on flat faces of parts: the triangles of the faces once more, a hair before them, with the image on them and nothing beside it. */
import { BufferAttribute, BufferGeometry, CanvasTexture, type Group, Mesh, MeshBasicMaterial, SRGBColorSpace, Vector3 } from 'three'
import type { PictureOut } from '../api/client'
import type { Blob3d } from './blob'
import { frameMatrix } from './eye'

/** An image is drawn so wide or high at most, px. */
const MOST_PX = 2048
/** A colour is cleared where each of its shares differs by no more than this of 255. */
const ALIKE = 36

export interface Dressed { blob: Blob3d; group: Group }

export class Decals {
  private meshes = new Map<string, { mesh: Mesh<BufferGeometry, MeshBasicMaterial>; look: string }>()
  private textures = new Map<string, CanvasTexture>()
  private wanted: Record<string, PictureOut> = {}

  /** ``changed`` is called when an image has come and can be drawn. */
  constructor(private changed: () => void) {}

  /** Shows these images and no others; ``load`` fetches a file. Tells whether anything is another than before. */
  show(pictures: Record<string, PictureOut>, parts: Map<string, Dressed & { hash: string }>, load: (file: string) => Promise<globalThis.Blob>): boolean {
    let changed = false
    this.wanted = pictures
    for (const [step, { mesh, look }] of this.meshes) {
      const picture = pictures[step]
      const part = picture && parts.get(picture.part)
      if (part && look === lookOf(picture, part.hash)) continue
      mesh.removeFromParent()
      mesh.geometry.dispose()
      mesh.material.dispose()
      this.meshes.delete(step)
      changed = true
    }
    for (const [step, picture] of Object.entries(pictures)) {
      const part = parts.get(picture.part)
      if (!part || this.meshes.has(step)) continue
      const key = `${picture.file} ${picture.clear}`
      const texture = this.textures.get(key)
      if (!texture) {
        void this.fetch(key, picture, load)
        continue
      }
      const mesh = laid(picture, part.blob, texture)
      part.group.add(mesh)
      this.meshes.set(step, { mesh, look: lookOf(picture, part.hash) })
      changed = true
    }
    return changed
  }

  get count(): number {
    return this.meshes.size
  }

  each(act: (material: MeshBasicMaterial) => void): void {
    for (const { mesh } of this.meshes.values()) act(mesh.material)
  }

  private async fetch(key: string, picture: PictureOut, load: (file: string) => Promise<globalThis.Blob>): Promise<void> {
    const drawn = await load(picture.file).then((blob) => canvasOf(blob, picture.clear)).catch(() => null)
    // another one may be wanted by now
    if (!drawn || this.textures.has(key) || !Object.values(this.wanted).some((p) => `${p.file} ${p.clear}` === key)) return
    const texture = new CanvasTexture(drawn)
    texture.colorSpace = SRGBColorSpace
    texture.anisotropy = 4
    this.textures.set(key, texture)
    this.changed()
  }
}

const lookOf = (picture: PictureOut, hash: string) => `${hash} ${JSON.stringify(picture)}`

/** The image on a canvas, with one colour made clear. */
async function canvasOf(blob: globalThis.Blob, clear: string): Promise<HTMLCanvasElement> {
  const url = URL.createObjectURL(blob)
  try {
    const image = new Image()
    image.src = url
    await image.decode()
    const [w, h] = [image.naturalWidth || 512, image.naturalHeight || 512]
    // a drawing has as many points as are wanted
    const scale = blob.type.includes('svg') ? 1024 / Math.max(w, h) : Math.min(1, MOST_PX / Math.max(w, h))
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(w * scale))
    canvas.height = Math.max(1, Math.round(h * scale))
    const pen = canvas.getContext('2d', { willReadFrequently: true })!
    pen.drawImage(image, 0, 0, canvas.width, canvas.height)
    if (clear) {
      const pixels = pen.getImageData(0, 0, canvas.width, canvas.height)
      const [r, g, b] = [1, 3, 5].map((k) => parseInt(clear.slice(k, k + 2), 16))
      const { data } = pixels
      for (let k = 0; k < data.length; k += 4)
        if (Math.abs(data[k] - r) <= ALIKE && Math.abs(data[k + 1] - g) <= ALIKE && Math.abs(data[k + 2] - b) <= ALIKE) data[k + 3] = 0
      pen.putImageData(pixels, 0, 0)
    }
    return canvas
  } finally {
    URL.revokeObjectURL(url)
  }
}

function laid(picture: PictureOut, blob: Blob3d, map: CanvasTexture): Mesh<BufferGeometry, MeshBasicMaterial> {
  const positions: number[] = []
  const places: number[] = []
  const home = frameMatrix(picture.frame).invert()
  const at = new Vector3()
  for (const face of picture.faces) {
    const [first, count] = blob.header.faceRuns[face]
    for (const corner of blob.triangles.subarray(3 * first, 3 * (first + count))) {
      at.fromArray(blob.positions, 3 * corner)
      positions.push(at.x, at.y, at.z)
      at.applyMatrix4(home)
      places.push(at.x / picture.wide_mm + 0.5, at.y / picture.high_mm + 0.5)
    }
  }
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(new Float32Array(positions), 3))
  geometry.setAttribute('uv', new BufferAttribute(new Float32Array(places), 2))
  // drawn after the part, whose own triangles stand back a little already
  const material = new MeshBasicMaterial({ map, transparent: true, depthWrite: false })
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <map_fragment>', 'if (vMapUv.x < 0.0 || vMapUv.x > 1.0 || vMapUv.y < 0.0 || vMapUv.y > 1.0) discard;\n#include <map_fragment>',
    )
  }
  const mesh = new Mesh(geometry, material)
  mesh.raycast = () => {}
  return mesh
}
