/** Toleranced dimensions at their limits: overall, part by part, or one by one; model, cut and gauges follow. */
import type { Limits as LimitsSet } from '../api/client'
import { limitsOf } from '../sentence/ToleranceField'
import { atLimits } from '../state/looking'
import { shownReport, useStore } from '../state/store'
import { ChoiceChip } from '../widgets/Chips'
import { Stops } from '../widgets/Stops'

const STATES = [['lower', 'lower'], ['nominal', 'nominal'], ['mid', 'mid'], ['upper', 'upper']] as const
const OF_PART: [string, string][] = [['', 'as all'], ...STATES.map(([s, word]): [string, string] => [s, word]), ['least', 'least material'], ['most', 'most material']]
const PLAIN: LimitsSet = { overall: 'nominal', parts: {}, dimensions: {} }

export function Limits() {
  const dimensions = useStore((s) => shownReport(s)?.dimensions ?? [])
  const limits = useStore((s) => s.limits) ?? PLAIN
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const parts = useStore((s) => s.project!.document.parts!)
  if (!dimensions.length) {
    return (
      <section aria-label="limits" className="border-b border-hair px-4 py-3">
        <h2 className="font-semibold">At their limits</h2>
        <p className="text-[13px] text-ink2">
          No dimension has a tolerance yet. Open a value or a figure of a step on the Shape desk and write one beside it; then the model can be seen at either end of it.
        </p>
      </section>
    )
  }
  const concerned = parts.filter((p) => dimensions.some((d) => d.parts.includes(p.id)))
  const without = (record: Record<string, string>, key: string) => Object.fromEntries(Object.entries(record).filter(([k]) => k !== key))
  return (
    <section aria-label="limits" className="border-b border-hair px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h2 className="font-semibold">At their limits</h2>
        {limits !== PLAIN && (
          <button className="text-[13px] underline underline-offset-2" onClick={() => void atLimits(null)}>
            all nominal again
          </button>
        )}
      </div>
      <p className="mb-2 text-[12.5px] text-ink2">Each part varies by itself; what is built on it follows its nominal size.</p>
      <div className="flex items-center justify-between gap-2">
        <span>all dimensions</span>
        <Stops small name="all dimensions" value={limits.overall as 'nominal'} options={STATES} set={(overall) => void atLimits({ ...PLAIN, overall })} />
      </div>
      {concerned.map((part) => (
        <div key={part.id} className="mt-1.5 flex items-center justify-between gap-2">
          <span className="truncate">
            <span aria-hidden className="mr-1.5 inline-block h-3 w-3 border border-ink align-[-1px]" style={{ background: part.colour }} />
            {part.name}
          </span>
          <ChoiceChip
            label={`limit state of ${part.name}`}
            value={limits.parts[part.id] ?? ''}
            options={OF_PART}
            take={(state) => void atLimits({ ...limits, parts: state ? { ...limits.parts, [part.id]: state } : without(limits.parts, part.id) })}
          />
        </div>
      ))}
      <ul aria-label="toleranced dimensions" className="mt-2 border-t border-hair">
        {dimensions.map((d) => (
          <li key={d.id} data-dimension={d.name} className="border-b border-hair py-1.5">
            <div className="flex items-baseline justify-between gap-2">
              <span className="truncate font-semibold">{d.name}</span>
              <span className="fig text-ink2">{d.tolerance}</span>
            </div>
            {d.error ? (
              <p className="text-[13px] text-wrong">▲ {d.error}</p>
            ) : (
              <div className="mt-0.5 flex items-baseline justify-between gap-2">
                <span className="fig">{limitsOf(d, unit)}</span>
                <Stops
                  small
                  name={`limit state of ${d.name}`}
                  value={(limits.dimensions[d.id] ?? '') as 'nominal'}
                  options={STATES}
                  set={(state) => void atLimits({ ...limits, dimensions: limits.dimensions[d.id] === state ? without(limits.dimensions, d.id) : { ...limits.dimensions, [d.id]: state } })}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
