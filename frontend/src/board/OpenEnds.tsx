/** Ends where an outline does not close, and the offer to bring those together that were meant to meet. */
import type { SketchOut } from '../api/client'
import { send } from '../state/commands'
import { plain } from '../widgets/figures'
import type { BoardMap, Vec2 } from './geometry'

export function OpenMarks({ out, map }: { out: SketchOut | undefined; map: BoardMap }) {
  return (
    <g pointerEvents="none" fill="none" stroke="var(--warn)" strokeWidth="1.6">
      {out?.open_ends.map((end) => {
        const [x, y] = map.screen(end.at as Vec2)
        // a ring that is open itself
        return <path key={end.point} data-open-end={end.point} d={`M${x + 6.4} ${y - 6.4}A9 9 0 1 0 ${x + 6.4} ${y + 6.4}`} />
      })}
    </g>
  )
}

/** Pairs of ends with a gap between them, each once. */
export function gapsIn(out: SketchOut | undefined): { pair: [string, string]; gap: number }[] {
  const seen = new Set<string>()
  return (out?.open_ends ?? []).flatMap((end) => {
    const key = [end.point, end.near].sort().join()
    if (!end.near || seen.has(key)) return []
    seen.add(key)
    return [{ pair: [end.point, end.near] as [string, string], gap: end.gap_mm }]
  })
}

export function OpenEnds({ step, out }: { step: string; out: SketchOut | undefined }) {
  const ends = out?.open_ends.length ?? 0
  if (!ends) return null
  const gaps = gapsIn(out)
  return (
    <span className="text-warn">
      ◆ {ends === 1 ? '1 open end' : `${ends} open ends`}
      {gaps.length > 0 && (
        <button className="ml-2 border-b border-dotted border-warn" onClick={() => void send({ do: 'JoinEnds', step, pairs: gaps.map((g) => g.pair) }, { step: 'board' })}>
          close {gaps.length === 1 ? `the gap of ${plain(gaps[0].gap, 2)} mm` : `${gaps.length} gaps`}
        </button>
      )}
    </span>
  )
}
