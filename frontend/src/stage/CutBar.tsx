/** Looking inside: a cut that is dragged on the stage, typed, turned, or laid through a joint. */
import { useEffect, useMemo, useRef } from 'react'
import { Vector3 } from 'three'
import { type Cut, shownJoints, shownReport, useStore } from '../state/store'
import { plain } from '../widgets/figures'
import type { Viewer } from './viewer'

const AXES: [Cut['axis'], string, [number, number, number], [number, number, number]][] = [
  // name, what it says, its normal, and the axis about which it is turned
  ['deep', 'front to back', [0, 1, 0], [0, 0, 1]],
  ['across', 'left to right', [-1, 0, 0], [0, 0, 1]],
  ['level', 'level', [0, 0, -1], [1, 0, 0]],
]

/** The normal of a cut: it points to what stays. */
export function normalOf(cut: Cut): Vector3 {
  const [, , normal, about] = AXES.find(([axis]) => axis === cut.axis)!
  const out = new Vector3(...normal).applyAxisAngle(new Vector3(...about), (cut.turn * Math.PI) / 180)
  return cut.flip ? out.negate() : out
}

const change = (more: Partial<Cut>) => useStore.setState((s) => ({ cut: s.cut && { ...s.cut, ...more } }))

export function startCut(): void {
  useStore.setState((s) => ({ apart: null, cut: s.cut ? null : { axis: 'deep', at: 0, turn: 0, flip: false } }))
}

/** Along its axis, not along its normal, so that turning or flipping leaves the figure as it is. */
const along = (cut: Cut): Vector3 => {
  const normal = normalOf({ ...cut, flip: false })
  return cut.axis === 'deep' ? normal : normal.negate()
}

export function CutBar({ viewer, frameCount }: { viewer: Viewer; frameCount: number }) {
  const cut = useStore((s) => s.cut)
  const report = useStore(shownReport)
  const joints = useStore(shownJoints)
  const [low, high] = useMemo(() => {
    if (!cut || !report?.parts.length) return [-100, 100]
    const direction = along(cut)
    const all = report.parts.flatMap(({ bounding_box_mm: b }) =>
      [b.low[0], b.high[0]].flatMap((x) => [b.low[1], b.high[1]].flatMap((y) => [b.low[2], b.high[2]].map((z) => new Vector3(x, y, z).dot(direction)))),
    )
    return [Math.floor(Math.min(...all)) - 1, Math.ceil(Math.max(...all)) + 1]
  }, [cut, report])
  useEffect(() => {
    if (!cut) viewer.setSection(null)
    else {
      const normal = normalOf(cut)
      viewer.setSection(normal, along(cut).dot(normal) * cut.at)
    }
  }, [viewer, cut])
  useEffect(() => () => viewer.setSection(null), [viewer])
  if (!cut) return null
  /** Lays the cut so that it holds the shortest way across a gap, and looks at it from near. */
  const through = ([p, q]: number[][]) => {
    const [a, b] = [new Vector3().fromArray(p), new Vector3().fromArray(q)]
    const across = b.clone().sub(a).normalize()
    const flat = Math.hypot(across.x, across.y) > 0.1
    const normal = flat ? new Vector3(-across.y, across.x, 0).normalize() : new Vector3(0, 1, 0)
    const turn = Number(((Math.atan2(-normal.x, normal.y) * 180) / Math.PI).toFixed(2))
    const next: Cut = { axis: 'deep', at: 0, turn, flip: false }
    next.at = Number(along(next).dot(a).toFixed(3))
    useStore.setState({ cut: next })
    viewer.eye.lookInto(a.lerp(b, 0.5), normalOf(next), 16)
  }
  return (
    <>
      <div role="group" aria-label="cut" className="absolute right-3 bottom-12 z-10 flex max-w-[calc(100%-2rem)] flex-wrap items-center gap-x-3 gap-y-1 border border-ink bg-card px-3 py-1.5 text-[13.5px]">
        <span className="font-semibold">cut</span>
        <div role="group" aria-label="direction of the cut" className="flex">
          {AXES.map(([axis, word]) => (
            <button key={axis} aria-pressed={cut.axis === axis} onClick={() => change({ axis, at: 0, turn: 0 })} className={`-ml-px border border-ink px-2 first:ml-0 ${cut.axis === axis ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}>
              {word}
            </button>
          ))}
        </div>
        <label className="flex items-center gap-1.5">
          at
          <input type="range" aria-label="place of the cut" className="slide w-32" min={low} max={high} step={0.1} value={cut.at} onChange={(e) => change({ at: Number(e.target.value) })} />
          <Figure label="place of the cut, mm" value={cut.at} take={(at) => change({ at })} /> mm
        </label>
        <label className="flex items-center gap-1.5">
          turned <Figure label="turn of the cut, degrees" value={cut.turn} take={(turn) => change({ turn: Math.max(-180, Math.min(180, turn)) })} />°
        </label>
        <button className="underline underline-offset-2" onClick={() => change({ flip: !cut.flip })}>
          other side
        </button>
        {joints.filter((j) => j.measured_mm).slice(0, 1).map((j) => (
          <button key={j.step} className="underline underline-offset-2" title={`through the least gap of ${j.name}`} onClick={() => through(j.measured_mm!.least_at)}>
            through the joint
          </button>
        ))}
        <button aria-label="close the cut" onClick={() => useStore.setState({ cut: null })}>
          ✕
        </button>
      </div>
      <Handle viewer={viewer} cut={cut} frameCount={frameCount} low={low} high={high} />
    </>
  )
}

function Figure({ label, value, take }: { label: string; value: number; take: (value: number) => void }) {
  return (
    <input
      key={value}
      aria-label={label}
      className="field fig w-16! py-0! px-1!"
      defaultValue={plain(value, 2)}
      onBlur={(e) => Number.isFinite(Number(e.target.value)) && take(Number(e.target.value))}
      onKeyDown={(e) => {
        const now = Number(e.currentTarget.value)
        if (e.key === 'Enter' && Number.isFinite(now)) take(now)
        if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
          e.preventDefault()
          take(value + (e.shiftKey ? 1 : 0.1) * (e.key === 'ArrowUp' ? 1 : -1))
        }
      }}
    />
  )
}

/** A lozenge on the plane, to drag it along its normal. */
function Handle({ viewer, cut, frameCount, low, high }: { viewer: Viewer; cut: Cut; frameCount: number; low: number; high: number }) {
  void frameCount
  const grip = useRef<{ x: number; y: number; at: number } | null>(null)
  const direction = along(cut)
  const middle = viewer.eye.middle().addScaledVector(direction, -viewer.eye.middle().dot(direction))
  const place = middle.clone().addScaledVector(direction, cut.at)
  const here = viewer.eye.toScreen(place)
  const next = viewer.eye.toScreen(place.clone().add(direction))
  const way = [next.x - here.x, next.y - here.y]
  const long = way[0] ** 2 + way[1] ** 2
  // looking straight along it there is no way to drag on the screen
  if (long < 0.02) return null
  const angle = (Math.atan2(way[1], way[0]) * 180) / Math.PI
  return (
    <button
      role="slider"
      aria-label="drag the cut"
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={cut.at}
      data-cut-handle
      className="absolute z-10 h-8 w-8 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none"
      style={{ left: Math.round(here.x), top: Math.round(here.y) }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        grip.current = { x: e.clientX, y: e.clientY, at: cut.at }
      }}
      onPointerMove={(e) => {
        if (!grip.current) return
        const moved = ((e.clientX - grip.current.x) * way[0] + (e.clientY - grip.current.y) * way[1]) / long
        change({ at: Number(Math.max(low, Math.min(high, grip.current.at + moved)).toFixed(1)) })
      }}
      onPointerUp={() => (grip.current = null)}
      onKeyDown={(e) => {
        const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key]
        if (!by) return
        e.preventDefault()
        e.stopPropagation()
        change({ at: Number(Math.max(low, Math.min(high, cut.at + by * (e.shiftKey ? 5 : 0.5))).toFixed(2)) })
      }}
    >
      <svg viewBox="-16 -16 32 32" aria-hidden style={{ transform: `rotate(${angle}deg)` }}>
        <path d="M-14 0H14M9 -4L14 0L9 4M-9 -4L-14 0L-9 4" stroke="var(--ink)" strokeWidth="1.4" fill="none" />
        <path d="M-6 0L0 -6L6 0L0 6Z" fill="var(--card)" stroke="var(--accent)" strokeWidth="1.8" />
      </svg>
    </button>
  )
}
