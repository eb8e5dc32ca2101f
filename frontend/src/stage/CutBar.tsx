/** Looking inside: a cut, or two, that is dragged on the stage, typed, turned, or laid through a joint. */
import { type ReactNode, useEffect, useMemo, useRef } from 'react'
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

type Which = 'cut' | 'cut2'
const change = (which: Which, more: Partial<Cut>) => useStore.setState((s) => (s[which] ? { [which]: { ...s[which], ...more } } : {}))

export function startCut(): void {
  useStore.setState((s) => ({ apart: null, cut2: null, cut: s.cut ? null : { axis: 'deep', at: 0, turn: 0, flip: false } }))
}

/** A second one, across the first. */
const startSecond = (first: Cut) => useStore.setState({ cut2: { axis: first.axis === 'across' ? 'deep' : 'across', at: 0, turn: 0, flip: false }, corner: true })

/** Along its axis, not along its normal, so that turning or flipping leaves the figure as it is. */
const along = (cut: Cut): Vector3 => {
  const normal = normalOf({ ...cut, flip: false })
  return cut.axis === 'deep' ? normal : normal.negate()
}

/** How far a cut can go along its axis: a little beyond the model. */
function useReach(cut: Cut | null): [number, number] {
  const report = useStore(shownReport)
  return useMemo(() => {
    if (!cut || !report?.parts.length) return [-100, 100]
    const direction = along(cut)
    const all = report.parts.flatMap(({ bounding_box_mm: b }) =>
      [b.low[0], b.high[0]].flatMap((x) => [b.low[1], b.high[1]].flatMap((y) => [b.low[2], b.high[2]].map((z) => new Vector3(x, y, z).dot(direction)))),
    )
    return [Math.floor(Math.min(...all)) - 1, Math.ceil(Math.max(...all)) + 1]
  }, [cut, report])
}

export function CutBar({ viewer, frameCount }: { viewer: Viewer; frameCount: number }) {
  const cut = useStore((s) => s.cut)
  const second = useStore((s) => s.cut2)
  const corner = useStore((s) => s.corner)
  const joints = useStore(shownJoints)
  useEffect(() => {
    const cuts = [cut, second].flatMap((c) => (c ? [{ normal: normalOf(c), at: along(c).dot(normalOf(c)) * c.at }] : []))
    viewer.setSection(cuts, corner)
  }, [viewer, cut, second, corner])
  useEffect(() => () => viewer.setSection([]), [viewer])
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
    useStore.setState({ cut: next, cut2: null })
    viewer.eye.lookInto(a.lerp(b, 0.5), normalOf(next), 16)
  }
  return (
    <>
      <div role="group" aria-label="cut" className="absolute right-3 bottom-12 z-10 flex max-w-[calc(100%-2rem)] flex-col gap-1 border border-ink bg-card px-3 py-1.5 text-[13.5px]">
        <Row which="cut" cut={cut}>
          {!second && (
            <button className="underline underline-offset-2" title="a second plane across this one" onClick={() => startSecond(cut)}>
              a second
            </button>
          )}
          {joints.filter((j) => j.measured_mm).slice(0, 1).map((j) => (
            <button key={j.step} className="underline underline-offset-2" title={`through the least gap of ${j.name}`} onClick={() => through(j.measured_mm!.least_at)}>
              through the joint
            </button>
          ))}
          <button aria-label="close the cut" onClick={() => useStore.setState({ cut: null, cut2: null })}>
            ✕
          </button>
        </Row>
        {second && (
          <Row which="cut2" cut={second}>
            <div role="group" aria-label="what goes" className="flex">
              {([[true, 'a corner goes', 'only what lies before both cuts'], [false, 'both sides go', 'all that lies before either cut']] as const).map(([is, word, why]) => (
                <button key={word} aria-pressed={corner === is} title={why} onClick={() => useStore.setState({ corner: is })} className={`-ml-px border border-ink px-2 first:ml-0 ${corner === is ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}>
                  {word}
                </button>
              ))}
            </div>
            <button aria-label="close the second cut" onClick={() => useStore.setState({ cut2: null })}>
              ✕
            </button>
          </Row>
        )}
      </div>
      <Handle viewer={viewer} which="cut" cut={cut} frameCount={frameCount} />
      {second && <Handle viewer={viewer} which="cut2" cut={second} frameCount={frameCount} />}
    </>
  )
}

/** One cut: its direction, place and turn, and what else is offered for it. */
function Row({ which, cut, children }: { which: Which; cut: Cut; children: ReactNode }) {
  const [low, high] = useReach(cut)
  const name = which === 'cut' ? 'the cut' : 'the second cut'
  return (
    <div className="flex flex-wrap items-center gap-x-2.5 gap-y-1">
      <span className="w-6 font-semibold">{which === 'cut' ? 'cut' : 'and'}</span>
      <div role="group" aria-label={`direction of ${name}`} className="flex">
        {AXES.map(([axis, word]) => (
          <button key={axis} aria-pressed={cut.axis === axis} onClick={() => change(which, { axis, at: 0, turn: 0 })} className={`-ml-px border border-ink px-2 first:ml-0 ${cut.axis === axis ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}>
            {word}
          </button>
        ))}
      </div>
      <label className="flex items-center gap-1.5">
        at
        <input type="range" aria-label={`place of ${name}`} className="slide w-20" min={low} max={high} step={0.1} value={cut.at} onChange={(e) => change(which, { at: Number(e.target.value) })} />
        <Figure label={`place of ${name}, mm`} value={cut.at} take={(at) => change(which, { at })} /> mm
      </label>
      <label className="flex items-center gap-1.5">
        turned <Figure label={`turn of ${name}, degrees`} value={cut.turn} take={(turn) => change(which, { turn: Math.max(-180, Math.min(180, turn)) })} />°
      </label>
      <button className="underline underline-offset-2" onClick={() => change(which, { flip: !cut.flip })}>
        other side
      </button>
      {children}
    </div>
  )
}

function Figure({ label, value, take }: { label: string; value: number; take: (value: number) => void }) {
  return (
    <input
      key={value}
      aria-label={label}
      className="field fig w-14! py-0! px-1!"
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

/** A lozenge on the plane, to drag it along its normal; that of the second cut lower, for both go through the middle. */
function Handle({ viewer, which, cut, frameCount }: { viewer: Viewer; which: Which; cut: Cut; frameCount: number }) {
  void frameCount
  const [low, high] = useReach(cut)
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
      aria-label={which === 'cut' ? 'drag the cut' : 'drag the second cut'}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={cut.at}
      data-cut-handle={which}
      className="absolute z-10 h-8 w-8 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none"
      style={{ left: Math.round(here.x), top: Math.round(here.y) + (which === 'cut2' ? 48 : 0) }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        grip.current = { x: e.clientX, y: e.clientY, at: cut.at }
      }}
      onPointerMove={(e) => {
        if (!grip.current) return
        const moved = ((e.clientX - grip.current.x) * way[0] + (e.clientY - grip.current.y) * way[1]) / long
        change(which, { at: Number(Math.max(low, Math.min(high, grip.current.at + moved)).toFixed(1)) })
      }}
      onPointerUp={() => (grip.current = null)}
      onKeyDown={(e) => {
        const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key]
        if (!by) return
        e.preventDefault()
        e.stopPropagation()
        change(which, { at: Number(Math.max(low, Math.min(high, cut.at + by * (e.shiftKey ? 5 : 0.5))).toFixed(2)) })
      }}
    >
      <svg viewBox="-16 -16 32 32" aria-hidden style={{ transform: `rotate(${angle}deg)` }}>
        <path d="M-14 0H14M9 -4L14 0L9 4M-9 -4L-14 0L-9 4" stroke="var(--ink)" strokeWidth="1.4" fill="none" />
        <path d="M-6 0L0 -6L6 0L0 6Z" fill="var(--card)" stroke="var(--accent)" strokeWidth="1.8" />
      </svg>
    </button>
  )
}
