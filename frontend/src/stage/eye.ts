/** Where the stage is looked at from: turning, panning, zooming, fitting things into view, and square on to a board. */
import { Matrix4, OrthographicCamera, Vector3 } from 'three'
import type { FrameOut } from '../api/client'

export type ViewName = 'top' | 'front' | 'left' | 'back' | 'right' | 'below' | 'corner'

const VIEWS: Record<ViewName, [number, number]> = {
  top: [-90, 90], front: [-90, 0], left: [180, 0], back: [90, 0], right: [0, 0], below: [-90, -90], corner: [-58, 30],
}
const radians = (degrees: number) => (degrees * Math.PI) / 180

/** A view as it is kept: the place in its middle, the turn about the vertical, the height over the ground, and how much there is from top to bottom. */
export interface Seen { middle_mm: [number, number, number]; turn_deg: number; over_deg: number; tall_mm: number }

/** What the eye has to know of what it looks at, and tell it. */
interface World {
  readonly size: { width: number; height: number }
  /** Corners of all that is shown. */
  corners(): Vector3[]
  /** The camera stands elsewhere. */
  looked(): void
  onView: (view: ViewName | 'square' | null) => void
}

export class Eye {
  readonly camera = new OrthographicCamera()
  readonly direction = new Vector3()
  readonly up = new Vector3(0, 0, 1)
  /** While the board is open the view stays square on and only pans and zooms. */
  locked = false
  readonly target = new Vector3(0, 0, 0)
  private yaw = VIEWS.corner[0]
  private pitch = VIEWS.corner[1]
  span = 160
  private lastView: { target: Vector3; yaw: number; pitch: number; span: number } | null = null

  constructor(private world: World) {}

  private get size(): { width: number; height: number } {
    return this.world.size
  }

  /** To the right on the screen. */
  get right(): Vector3 {
    return new Vector3().crossVectors(this.up, this.direction)
  }

  /** Whether the ground is seen from above. */
  get overGround(): boolean {
    return !this.locked && this.pitch > -4
  }

  toScreen(p: Vector3): { x: number; y: number } {
    const { width, height } = this.size
    const v = p.clone().project(this.camera)
    return { x: ((v.x + 1) / 2) * width, y: ((1 - v.y) / 2) * height }
  }

  look(): void {
    const { width, height } = this.size
    const aspect = width / height
    const half = this.span / 2
    this.camera.left = -half * aspect
    this.camera.right = half * aspect
    this.camera.top = half
    this.camera.bottom = -half
    this.camera.near = 1
    this.camera.far = 6000
    if (!this.locked) {
      const [yaw, pitch] = [radians(this.yaw), radians(this.pitch)]
      this.direction.set(Math.cos(yaw) * Math.cos(pitch), Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch))
      // near the poles “up” follows the turn, so that top views do not flip
      this.up.set(-Math.cos(yaw) * Math.sin(pitch), -Math.sin(yaw) * Math.sin(pitch), Math.cos(pitch))
    }
    this.camera.position.copy(this.target).addScaledVector(this.direction, 3000)
    this.camera.up.copy(this.up)
    this.camera.lookAt(this.target)
    this.camera.updateProjectionMatrix()
    this.camera.updateMatrixWorld()
    this.world.looked()
  }

  get millimetresPerPixel(): number {
    return this.span / this.size.height
  }

  setView(name: ViewName): void {
    this.remember()
    const before = this.lastView
    ;[this.yaw, this.pitch] = VIEWS[name]
    this.look()
    this.fit()
    this.lastView = before
    this.world.onView(name)
  }

  /** Looks square at a flat face, given its outward normal and a place on it. */
  squareOn(normal: Vector3, points: Vector3[]): void {
    if (this.locked) return
    this.remember()
    const before = this.lastView
    this.pitch = (Math.asin(Math.max(-1, Math.min(1, normal.z))) * 180) / Math.PI
    // straight from above or below the turn stays as it is
    if (Math.hypot(normal.x, normal.y) > 1e-6) this.yaw = (Math.atan2(normal.y, normal.x) * 180) / Math.PI
    else this.yaw = -90
    this.look()
    this.fit(points)
    this.lastView = before
    this.world.onView(null)
  }

  private remember(): void {
    this.lastView = {
      target: this.target.clone(), yaw: this.yaw, pitch: this.pitch, span: this.span,
    }
  }

  back(): void {
    const last = this.lastView
    if (!last || this.locked) return
    this.remember()
    this.target.copy(last.target)
    ;[this.yaw, this.pitch, this.span] = [last.yaw, last.pitch, last.span]
    this.look()
    this.world.onView(null)
  }

  /** How things are seen now, as it is kept under a name. */
  seen(): Seen {
    const rounded = (n: number) => Math.round(n * 1e3) / 1e3
    return { middle_mm: [rounded(this.target.x), rounded(this.target.y), rounded(this.target.z)], turn_deg: rounded(this.yaw), over_deg: rounded(this.pitch), tall_mm: rounded(this.span) }
  }

  /** Looks again as it was kept. */
  see(kept: Seen): void {
    if (this.locked) return
    this.remember()
    this.target.set(...kept.middle_mm)
    ;[this.yaw, this.pitch, this.span] = [kept.turn_deg, kept.over_deg, kept.tall_mm]
    this.look()
    this.world.onView(null)
  }

  orbit(dx: number, dy: number): void {
    if (this.locked) return this.pan(dx, dy)
    this.yaw -= dx * 0.4
    this.pitch = Math.max(-90, Math.min(90, this.pitch + dy * 0.4))
    this.look()
    this.world.onView(null)
  }

  pan(dx: number, dy: number): void {
    const right = this.right
    const k = this.millimetresPerPixel
    this.target.addScaledVector(right, -dx * k).addScaledVector(this.up, dy * k)
    this.look()
  }

  zoom(factor: number, x = this.size.width / 2, y = this.size.height / 2): void {
    const { width, height } = this.size
    const before = this.millimetresPerPixel
    this.span = Math.max(2, Math.min(3000, this.span * factor))
    const change = before - this.millimetresPerPixel
    const right = this.right
    this.target.addScaledVector(right, (x - width / 2) * change).addScaledVector(this.up, -(y - height / 2) * change)
    this.look()
  }

  /** The middle of what is shown. */
  middle(): Vector3 {
    const all = this.world.corners()
    if (!all.length) return new Vector3()
    const low = all.reduce((m, p) => m.min(p), all[0].clone())
    return all.reduce((m, p) => m.max(p), all[0].clone()).add(low).multiplyScalar(0.5)
  }

  /** Looks at a cut from the side that was taken away, with so many millimetres from top to bottom. */
  lookInto(place: Vector3, normal: Vector3, span: number): void {
    this.remember()
    const towards = normal.clone().negate()
    this.yaw = (Math.atan2(towards.y, towards.x) * 180) / Math.PI
    this.pitch = (Math.asin(Math.max(-1, Math.min(1, towards.z))) * 180) / Math.PI
    this.target.copy(place)
    this.span = span
    this.look()
    this.world.onView(null)
  }

  /** Brings a place into the middle, as near as it is now. */
  centre(place: Vector3): void {
    this.remember()
    this.target.copy(place)
    this.look()
  }

  /** Brings all that is shown (or some points) into view, leaving room for the notes at the edges. */
  fit(points?: Vector3[]): void {
    const all = points ?? this.world.corners()
    this.remember()
    if (all.length === 0) {
      this.target.set(0, 0, 0)
      this.span = 160
      return this.look()
    }
    const right = this.right
    const xs = all.map((p) => p.dot(right))
    const ys = all.map((p) => p.dot(this.up))
    const zs = all.map((p) => p.dot(this.direction))
    const middle = (v: number[]) => (Math.max(...v) + Math.min(...v)) / 2
    this.target.set(0, 0, 0).addScaledVector(right, middle(xs)).addScaledVector(this.up, middle(ys)).addScaledVector(this.direction, middle(zs))
    const { width, height } = this.size
    const w = Math.max(...xs) - Math.min(...xs)
    const h = Math.max(...ys) - Math.min(...ys)
    this.span = Math.max(4, h / ((height - 190) / height), (w * height) / width / ((width - 300) / width))
    this.look()
  }

  /** The middle and the span that bring a stretch of a board into view, beside the tool tray. */
  private boardView(low: [number, number], high: [number, number], least: number): { middle: [number, number]; span: number } {
    const { width, height } = this.size
    const [free, side] = [width - 320, 226]
    const w = Math.max(least, high[0] - low[0])
    const h = Math.max(least, high[1] - low[1])
    const span = Math.max((h * height) / (height - 290), (w / free) * height * 1.12)
    const shift = ((side / 2) * span) / height
    return { middle: [(low[0] + high[0]) / 2 - shift, (low[1] + high[1]) / 2], span }
  }

  /** Turns square to a frame, showing a stretch of it, ``least`` mm at the least, and stays so until ``release``. */
  square(frame: FrameOut, low: [number, number], high: [number, number], least = 40): void {
    if (!this.locked) this.remember()
    this.locked = true
    const { middle, span } = this.boardView(low, high, least)
    this.direction.set(...frame.z)
    this.up.set(...frame.y)
    this.target.set(...frame.origin).addScaledVector(new Vector3(...frame.x), middle[0]).addScaledVector(new Vector3(...frame.y), middle[1])
    this.span = span
    this.look()
    this.world.onView('square')
  }

  /** Whether a stretch of the board is in sight, clear of the tray, and not tiny. */
  boardHolds(frame: FrameOut, low: [number, number], high: [number, number]): boolean {
    const matrix = frameMatrix(frame)
    const { width, height } = this.size
    const seen = [low, high].every(([u, v]) => {
      const p = this.toScreen(new Vector3(u, v, 0).applyMatrix4(matrix))
      return p.x > 215 && p.x < width - 60 && p.y > 60 && p.y < height - 60
    })
    return seen && this.span < 4 * this.boardView(low, high, 40).span
  }

  release(): void {
    if (!this.locked) return
    this.locked = false
    const last = this.lastView
    if (last) {
      this.target.copy(last.target)
      ;[this.yaw, this.pitch, this.span] = [last.yaw, last.pitch, last.span]
    }
    this.look()
    this.world.onView(null)
  }
}

export function frameMatrix(frame: FrameOut): Matrix4 {
  const matrix = new Matrix4().makeBasis(new Vector3(...frame.x), new Vector3(...frame.y), new Vector3(...frame.z))
  return matrix.setPosition(new Vector3(...frame.origin))
}
