/** Constraints as small marks: hover shows what one ties, a click selects it, the key takes it away. */
import { type BoardMap, type SketchDoc, type Vec2, runsOf } from './geometry'

const SIGNS: Record<string, string> = {
  horizontal: '—', vertical: '|', parallel: '∥', perpendicular: 'sq', equal: '=', midpoint: 'mid', coincident: 'tog', point_on: 'on', concentric: 'cen',
  tangent: 'tou', smooth: 'smo', symmetric: 'mir', collinear: 'row', fixed: 'fix', turned: 'rep',
}
export const TIE_WORDS: Record<string, string> = {
  horizontal: 'level', vertical: 'upright', parallel: 'parallel', perpendicular: 'square', equal: 'equal', midpoint: 'in the middle',
  coincident: 'together', point_on: 'on the curve', concentric: 'same centre', tangent: 'touching', smooth: 'smooth', symmetric: 'mirrored', collinear: 'in line', fixed: 'stays here', turned: 'repeated',
}

/** A good fifth of the way along, clear of the dimension in the middle. */
const along = (a: Vec2, b: Vec2): Vec2 => [a[0] + (b[0] - a[0]) * 0.22, a[1] + (b[1] - a[1]) * 0.22]

interface Props {
  /** Only the marks of these things, or all. */
  show: string[] | null
  /** While one draws they stand back and are not in the way. */
  quiet: boolean
  sketch: SketchDoc
  at: Record<string, Vec2>
  radius: (id: string) => number
  map: BoardMap
  chosen: string[]
  choose: (id: string, more: boolean) => void
  light: (ids: string[]) => void
  take: (ids: string[]) => void
}

export function Ties({ show, quiet, sketch, at, radius, map, chosen, choose, light, take }: Props) {
  const crowd = new Map<string, number>()
  return (
    <>
      {sketch.constraints.filter((tie) => !show || show.includes(tie.id) || tie.of.some((o) => show.includes(o))).map((tie) => {
        const anchor = tie.kind === 'midpoint' ? tie.of[0] : tie.of[tie.of.length - 1]
        const curve = sketch.curves.find((c) => c.id === anchor)
        const run = curve && runsOf(curve, at, radius(curve.id))[0]
        const spot: Vec2 = run ? (curve.kind === 'line' ? along(run[0], run[1]) : run[Math.floor(run.length * (curve.kind === 'circle' ? 0.125 : 0.5))]) : at[anchor]
        if (!spot) return null
        const [x, y] = map.screen(spot)
        const n = crowd.get(anchor) ?? 0
        crowd.set(anchor, n + 1)
        const on = chosen.includes(tie.id)
        return (
          <button
            key={tie.id}
            data-tie={tie.id}
            data-tie-kind={tie.kind}
            aria-label={`${TIE_WORDS[tie.kind]} on ${tie.of.join(', ')}; Delete takes it away`}
            aria-pressed={on}
            title={TIE_WORDS[tie.kind]}
            className={`absolute z-[11] flex h-[19px] w-[30px] items-center justify-center text-[11px] font-semibold ${quiet ? 'pointer-events-none opacity-45' : ''}`}
            style={{ left: Math.round(x) + 8 + n * 32, top: Math.round(y) - 26 }}
            onMouseEnter={() => light(tie.of)}
            onMouseLeave={() => light([])}
            onFocus={() => light(tie.of)}
            onBlur={() => light([])}
            onClick={(e) => choose(tie.id, e.shiftKey)}
            onKeyDown={(e) => e.key === 'Delete' && (e.stopPropagation(), take([tie.id]))}
          >
            <svg aria-hidden className="absolute inset-0" width="30" height="19" viewBox="0 0 30 19">
              <path d="M5 1H25L29 9.5L25 18H5L1 9.5Z" fill={on ? 'var(--accent)' : 'var(--card)'} stroke="var(--ink)" />
            </svg>
            <span className={`relative ${on ? 'text-accentink' : ''}`}>{SIGNS[tie.kind]}</span>
          </button>
        )
      })}
    </>
  )
}
