/** Cuts through the model: parts are clipped at one plane or two, and what is cut is filled and hatched, each part its own way. */
import {
  AlwaysStencilFunc, BackSide, BufferAttribute, BufferGeometry, Color, DecrementWrapStencilOp, DoubleSide, FrontSide, Group,
  IncrementWrapStencilOp, LineBasicMaterial, LineSegments, Material, Mesh, MeshBasicMaterial, NotEqualStencilFunc, Plane,
  PlaneGeometry, ReplaceStencilOp, Vector3, type WebGLRenderer,
} from 'three'
import { colour } from '../theme/theme'

export interface CutPart { id: string; geometry: BufferGeometry; colour: string }

const EDGE_MM = 4000

export class Section {
  /** Of each, what lies on the side that its normal points to stays; where a corner is taken out, what lies there for either of the two. */
  readonly cuts: Plane[] = []
  corner = false
  readonly group = new Group()
  private caps: { mesh: Mesh; plane: Plane }[] = []
  private contours: { lines: LineSegments; of: BufferGeometry; plane: Plane }[] = []

  constructor(private renderer: WebGLRenderer) {
    renderer.localClippingEnabled = true
  }

  get on(): boolean {
    return this.cuts.length > 0
  }

  /** Clips a material of the model as it is cut now. */
  clip(material: Material): void {
    material.clippingPlanes = this.on ? this.cuts : null
    material.clipIntersection = this.corner
  }

  /** Whether a point is cut away. */
  hides(point: Vector3, by = 1e-6): boolean {
    const away = this.cuts.filter((plane) => plane.distanceToPoint(point) < -by).length
    return this.on && away >= (this.corner ? this.cuts.length : 1)
  }

  /** Whether a place on one of the cuts is seen as far as the other one goes: a corner's walls end where they meet. */
  shows(plane: Plane, point: Vector3): boolean {
    return this.cuts.every((other) => other === plane || other.distanceToPoint(point) < 0 === this.corner)
  }

  /** What bounds the filling of a cut: the other one, or where a corner is taken out its other side. Told anew whenever they move. */
  private bounding(plane: Plane): Plane[] {
    return this.cuts.filter((other) => other !== plane).map((other) => (this.corner ? other.clone().negate() : other))
  }

  /** Makes caps and contours anew for the parts that are shown. */
  rebuild(parts: CutPart[]): void {
    this.group.traverse((o) => {
      const made = o as Mesh
      if (made.userData.own) made.geometry.dispose()
      if (made.material) (made.material as Material).dispose()
    })
    this.group.clear()
    this.caps = []
    this.contours = []
    if (!this.on) return
    this.cuts.forEach((plane, c) =>
      parts.forEach((part, i) => {
        const order = -100 + c * parts.length + i
        this.group.add(this.counter(part.geometry, plane, BackSide, IncrementWrapStencilOp, order))
        this.group.add(this.counter(part.geometry, plane, FrontSide, DecrementWrapStencilOp, order))
        const mesh = this.cap(part, i, order + 0.5)
        this.caps.push({ mesh, plane })
        const lines = new LineSegments(new BufferGeometry(), new LineBasicMaterial({ color: new Color(colour('edge')) }))
        lines.userData.own = true
        lines.raycast = () => {}
        this.contours.push({ lines, of: part.geometry, plane })
        this.group.add(mesh, lines)
      }),
    )
    this.move()
  }

  /** Lays caps and contours into the planes as they are now. Materials stay, so that a drag compiles no shader. */
  move(): void {
    for (const { mesh, plane } of this.caps) {
      plane.coplanarPoint(mesh.position)
      mesh.lookAt(mesh.position.clone().sub(plane.normal))
      ;(mesh.material as Material).clippingPlanes = this.bounding(plane)
    }
    for (const { lines, of, plane } of this.contours) {
      lines.geometry.dispose()
      lines.geometry = contour(of, plane)
      ;(lines.material as Material).clippingPlanes = this.bounding(plane)
    }
  }

  /** Counts faces in front of the plane: where more backs than fronts were seen, the plane lies in material. */
  private counter(geometry: BufferGeometry, plane: Plane, side: typeof BackSide | typeof FrontSide, op: typeof IncrementWrapStencilOp | typeof DecrementWrapStencilOp, order: number): Mesh {
    const material = new MeshBasicMaterial({
      side, depthWrite: false, depthTest: false, colorWrite: false, stencilWrite: true, stencilFunc: AlwaysStencilFunc,
      stencilFail: op, stencilZFail: op, stencilZPass: op, clippingPlanes: [plane],
    })
    const mesh = new Mesh(geometry, material)
    mesh.renderOrder = order
    mesh.raycast = () => {}
    return mesh
  }

  private cap(part: CutPart, index: number, order: number): Mesh {
    const material = new MeshBasicMaterial({
      color: new Color(part.colour), side: DoubleSide, stencilWrite: true, stencilRef: 0, stencilFunc: NotEqualStencilFunc,
      stencilFail: ReplaceStencilOp, stencilZFail: ReplaceStencilOp, stencilZPass: ReplaceStencilOp,
    })
    const ink = new Color(colour('ink'))
    const lean = index % 2 ? '-' : '+'
    const step = (9 + 3 * Math.floor(index / 2)).toFixed(1)
    material.onBeforeCompile = (shader) => {
      shader.uniforms.ink = { value: ink }
      shader.fragmentShader = `uniform vec3 ink;\n${shader.fragmentShader}`.replace(
        '#include <opaque_fragment>',
        `#include <opaque_fragment>
        if (fract((gl_FragCoord.x ${lean} gl_FragCoord.y) / ${step}) < 0.14) gl_FragColor.rgb = mix(gl_FragColor.rgb, ink, 0.45);`,
      )
    }
    // the hatch is written into the shader, so each kind is a program of its own
    material.customProgramCacheKey = () => `cap ${lean} ${step}`
    const mesh = new Mesh(new PlaneGeometry(EDGE_MM, EDGE_MM), material)
    mesh.userData.own = true
    mesh.renderOrder = order
    mesh.raycast = () => {}
    mesh.onAfterRender = () => this.renderer.clearStencil()
    return mesh
  }
}

/** The lines in which a mesh meets a plane. */
function contour(geometry: BufferGeometry, plane: Plane): BufferGeometry {
  const positions = geometry.getAttribute('position')
  const index = geometry.getIndex()!
  const points: number[] = []
  const corner = [new Vector3(), new Vector3(), new Vector3()]
  const at = new Vector3()
  for (let t = 0; t < index.count; t += 3) {
    const d = corner.map((c, k) => plane.distanceToPoint(c.fromBufferAttribute(positions, index.getX(t + k))))
    if ((d[0] > 0 && d[1] > 0 && d[2] > 0) || (d[0] <= 0 && d[1] <= 0 && d[2] <= 0)) continue
    for (let k = 0; k < 3; k++) {
      const [p, q] = [d[k], d[(k + 1) % 3]]
      if (p > 0 === q > 0) continue
      at.copy(corner[k]).lerp(corner[(k + 1) % 3], p / (p - q)).addScaledVector(plane.normal, -0.01)
      points.push(at.x, at.y, at.z)
    }
  }
  const made = new BufferGeometry()
  made.setAttribute('position', new BufferAttribute(new Float32Array(points), 3))
  return made
}
