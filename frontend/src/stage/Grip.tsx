/** A grip on the model for the main figure of the step in hand: pull it, or click to type over it. */
import { useRef, useState } from 'react'
import { Vector3 } from 'three'
import { stepFields, stepKind } from '../state/chips'
import { specAt, valueAt } from '../state/fields'
import { useStore } from '../state/store'
import { answer, openChip, tryAnswer } from '../state/writing'
import { length } from '../widgets/figures'
import { byPulling, roundTo } from './grips'
import type { Viewer } from './viewer'

interface Pull { x: number; y: number; dx: number; dy: number; perPixel: number; text: string; figure: number; moved: boolean; now: string }

export function Grip({ viewer }: { viewer: Viewer; frameCount: number }) {
  const draft = useStore((s) => !!s.draft)
  const focused = useStore((s) => s.focusStep)
  const step = draft ? 'draft' : focused
  const report = useStore((s) => s.preview?.report ?? s.report)
  const recipe = useStore((s) => s.project!.document.recipe!)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const pull = useRef<Pull | null>(null)
  const [pulled, setPulled] = useState<string | null>(null)
  if (!step || !report) return null
  // a step that is being written has an id that only the trial knows
  const id = draft ? report.steps.find((r) => !recipe.some((p) => p.id === r.id))?.id : step
  const grip = id ? report.grips[id] : undefined
  const figure = id ? report.steps.find((r) => r.id === id)?.figures[grip?.field ?? ''] : undefined
  const kind = stepKind(step)
  const fields = stepFields(step)
  if (!grip || figure === undefined || !kind || !fields) return null
  const at = new Vector3().fromArray(grip.at)
  const p = viewer.eye.toScreen(at)
  const q = viewer.eye.toScreen(at.clone().add(new Vector3().fromArray(grip.way)))
  const long = Math.hypot(q.x - p.x, q.y - p.y)
  // seen along its way there is nothing to pull
  if (long < 0.02 || viewer.section.hides(at, 0.05)) return null
  const [dx, dy] = [(q.x - p.x) / long, (q.y - p.y) / long]
  const label = specAt(kind, grip.field)?.label ?? grip.field
  const text = String(valueAt(fields, grip.field) ?? '')
  const stretch = 34
  const set = (mm: number, from: { text: string; figure: number }) => byPulling(from.text, from.figure, mm, unit)
  const down = (e: React.PointerEvent) => {
    e.preventDefault()
    e.stopPropagation()
    e.currentTarget.setPointerCapture(e.pointerId)
    pull.current = { x: e.clientX, y: e.clientY, dx, dy, perPixel: grip.per / long, text, figure, moved: false, now: text }
  }
  const move = (e: React.PointerEvent) => {
    const held = pull.current
    if (!held) return
    const along = (e.clientX - held.x) * held.dx + (e.clientY - held.y) * held.dy
    if (!held.moved && Math.abs(along) < 3) return
    held.moved = true
    const next = set(roundTo(held.figure + along * held.perPixel, held.perPixel, unit), held)
    if (next === held.now) return
    held.now = next
    setPulled(next)
    tryAnswer(step, grip.field, next)
  }
  const up = () => {
    const held = pull.current
    pull.current = null
    setPulled(null)
    if (!held) return
    if (held.moved) void answer(step, grip.field, held.now)
    else openChip(step, grip.field)
  }
  const nudge = (e: React.KeyboardEvent) => {
    const way = ({ ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 } as Record<string, number>)[e.key]
    if (way === undefined) return
    e.preventDefault()
    e.stopPropagation()
    const by = (unit === 'in' ? 25.4 / 16 : 1) * (e.shiftKey ? 0.1 : 1)
    void answer(step, grip.field, set(figure + way * by, { text, figure }))
  }
  return (
    <>
      <svg className="pointer-events-none absolute inset-0 text-accent" width={viewer.size.width} height={viewer.size.height} aria-hidden>
        <path d={`M${p.x} ${p.y}L${p.x + dx * stretch} ${p.y + dy * stretch}`} stroke="currentColor" strokeWidth="1.5" />
        <circle cx={p.x} cy={p.y} r="2.5" fill="currentColor" />
      </svg>
      <button
        type="button"
        data-pull={grip.field}
        className="absolute -m-3 cursor-grab touch-none p-1.5 text-accent active:cursor-grabbing"
        style={{ left: p.x + dx * (stretch + 4), top: p.y + dy * (stretch + 4) }}
        aria-label={`${label}: ${length(figure, unit)}; pull, or use the arrow keys`}
        title={`${label}: pull, or click to type`}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => ((pull.current = null), setPulled(null))}
        onKeyDown={nudge}
        onClick={(e) => e.detail === 0 && openChip(step, grip.field)}
      >
        <svg width="12" height="12" viewBox="-6 -6 12 12" aria-hidden>
          <path d="M-5.2 0L0 -5.2L5.2 0L0 5.2Z" fill="currentColor" />
        </svg>
      </button>
      {pulled && (
        <div className="fig pointer-events-none absolute border border-ink bg-card px-1.5 text-[12.5px]" style={{ left: p.x + dx * stretch + 16, top: p.y + dy * stretch - 10 }}>
          {label} {pulled}
        </div>
      )}
    </>
  )
}
