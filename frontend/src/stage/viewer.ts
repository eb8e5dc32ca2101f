/** The stage's three.js scene: draws on demand, points by ray and by screen distance, knows nothing of React. */
import {
  AmbientLight, BackSide, BufferAttribute, BufferGeometry, Color, DirectionalLight, DoubleSide, Group, Line3, LineBasicMaterial,
  LineSegments, Material, Matrix4, Mesh, MeshBasicMaterial, MeshLambertMaterial, Path, Plane, Ray, Raycaster, Scene,
  Shape, ShapeGeometry, Vector2, Vector3, WebGLRenderer,
} from 'three'
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js'
import { MeshBVH, acceleratedRaycast } from 'three-mesh-bvh'
import type { AxisOut, FrameOut, PictureOut, SketchOut } from '../api/client'
import type { Thing } from '../state/picks'
import { colour } from '../theme/theme'
import { inInches } from '../widgets/figures'
import type { Blob3d, Things } from './blob'
import { type Box, thingsIn } from './boxed'
import { Decals } from './decals'
import { Eye, type ViewName } from './eye'
import { Fingers } from './fingers'
import { type Band, type GapMap, dispose, groupOf, probe } from './gapmap'
import { fromSegment, line, overlay } from './ink'
import { Outlines } from './outlines'
import { Refers } from './refers'
import { Section } from './section'

Mesh.prototype.raycast = acceleratedRaycast

export interface PartShown { id: string; name: string; unit: string; hash: string; things: Things | null; colour: string; ghost: boolean; hidden: boolean }
export interface Hit { thing: Thing; label: string; point: Vector3 }
export interface Filter { face: boolean; edge: boolean; region: boolean; line: boolean }
/** One layer of a part as it is printed: paths of the nozzle, as pairs of points in the part's print coordinates. */
export interface LayerPaths {
  part: string
  place: [number, number]
  section: { outer: [number, number][]; holes: [number, number][][] }[]
  walls: Float32Array
  single: { outer: [number, number][]; holes: [number, number][][] }[]
  solid: Float32Array
  infill: Float32Array
}
/** Whether there is no graphics card: then each frame is drawn by the processor, and smoothed edges would cost a third of an edit's time. */
function drawsInSoftware(): boolean {
  if (new URLSearchParams(location.search).has('smooth')) return false
  const gl = document.createElement('canvas').getContext('webgl2')
  const told = gl?.getExtension('WEBGL_debug_renderer_info')
  const name = gl && told ? String(gl.getParameter(told.UNMASKED_RENDERER_WEBGL)) : ''
  gl?.getExtension('WEBGL_lose_context')?.loseContext()
  return /swiftshader|llvmpipe|softpipe|software/i.test(name)
}

/** ``?plain`` spares tests on machines without a graphics card the smoothing of edges, and three of four pixels. */
const SPARING = new URLSearchParams(location.search).has('plain')
const PLAIN = SPARING || drawsInSoftware()
const FAT_SEGMENTS = 2500

interface PartObject {
  hash: string
  /** What may be pointed at, with the part's name in its labels; it comes a moment after the mesh. */
  things: Things | null
  blob: Blob3d
  group: Group
  mesh: Mesh<BufferGeometry, MeshLambertMaterial>
  outline: Mesh<BufferGeometry, MeshBasicMaterial>
  lines: (LineSegments | LineSegments2)[]
}

/** Between beds that stand beside each other, mm. */
const BETWEEN_BEDS = 40
/** Edges closer to each other on the screen than this lie over each other, px. */
const OVER_PX = 1

export class Viewer {
  readonly eye = new Eye(this)
  readonly canvas: HTMLCanvasElement
  onFrame: () => void = () => {}
  onClick: (hit: Hit | null, event: PointerEvent) => void = () => {}
  onHover: (hit: Hit | null, x: number, y: number) => void = () => {}
  onBox: (box: Box | null, done: boolean) => void = () => {}
  /** Over a map of a gap: what it is there. */
  onProbe: (found: { gap: number; part: string } | null, x: number, y: number) => void = () => {}
  onView: (view: ViewName | 'square' | null) => void = () => {}
  filter: Filter = { face: true, edge: true, region: false, line: false }

  /** What ``setParts`` showed last. */
  private shownLook = ''
  /** Frames drawn so far, for bench/. */
  frames = 0
  readonly section: Section
  private renderer: WebGLRenderer
  private scene = new Scene()
  private light = new DirectionalLight(0xffffff, 1.5)
  private parts = new Map<string, PartObject>()
  private decals = new Decals(() => this.pictures && this.setPictures(this.pictures.pictures, this.pictures.load))
  private pictures: { pictures: Record<string, PictureOut>; load: (file: string) => Promise<globalThis.Blob> } | null = null
  private marks = new Group()
  private hoverMarks = new Group()
  private outlines = new Outlines()
  private ground = new Group()
  private refers = new Refers()
  private paths = new Group()
  private gapMap: Group | null = null
  /** Where parts stand when they are not as modelled: on the plate. */
  private places = new Map<string, Matrix4>()
  /** What stands above this height is not shown, mm. */
  private layerTop: number | null = null
  private pending = false
  private raycaster = new Raycaster()
  /** How far outlines stand out from the surface, in mm: a pixel or so at the present zoom. */
  private outlineWidth = { value: 0.1 }
  private hoverAt: { x: number; y: number } | null = null
  private bed: [number, number] = [220, 220]
  /** How many beds stand beside each other. */
  private beds = 1
  private disposed = false

  constructor(private host: HTMLElement) {
    this.renderer = new WebGLRenderer({ antialias: !PLAIN, alpha: false, stencil: true })
    this.renderer.setPixelRatio(SPARING ? 0.5 : Math.min(2, window.devicePixelRatio))
    this.section = new Section(this.renderer)
    this.canvas = this.renderer.domElement
    this.canvas.className = 'block touch-none'
    host.prepend(this.canvas)
    this.scene.add(new AmbientLight(0xffffff, 1.55), this.light, this.ground, this.outlines.group, this.marks, this.hoverMarks, this.section.group, this.paths, this.refers.group)
    this.drawGround()
    this.eye.look()
    new Fingers(this.canvas, {
      orbit: (dx, dy) => this.eye.orbit(dx, dy),
      pan: (dx, dy) => this.eye.pan(dx, dy),
      zoom: (factor, x, y) => this.eye.zoom(factor, x, y),
      rests: (at) => this.rests(at),
      clicks: (at, event) => this.onClick(this.hitAt(at.x, at.y), event),
      boxes: (box, done) => this.onBox(this.eye.locked ? null : box, done),
    })
    window.addEventListener('themechange', this.recolour)
  }

  dispose(): void {
    this.disposed = true
    window.removeEventListener('themechange', this.recolour)
    this.renderer.dispose()
    this.canvas.remove()
  }

  get size(): { width: number; height: number } {
    return { width: this.host.clientWidth || 1, height: this.host.clientHeight || 1 }
  }

  resize(): void {
    const { width, height } = this.size
    this.renderer.setSize(width, height)
    this.eye.look()
  }

  invalidate(): void {
    if (this.pending || this.disposed) return
    this.pending = true
    requestAnimationFrame(() => {
      this.pending = false
      if (this.disposed) return
      this.frames++
      this.renderer.render(this.scene, this.eye.camera)
      this.onFrame()
      if (this.hoverAt) {
        const at = this.hoverAt
        this.hoverAt = null
        this.onHover(this.hitAt(at.x, at.y), at.x, at.y)
        if (this.gapMap) {
          this.ray(at.x, at.y)
          this.onProbe(probe(this.gapMap, this.raycaster), at.x, at.y)
        }
      }
    })
  }

  /** Draws at once, so that a test can read what stands on the screen. */
  drawNow(): void {
    this.renderer.render(this.scene, this.eye.camera)
  }

  get quiet(): boolean {
    return !this.pending && this.hoverAt === null
  }

  /** Waits until what was drawn is drawn; for tests. A browser takes WebGL's own finish() for less: only reading waits. */
  finish(): void {
    const gl = this.renderer.getContext()
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4))
  }

  // ---- parts -----------------------------------------------------------------------------------------------

  /** Whether no part is shown yet. */
  get empty(): boolean {
    return this.parts.size === 0
  }

  /** What may be pointed at on a part, as soon as it is known. */
  header(part: string): Things | undefined {
    return this.parts.get(part)?.things ?? undefined
  }

  /** A part's points as modelled. */
  positions(part: string): Float32Array | undefined {
    return this.parts.get(part)?.blob.positions
  }

  /** A face's outward direction where it stands now, and what it spans. */
  facing(part: string, index: number): { normal: Vector3; points: Vector3[] } | null {
    const object = this.parts.get(part)
    const face = object?.things?.faces[index]
    if (!object || face?.kind !== 'plane') return null
    const normal = new Vector3(...face.seen.direction).transformDirection(object.group.matrix)
    return { normal, points: this.pointsOf([{ type: 'face', part, index }]) ?? [] }
  }

  get headers() {
    return new Map([...this.parts].flatMap(([id, p]) => (p.things ? [[id, p.things] as const] : [])))
  }

  /** Shows these parts and no others. Geometry that did not change is kept. */
  setParts(shown: PartShown[], blobs: Map<string, Blob3d>): void {
    this.nameThings(shown)
    const look = JSON.stringify(shown.map((s) => ({ ...s, things: 0, here: blobs.has(s.hash) })))
    if (look === this.shownLook) return
    this.shownLook = look
    const inSight = this.parts.size > 0 && this.seesAll()
    for (const [id, part] of this.parts) {
      const wanted = shown.find((s) => s.id === id)
      const blob = wanted && blobs.get(wanted.hash)
      if (!wanted) this.drop(id)
      else if (blob && wanted.hash !== part.hash) {
        this.dress(part, wanted.hash, blob)
        part.things = named(wanted.things, wanted.name, wanted.unit, blob.header.smooth)
      }
    }
    for (const item of shown) {
      const blob = blobs.get(item.hash)
      if (!blob) continue
      const part = this.parts.get(item.id) ?? this.build(item, blob)
      part.mesh.material.color.set(item.colour)
      // whether a material is see-through is compiled into its shader
      if (part.mesh.material.transparent !== item.ghost) part.mesh.material.needsUpdate = true
      part.mesh.material.transparent = item.ghost
      part.mesh.material.opacity = item.ghost ? 0.13 : 1
      part.mesh.material.depthWrite = !item.ghost
      part.outline.visible = !item.ghost
      for (const line of part.lines) {
        const material = line.material as LineBasicMaterial
        if (material.transparent !== item.ghost) material.needsUpdate = true
        material.transparent = item.ghost
        material.opacity = item.ghost ? 0.16 : 1
      }
      part.group.visible = !item.hidden
      part.group.userData.pickable = !item.ghost && !item.hidden
      part.group.userData.shown = !item.hidden
    }
    this.place()
    if (this.pictures) this.decals.show(this.pictures.pictures, this.parts, this.pictures.load)
    this.clip()
    // the grid lies a hair under the lowest part
    const lowest = Math.min(0, ...this.corners().map((p) => p.z))
    this.ground.position.z = lowest - 0.05
    // what was all in sight stays so when it grows
    if (inSight && !this.eye.locked && !this.seesAll()) this.eye.fit()
    this.invalidate()
  }

  /** Gives the parts on show what may be pointed at on them. */
  private nameThings(shown: PartShown[]): void {
    for (const { id, name, unit, hash, things } of shown) {
      const part = this.parts.get(id)
      if (part && part.hash === hash) part.things = named(things, name, unit, part.blob.header.smooth)
    }
  }

  /** How many images lie on parts now. */
  get pictured(): number {
    return this.decals.count
  }

  /** Images on faces; ``load`` fetches the file of one. */
  setPictures(pictures: Record<string, PictureOut>, load: (file: string) => Promise<globalThis.Blob>): void {
    this.pictures = { pictures, load }
    // every report names its images: the same ones again must not cost a frame
    if (!this.decals.show(pictures, this.parts, load)) return
    this.clip()
    this.invalidate()
  }

  /** Colours on the halves of a joint, or none. */
  setGapMap(map: GapMap | null, band: Band | null): void {
    if (this.gapMap) {
      this.scene.remove(this.gapMap)
      dispose(this.gapMap)
    }
    this.gapMap = map && band ? groupOf(map, band) : null
    if (this.gapMap) this.scene.add(this.gapMap)
    this.invalidate()
  }

  /** Cuts the model open at one plane or two (their normals point to what stays), or closes it again; ``corner``: only what lies beyond both goes. */
  setSection(cuts: { normal: Vector3; at: number }[], corner = false): void {
    const { section } = this
    // of one cut alone there is no corner
    const both = corner && cuts.length > 1
    const alike = section.cuts.length === cuts.length && section.corner === both
    if (!alike) section.cuts.splice(0, Infinity, ...cuts.map(() => new Plane()))
    cuts.forEach(({ normal, at }, k) => section.cuts[k].set(normal, -at))
    section.corner = both
    if (alike && section.on) section.move()
    else if (!alike) this.clip()
    this.invalidate()
  }

  /** Stands parts where they are printed (print coordinates of each), or back where they are modelled. */
  setPlaces(places: Map<string, Matrix4> | null, beds = 1): void {
    if (!places && !this.places.size) return
    this.places = places ?? new Map()
    if (beds !== this.beds) {
      this.beds = beds
      this.drawGround()
    }
    this.place()
    this.ground.position.z = Math.min(0, ...this.corners().map((p) => p.z)) - 0.05
    this.invalidate()
  }

  private place(): void {
    for (const [id, part] of this.parts) {
      part.group.matrixAutoUpdate = false
      const place = this.places.get(id)
      if (place) part.group.matrix.copy(place)
      else part.group.matrix.identity()
      part.group.matrixWorldNeedsUpdate = true
      part.group.updateMatrixWorld(true)
    }
  }

  /** Shows one layer with its paths, and nothing of what is printed after it; or whole parts again. */
  setLayer(top: number | null, drawn: LayerPaths[] = []): void {
    if (top === null && this.layerTop === null) return
    this.layerTop = top
    this.paths.traverse((o) => {
      const made = o as LineSegments
      if (made.geometry) made.geometry.dispose()
      if (made.material) (made.material as Material).dispose()
    })
    this.paths.clear()
    const shape = (points: [number, number][]) => points.map(([x, y]) => new Vector2(x, y))
    for (const { part, place, section, walls, single, solid, infill } of drawn) {
      const fill = new MeshBasicMaterial({ color: this.parts.get(part)?.mesh.material.color ?? new Color(colour('card')) })
      // what one bead fills by itself is as wide as that bead, so it is shown as an area
      const bead = new MeshBasicMaterial({ color: new Color(colour('ink')) })
      for (const [shown, material, over] of [[section, fill, 0.01], [single, bead, 0.03]] as const) {
        for (const { outer, holes } of shown) {
          const area = new Shape(shape(outer))
          for (const hole of holes) area.holes.push(new Path(shape(hole)))
          const cap = new Mesh(new ShapeGeometry(area), material)
          cap.position.set(place[0], place[1], (top ?? 0) + over)
          cap.raycast = () => {}
          this.paths.add(cap)
        }
      }
      for (const [points, token, width] of [[infill, 'warn', 0], [solid, 'accent', 0], [walls, 'ink', 1.5]] as const) {
        if (!points.length) continue
        const drawn = line(points, colour(token), points.length / 6 < FAT_SEGMENTS ? width : 0)
        drawn.position.set(place[0], place[1], (top ?? 0) + 0.05)
        drawn.raycast = () => {}
        this.paths.add(drawn)
      }
    }
    this.clip()
    this.invalidate()
  }

  /** How many lines of a layer are drawn; for tests. */
  get pathsShown(): number {
    return this.paths.children.length
  }

  private hides(point: Vector3): boolean {
    return this.section.hides(point) || (this.layerTop !== null && point.z > this.layerTop + 1e-3)
  }

  private clip(): void {
    const above = this.layerTop === null ? null : [new Plane(new Vector3(0, 0, -1), this.layerTop)]
    const shown = [...this.parts].filter(([, p]) => p.group.userData.pickable)
    const cut = (material: Material, whole: boolean) => {
      this.section.clip(material)
      if (!above && !whole) return
      material.clippingPlanes = above
      material.clipIntersection = false
    }
    for (const [, part] of this.parts) {
      for (const material of [part.mesh.material, part.outline.material, ...part.lines.map((l) => l.material as Material)]) cut(material, !part.group.userData.pickable)
    }
    this.decals.each((material) => cut(material, false))
    this.section.rebuild(shown.map(([id, p]) => ({ id, geometry: p.mesh.geometry, colour: `#${p.mesh.material.color.getHexString()}` })))
  }

  private seesAll(): boolean {
    const { width, height } = this.size
    return this.corners().every((p) => {
      const at = this.eye.toScreen(p)
      return at.x >= 0 && at.y >= 0 && at.x <= width && at.y <= height
    })
  }

  private drop(id: string): void {
    const part = this.parts.get(id)
    if (!part) return
    this.scene.remove(part.group)
    part.mesh.geometry.dispose()
    part.mesh.material.dispose()
    part.outline.material.dispose()
    for (const line of part.lines) line.geometry.dispose()
    this.parts.delete(id)
  }

  private build(item: PartShown, blob: Blob3d): PartObject {
    const material = new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 })
    const mesh = new Mesh(new BufferGeometry(), material)
    mesh.userData.part = item.id
    const outline = new Mesh(mesh.geometry, this.outlineMaterial())
    outline.raycast = () => {}
    const group = new Group()
    group.add(mesh, outline)
    this.scene.add(group)
    const part: PartObject = { hash: '', things: null, blob, group, mesh, outline, lines: [] }
    this.dress(part, item.hash, blob)
    part.things = named(item.things, item.name, item.unit, blob.header.smooth)
    this.parts.set(item.id, part)
    return part
  }

  /** Gives a part other geometry. Its materials stay, so that no shader is compiled anew for an edit. */
  private dress(part: PartObject, hash: string, blob: Blob3d): void {
    const geometry = new BufferGeometry()
    geometry.setAttribute('position', new BufferAttribute(blob.positions, 3))
    geometry.setAttribute('normal', new BufferAttribute(blob.normals, 3))
    geometry.setIndex(new BufferAttribute(blob.triangles, 1))
    // indirect: the triangles must stay in the order of the faces
    geometry.boundsTree = new MeshBVH(geometry, { indirect: true })
    part.mesh.geometry.dispose()
    part.mesh.geometry = part.outline.geometry = geometry
    const sharp = this.segments(blob, (i) => !blob.header.smooth[i])
    const old = part.lines
    part.lines = sharp.length ? [line(sharp, colour('edge'), sharp.length / 6 < FAT_SEGMENTS ? 1.6 : 0)] : []
    for (const line of part.lines) part.group.add(line)
    // the new lines' shader is in use before the old ones let go of it
    for (const line of old) {
      part.group.remove(line)
      line.geometry.dispose()
      window.setTimeout(() => (line.material as LineBasicMaterial).dispose(), 2000)
    }
    part.hash = hash
    part.blob = blob
  }

  /** Back faces pushed out along their normals: they show as an ink line round the silhouette. */
  private outlineMaterial(): MeshBasicMaterial {
    const material = new MeshBasicMaterial({ color: new Color(colour('edge')), side: BackSide })
    material.onBeforeCompile = (shader) => {
      shader.uniforms.reach = this.outlineWidth
      shader.vertexShader = `uniform float reach;\n${shader.vertexShader}`.replace(
        '#include <begin_vertex>', 'vec3 transformed = position + normalize(normal) * reach;',
      )
    }
    return material
  }

  private segments(blob: Blob3d, wanted: (edge: number) => boolean): Float32Array {
    const out: number[] = []
    blob.header.edgeRuns.forEach(([first, count], edge) => {
      if (!wanted(edge)) return
      for (let k = first; k < first + count - 1; k++) out.push(...blob.lines.subarray(3 * k, 3 * k + 6))
    })
    return new Float32Array(out)
  }

  // ---- marks: what is lit up ---------------------------------------------------------------------------------

  setMarks(things: Thing[], hover: Thing | null): void {
    // most of the time nothing is lit, and a frame that shows nothing new only holds up what comes next
    if (!things.length && !hover && !this.marks.children.length && !this.hoverMarks.children.length) return
    this.fill(this.marks, things, 'accent', 0.5)
    this.fill(this.hoverMarks, hover ? [hover] : [], 'free', 0.4)
    this.invalidate()
  }

  private fill(group: Group, things: Thing[], token: string, opacity: number): void {
    group.clear()
    for (const thing of things) {
      if (thing.type === 'region') {
        const region = this.outlines.region(thing.step, thing.name)
        if (region) group.add(overlay(region.geometry, token, opacity, region.matrix))
        continue
      }
      if (thing.type === 'line') {
        const stroke = this.outlines.stroke(thing.step, thing.name)
        if (!stroke) continue
        const drawn = line(new Float32Array([...stroke.from.toArray(), ...stroke.to.toArray()]), colour(token), 5)
        drawn.renderOrder = 3
        if ('depthTest' in drawn.material) drawn.material.depthTest = false
        group.add(drawn)
        continue
      }
      if (thing.type === 'plane' || thing.type === 'axis' || thing.type === 'point') continue
      const part = this.parts.get(thing.part)
      if (!part) continue
      if (thing.type === 'edge') {
        const run = this.segments(part.blob, (i) => i === thing.index)
        if (run.length) {
          const drawn = line(run, colour(token), 4)
          drawn.renderOrder = 3
          drawn.matrixAutoUpdate = false
          drawn.matrix.copy(part.group.matrix)
          if ('depthTest' in drawn.material) drawn.material.depthTest = false
          group.add(drawn)
        }
        continue
      }
      const [first, count] = part.blob.header.faceRuns[thing.index] ?? [0, 0]
      const geometry = new BufferGeometry()
      geometry.setAttribute('position', part.mesh.geometry.getAttribute('position'))
      geometry.setIndex(part.mesh.geometry.getIndex())
      geometry.setDrawRange(first * 3, count * 3)
      group.add(overlay(geometry, token, opacity, part.group.matrix))
    }
  }

  // ---- what lies beside the parts -----------------------------------------------------------------------------

  /** Shows the regions of these sketches as tinted areas that can be pointed at; with ``lines`` their lines too. */
  setSketches(sketches: { step: string; sketch: SketchOut }[], lines = false): void {
    if (this.outlines.show(sketches, lines)) this.invalidate()
  }

  /** Shows planes as squares about the model's middle. */
  setPlanes(frames: FrameOut[]): void {
    if (this.refers.setPlanes(frames, this.corners())) this.invalidate()
  }

  /** Shows axes and points. */
  setLines(axes: AxisOut[], points: number[][]): void {
    if (this.refers.setLines(axes, points, this.corners())) this.invalidate()
  }

  // ---- pointing ----------------------------------------------------------------------------------------------

  private ray(x: number, y: number): void {
    const { width, height } = this.size
    this.raycaster.setFromCamera(new Vector2((x / width) * 2 - 1, 1 - (y / height) * 2), this.eye.camera)
  }

  /** What is under a place of the screen; ``faint``: parts that are only seen faintly count too. */
  hitAt(x: number, y: number, faint = false): Hit | null {
    this.ray(x, y)
    if (this.filter.line) {
      const stroke = this.outlines.strokeAt(this.eye, x, y)
      if (stroke) return stroke
    }
    if (this.filter.region) {
      const hit = this.raycaster.intersectObjects(this.outlines.group.children.filter((c) => c.userData.name), false)[0]
      if (hit) {
        const { step, name, area } = hit.object.userData
        return { thing: { type: 'region', step, name }, label: `region of ${area.toFixed(1)} mm²`, point: hit.point }
      }
    }
    const meshes = [...this.parts.values()].filter((p) => p.group.userData[faint ? 'shown' : 'pickable']).map((p) => p.mesh)
    // without a cut the first hit is enough
    this.raycaster.firstHitOnly = !this.section.on && this.layerTop === null
    const hit = this.raycaster.intersectObjects(meshes, false).sort((a, b) => a.distance - b.distance).find((h) => !this.hides(h.point))
    const cut = this.cutAt(faint)
    if (this.filter.edge) {
      const edge = this.edgeAt(x, y, cut ? cut.distance : (hit?.distance ?? Infinity), faint)
      if (edge) return edge
    }
    if (!this.filter.face) return null
    if (cut) return this.faceOf(cut.part, cut.triangle, cut.point)
    return hit && hit.faceIndex != null ? this.faceOf(hit.object.userData.part as string, hit.faceIndex, hit.point) : null
  }

  /** The faces or edges in a box on the screen. */
  boxed(box: Box, what: 'face' | 'edge'): Thing[] {
    const parts = [...this.parts].filter(([, p]) => p.group.userData.pickable).map(([id, p]) => ({ id, blob: p.blob, things: p.things, matrix: p.group.matrix }))
    return thingsIn(box, what, parts, this.eye, (p) => this.hides(p))
  }

  /** The face that a triangle of a part's mesh belongs to. */
  private faceOf(part: string, triangle: number, point: Vector3): Hit | null {
    const { blob, things } = this.parts.get(part)!
    const index = blob.header.faceRuns.findIndex(([first, count]) => triangle >= first && triangle < first + count)
    return index < 0 || !things ? null : { thing: { type: 'face', part, index }, label: things.faces[index].label, point }
  }

  /**
   * What is pointed at where the model is cut: the part whose material the cut goes through there, and of its faces the one that comes
   * to the cut nearest to that place.
   */
  private cutAt(faint: boolean): { part: string; triangle: number; point: Vector3; distance: number } | null {
    if (this.layerTop !== null) return null
    const found = this.section.cuts.flatMap((plane) => this.cutThere(plane, faint) ?? [])
    return found.sort((a, b) => a.distance - b.distance)[0] ?? null
  }

  private cutThere(plane: Plane, faint: boolean): { part: string; triangle: number; point: Vector3; distance: number } | null {
    const { origin, direction } = this.raycaster.ray
    const towards = plane.normal.dot(direction)
    if (towards < 1e-6) return null
    const distance = -plane.distanceToPoint(origin) / towards
    const point = origin.clone().addScaledVector(direction, distance)
    if (!this.section.shows(plane, point)) return null
    const beyond = new Ray(point.clone().addScaledVector(direction, 1e-4), direction)
    for (const [part, object] of this.parts) {
      if (!object.group.userData[faint ? 'shown' : 'pickable']) continue
      const tree = object.mesh.geometry.boundsTree as MeshBVH | undefined
      // an odd number of faces behind it means that the place lies in material
      if (!tree || tree.raycast(beyond, DoubleSide).length % 2 === 0) continue
      let best = { away: Infinity, triangle: -1 }
      const stretch = new Line3()
      const near = new Vector3()
      tree.shapecast({
        intersectsBounds: (box) => plane.intersectsBox(box) && box.distanceToPoint(point) < best.away,
        intersectsTriangle: (triangle, index) => {
          const ends = [[triangle.a, triangle.b], [triangle.b, triangle.c], [triangle.c, triangle.a]].flatMap(([a, b]) => plane.intersectLine(stretch.set(a, b), new Vector3()) ?? [])
          if (ends.length < 2) return false
          const away = stretch.set(ends[0], ends[1]).closestPointToPoint(point, true, near).distanceTo(point)
          if (away < best.away) best = { away, triangle: index }
          return false
        },
      })
      if (best.triangle >= 0) return { part, triangle: best.triangle, point, distance }
    }
    return null
  }

  /**
   * The edge within a few pixels of a place, unless it is hidden behind what the ray meets there; of edges over each other the one in front.
   * On the board, where parts are seen through, none is hidden, and the one nearest to the board counts.
   */
  private edgeAt(x: number, y: number, depth: number, faint: boolean): Hit | null {
    const near: { away: number; far: number; hit: Hit }[] = []
    let least = 6
    const a = new Vector3()
    const b = new Vector3()
    const origin = this.raycaster.ray.origin
    const along = this.raycaster.ray.direction
    for (const [id, part] of this.parts) {
      const { things } = part
      if (!things || !part.group.userData[faint ? 'shown' : 'pickable']) continue
      part.blob.header.edgeRuns.forEach(([first, count], index) => {
        if (part.blob.header.smooth[index]) return
        for (let k = first; k < first + count - 1; k++) {
          a.fromArray(part.blob.lines, 3 * k).applyMatrix4(part.group.matrix)
          b.fromArray(part.blob.lines, 3 * k + 3).applyMatrix4(part.group.matrix)
          const p = this.eye.toScreen(a)
          const q = this.eye.toScreen(b)
          const { away, t } = fromSegment(x, y, p, q)
          if (away > least + OVER_PX) continue
          const point = a.clone().lerp(b, t)
          if (this.hides(point)) continue
          const far = point.clone().sub(origin).dot(along)
          if (!faint && far > depth + this.eye.span * 0.02) continue
          least = Math.min(least, away)
          near.push({ away, far, hit: { thing: { type: 'edge', part: id, index }, label: things.edges[index].label, point } })
        }
      })
    }
    const board = faint ? this.eye.target.clone().sub(origin).dot(along) : 0
    const order = (n: (typeof near)[number]) => (faint ? Math.abs(n.far - board) : n.far)
    const over = near.filter((n) => n.away <= Math.min(6, least + OVER_PX)).sort((one, other) => order(one) - order(other) || one.away - other.away)
    return over[0]?.hit ?? null
  }

  /** Both ends of an edge. */
  edgeEnds(part: string, index: number): [Vector3, Vector3] | null {
    const object = this.parts.get(part)
    if (!object) return null
    const [first, count] = object.blob.header.edgeRuns[index]
    const at = (k: number) => new Vector3().fromArray(object.blob.lines, 3 * k)
    return [at(first), at(first + count - 1)]
  }

  /** A place on the screen where a click meets this face and nothing else; for tests and for notes. */
  facePlace(part: string, index: number): { x: number; y: number } | null {
    const object = this.parts.get(part)
    if (!object) return null
    const [first, count] = object.blob.header.faceRuns[index]
    const { positions, triangles } = object.blob
    const corner = (k: number) => new Vector3().fromArray(positions, 3 * triangles[k]).applyMatrix4(object.group.matrix)
    const places: { x: number; y: number; area: number }[] = []
    for (let t = first; t < first + count; t++) {
      const [a, b, c] = [corner(3 * t), corner(3 * t + 1), corner(3 * t + 2)]
      const area = b.clone().sub(a).cross(c.clone().sub(a)).length()
      for (const [u, v] of [[1 / 3, 1 / 3], [0.6, 0.2], [0.2, 0.6], [0.2, 0.2]]) {
        const p = a.clone().multiplyScalar(1 - u - v).addScaledVector(b, u).addScaledVector(c, v)
        places.push({ ...this.eye.toScreen(p), area })
      }
    }
    places.sort((p, q) => q.area - p.area)
    const { width, height } = this.size
    for (const place of places.slice(0, 400)) {
      if (place.x < 4 || place.y < 4 || place.x > width - 4 || place.y > height - 4) continue
      const hit = this.hitAt(place.x, place.y)
      if (hit?.thing.type === 'face' && hit.thing.part === part && hit.thing.index === index) return place
    }
    return null
  }

  /** A place on the screen where a click meets this edge. */
  edgePlace(part: string, index: number): { x: number; y: number } | null {
    const object = this.parts.get(part)
    if (!object) return null
    const [first, count] = object.blob.header.edgeRuns[index]
    for (let s = 1; s < 20; s++) {
      const at = ((count - 1) * s) / 20
      const k = Math.min(count - 2, Math.floor(at))
      const a = new Vector3().fromArray(object.blob.lines, 3 * (first + k))
      const b = new Vector3().fromArray(object.blob.lines, 3 * (first + k) + 3)
      const place = this.eye.toScreen(a.lerp(b, at - k).applyMatrix4(object.group.matrix))
      const hit = this.hitAt(place.x, place.y)
      if (hit?.thing.type === 'edge' && hit.thing.part === part && hit.thing.index === index) return place
    }
    return null
  }

  // ---- looking -----------------------------------------------------------------------------------------------

  /** After the eye has moved: light, ground and outlines go with it. */
  looked(): void {
    const { direction, up, right } = this.eye
    this.light.position.copy(direction).addScaledVector(up, 0.7).addScaledVector(right, -0.45)
    this.ground.visible = this.eye.overGround
    this.outlineWidth.value = this.eye.millimetresPerPixel * 1.3
    this.invalidate()
  }

  private rests(at: { x: number; y: number } | null): void {
    this.hoverAt = at
    if (at) this.invalidate()
    else this.onHover(null, 0, 0)
  }

  /** Brings the whole bed into view, or all of them, with what stands there. */
  fitBed(): void {
    const [w, d] = this.bed
    this.eye.fit([...this.corners(), ...[-w / 2, this.bedAt(this.beds - 1) + w / 2].flatMap((x) => [-d / 2, d / 2].map((y) => new Vector3(x, y, 0)))])
  }

  /** Where the middle of a bed lies: the first in the middle of all, further ones to its right. */
  bedAt(plate: number): number {
    return plate * (this.bed[0] + BETWEEN_BEDS)
  }

  /** Where faces and edges lie, to bring them into view; nothing when there are none. */
  pointsOf(things: Thing[]): Vector3[] | undefined {
    const out: Vector3[] = []
    for (const thing of things) {
      const part = 'part' in thing ? this.parts.get(thing.part) : undefined
      if (!part || !('part' in thing)) continue
      if (thing.type === 'edge') {
        const [first, count] = part.blob.header.edgeRuns[thing.index]
        for (let k = first; k < first + count; k++) out.push(new Vector3().fromArray(part.blob.lines, 3 * k).applyMatrix4(part.group.matrix))
      } else {
        const [first, count] = part.blob.header.faceRuns[thing.index]
        for (const corner of part.blob.triangles.subarray(3 * first, 3 * (first + count))) out.push(new Vector3().fromArray(part.blob.positions, 3 * corner).applyMatrix4(part.group.matrix))
      }
    }
    return out.length ? out : undefined
  }

  corners(): Vector3[] {
    const out: Vector3[] = []
    for (const part of this.parts.values()) {
      if (!part.group.visible) continue
      part.mesh.geometry.computeBoundingBox()
      const box = part.mesh.geometry.boundingBox!
      for (const x of [box.min.x, box.max.x]) for (const y of [box.min.y, box.max.y]) for (const z of [box.min.z, box.max.z]) out.push(new Vector3(x, y, z).applyMatrix4(part.group.matrix))
    }
    return out
  }

  setBed(bed: [number, number]): void {
    this.bed = bed
    this.drawGround()
    this.invalidate()
  }

  private drawGround(): void {
    this.ground.clear()
    const [w, d] = this.bed
    const lines = (step: number, skip: number): Float32Array => {
      const out: number[] = []
      const edge = 300
      const right = edge + 50 * Math.ceil(this.bedAt(this.beds - 1) / 50)
      for (let k = -edge; k <= right; k += step) {
        if (skip && k % skip === 0) continue
        if (k <= edge) out.push(-edge, k, 0, right, k, 0)
        out.push(k, -edge, 0, k, edge, 0)
      }
      return new Float32Array(out)
    }
    const around = (x: number) => [
      x - w / 2, -d / 2, 0, x + w / 2, -d / 2, 0, x + w / 2, -d / 2, 0, x + w / 2, d / 2, 0, x + w / 2, d / 2, 0, x - w / 2, d / 2, 0, x - w / 2, d / 2, 0, x - w / 2, -d / 2, 0,
    ]
    const bed = new Float32Array(Array.from({ length: this.beds }, (_, k) => around(this.bedAt(k))).flat())
    const faint = line(lines(10, 50), colour('grid'), 0)
    const strong = line(lines(50, 0), colour('grid-strong'), 0)
    const outline = line(bed, colour('ink2'), 1.6)
    this.ground.add(faint, strong, outline)
  }

  private recolour = (): void => {
    this.drawGround()
    this.clip()
    for (const part of this.parts.values()) {
      part.outline.material.color.set(colour('edge'))
      for (const line of part.lines) (line.material as LineBasicMaterial).color.set(colour('edge'))
    }
    this.renderer.setClearColor(new Color(colour('paper')), 1)
    this.invalidate()
  }

  start(): void {
    this.renderer.setClearColor(new Color(colour('paper')), 1)
    this.resize()
  }

}

/** What may be pointed at, with the part's name put into its labels. */
function named(things: Things | null, name: string, unit: string, smooth: boolean[]): Things | null {
  if (!things) return null
  const say = (label: string) => (unit === 'in' ? inInches(label) : label).replace('{part}', name)
  return {
    faces: things.faces.map((f) => ({ ...f, label: say(f.label) })),
    edges: things.edges.map((e, i) => ({ ...e, label: say(e.label), smooth: smooth[i] })),
  }
}

/** How far a place of the screen is from a stretch of it, in pixels, and where along it. */
