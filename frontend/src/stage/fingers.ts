/** What pointers do on the stage: turn, pan and zoom with one, two or a wheel, point and click. */

import type { Box } from './boxed'

interface Pointed {
  orbit(dx: number, dy: number): void
  pan(dx: number, dy: number): void
  zoom(factor: number, x: number, y: number): void
  /** A pointer rests at a place of the stage, or (``null``) has left it. */
  rests(at: { x: number; y: number } | null): void
  clicks(at: { x: number; y: number }, event: PointerEvent): void
  /** A box is drawn with Ctrl held; ``done`` when the pointer is lifted, ``null`` when it comes to nothing. */
  boxes(box: Box | null, done: boolean): void
}

export class Fingers {
  private pointers = new Map<number, { x: number; y: number }>()
  private pressed: { x: number; y: number; moved: boolean; button: number; boxing: boolean } | null = null

  constructor(private canvas: HTMLCanvasElement, private stage: Pointed) {
    canvas.addEventListener('pointerdown', this.down)
    canvas.addEventListener('pointermove', this.move)
    canvas.addEventListener('pointerup', this.lift)
    canvas.addEventListener('pointercancel', this.lift)
    canvas.addEventListener('pointerleave', () => stage.rests(null))
    canvas.addEventListener('wheel', this.wheel, { passive: false })
    canvas.addEventListener('contextmenu', (e) => e.preventDefault())
  }

  private at(event: PointerEvent | WheelEvent): { x: number; y: number } {
    const box = this.canvas.getBoundingClientRect()
    return { x: event.clientX - box.left, y: event.clientY - box.top }
  }

  private down = (event: PointerEvent): void => {
    this.canvas.setPointerCapture(event.pointerId)
    const at = this.at(event)
    this.pointers.set(event.pointerId, at)
    this.pressed = { ...at, moved: false, button: event.button, boxing: event.button === 0 && (event.ctrlKey || event.metaKey) }
  }

  private move = (event: PointerEvent): void => {
    const at = this.at(event)
    const before = this.pointers.get(event.pointerId)
    if (!before) {
      this.stage.rests(at)
      return
    }
    const [dx, dy] = [at.x - before.x, at.y - before.y]
    if (this.pressed && Math.hypot(at.x - this.pressed.x, at.y - this.pressed.y) > 4) this.pressed.moved = true
    if (!this.pressed?.moved) return
    if (this.pressed.boxing) return this.stage.boxes(this.box(at, event), false)
    if (this.pointers.size === 2) {
      const other = [...this.pointers].find(([id]) => id !== event.pointerId)![1]
      const was = Math.hypot(before.x - other.x, before.y - other.y)
      const is = Math.hypot(at.x - other.x, at.y - other.y)
      if (was > 0 && is > 0) this.stage.zoom(was / is, (at.x + other.x) / 2, (at.y + other.y) / 2)
      this.stage.pan(dx / 2, dy / 2)
    } else if (this.pressed.button === 0 && !event.shiftKey) {
      this.stage.orbit(dx, dy)
    } else {
      this.stage.pan(dx, dy)
    }
    this.pointers.set(event.pointerId, at)
  }

  private box(to: { x: number; y: number }, event: PointerEvent): Box {
    return { from: this.pressed!, to, touching: event.altKey }
  }

  private lift = (event: PointerEvent): void => {
    const pressed = this.pressed
    this.pointers.delete(event.pointerId)
    this.pressed = null
    if (pressed?.boxing && pressed.moved) {
      this.stage.boxes(event.type === 'pointerup' ? { from: pressed, to: this.at(event), touching: event.altKey } : null, true)
    } else if (pressed && !pressed.moved && event.type === 'pointerup' && pressed.button === 0) {
      this.stage.clicks(this.at(event), event)
    }
  }

  private wheel = (event: WheelEvent): void => {
    event.preventDefault()
    const at = this.at(event)
    this.stage.zoom(Math.exp(Math.max(-0.5, Math.min(0.5, event.deltaY * 0.0014))), at.x, at.y)
  }
}
