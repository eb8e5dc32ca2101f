/** Constraints as small marks: hover shows what one ties, a click selects it, the key takes it away. */
import { useState } from 'react'
import { type BoardMap, type SketchDoc, type SketchTie, type Vec2, runsOf } from './geometry'
import { type Box, boxAbout, overlap } from './layout'
import { Sign } from './Signs'
import { tieWord, type Words } from './words'

/** A good fifth of the way along, clear of the dimension in the middle. */
const along = (a: Vec2, b: Vec2): Vec2 => [a[0] + (b[0] - a[0]) * 0.22, a[1] + (b[1] - a[1]) * 0.22]

const WIDE = 30
const TALL = 19
/** So many marks stand at one thing; more of them fold into one that opens. */
const MOST = 3

interface Props {
  /** Only the marks of these things, or all. */
  show: string[] | null
  /** While one draws they stand back and are not in the way. */
  quiet: boolean
  sketch: SketchDoc
  at: Record<string, Vec2>
  radius: (id: string) => number
  map: BoardMap
  /** Where labels stand already. */
  taken: Box[]
  words: Words
  chosen: string[]
  choose: (id: string, more: boolean) => void
  light: (ids: string[]) => void
  take: (ids: string[]) => void
}

/** The places of a row of marks: beside its anchor, moved up or down to where nothing stands yet. */
function rowAt([x, y]: Vec2, count: number, taken: Box[]): Vec2 {
  const left = Math.round(x) + 8
  for (const by of [0, -1, 1, -2, 2, -3, 3, -4, 4]) {
    const top = Math.round(y) - 26 + by * (TALL + 2)
    const box: Box = [left, top, left + count * (WIDE + 2), top + TALL]
    if (taken.some((t) => overlap(t, box))) continue
    taken.push(box)
    return [left, top]
  }
  return [left, Math.round(y) - 26]
}

export function Ties({ show, quiet, sketch, at, radius, map, taken, words, chosen, choose, light, take }: Props) {
  const [opened, setOpened] = useState<string | null>(null)
  const rows = new Map<string, SketchTie[]>()
  for (const tie of sketch.constraints) {
    if (show && !show.includes(tie.id) && !tie.of.some((o) => show.includes(o))) continue
    const anchor = tie.kind === 'midpoint' ? tie.of[0] : tie.of[tie.of.length - 1]
    rows.set(anchor, [...(rows.get(anchor) ?? []), tie])
  }
  // the points themselves stay free: they are what one takes hold of
  const busy: Box[] = [...taken, ...sketch.points.filter((p) => at[p.id]).map((p): Box => boxAbout(map.screen(at[p.id]), 7))]
  return (
    <>
      {[...rows].map(([anchor, ties]) => {
        const curve = sketch.curves.find((c) => c.id === anchor)
        const run = curve && runsOf(curve, at, radius(curve.id))[0]
        const spot: Vec2 = run ? (curve.kind === 'line' ? along(run[0], run[1]) : run[Math.floor(run.length * (curve.kind === 'circle' ? 0.125 : 0.5))]) : at[anchor]
        if (!spot) return null
        const open = opened === anchor || ties.length <= MOST || ties.some((t) => chosen.includes(t.id))
        const shown = open ? ties : ties.slice(0, MOST - 1)
        const [left, top] = rowAt(map.screen(spot), Math.min(shown.length + (open ? 0 : 1), 8), busy)
        return (
          <div key={anchor} className="pointer-events-none absolute z-[11] flex flex-wrap gap-0.5" style={{ left, top, width: Math.min(shown.length + 1, 8) * (WIDE + 2) }}>
            {shown.map((tie) => (
              <button
                key={tie.id}
                data-tie={tie.id}
                data-tie-kind={tie.kind}
                aria-label={`${tieWord(tie.kind)} on ${tie.of.map(words).join(', ')}; Delete takes it away`}
                aria-pressed={chosen.includes(tie.id)}
                title={tieWord(tie.kind)}
                className={MARK(quiet)}
                onMouseEnter={() => light(tie.of)}
                onMouseLeave={() => light([])}
                onFocus={() => light(tie.of)}
                onBlur={() => light([])}
                onClick={(e) => choose(tie.id, e.shiftKey)}
                onKeyDown={(e) => e.key === 'Delete' && (e.stopPropagation(), take([tie.id]))}
              >
                <Plate on={chosen.includes(tie.id)} />
                <span className={`relative ${chosen.includes(tie.id) ? 'text-accentink' : ''}`}>
                  <Sign kind={tie.kind} />
                </span>
              </button>
            ))}
            {!open && (
              <button className={MARK(quiet)} aria-label={`${ties.length - shown.length} more ties here`} title={ties.slice(shown.length).map((t) => tieWord(t.kind)).join(', ')} onClick={() => setOpened(anchor)}>
                <Plate on={false} />
                <span className="fig relative">+{ties.length - shown.length}</span>
              </button>
            )}
          </div>
        )
      })}
    </>
  )
}

const MARK = (quiet: boolean) => `relative flex h-[19px] w-[30px] items-center justify-center text-[11px] font-semibold ${quiet ? 'pointer-events-none opacity-45' : 'pointer-events-auto'}`

function Plate({ on }: { on: boolean }) {
  return (
    <svg aria-hidden className="absolute inset-0" width={WIDE} height={TALL} viewBox="0 0 30 19">
      <path d="M5 1H25L29 9.5L25 18H5L1 9.5Z" fill={on ? 'var(--accent)' : 'var(--card)'} stroke="var(--ink)" />
    </svg>
  )
}
