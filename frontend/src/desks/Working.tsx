/** What the hand-book works out for a joint: what it begins with, each result against its limit, and a plot of the one that decides. */
import type { components } from '../api/schema'
import { StateMark } from '../widgets/Lozenge'

type Work = components['schemas']['WorkingOut']
type Result = Work['results'][number]
type Plot = Work['plots'][number]

/** Three or four figures that tell something: 0.0123, 1.23, 12.3, 123, 1230. */
export function figure(value: number | null): string {
  if (value === null) return 'without bound'
  if (Math.abs(value - Math.round(value)) < 1e-6 && Math.abs(value) < 1e4) return String(Math.round(value))
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))))
  return value.toFixed(Math.min(digits, 4))
}

const stateOf = (chance: number) => (chance >= 0.95 ? 'well' : chance >= 0.6 ? 'doubtful' : 'wrong')

export function Working({ work }: { work: Work }) {
  return (
    <div className="mt-3" data-working>
      <h3 className="font-semibold">{work.title}, worked out</h3>
      <dl className="mt-1">
        {work.results.map((r) => (
          <Row key={r.name} result={r} />
        ))}
      </dl>
      {work.plots.map((p) => (
        <Curve key={p.up} plot={p} />
      ))}
      <details className="mt-2">
        <summary className="cursor-pointer text-[13.5px]">from these figures</summary>
        <ul className="mt-1 text-[13.5px]">
          {work.givens.map((g) => (
            <li key={g.name} className="flex justify-between gap-2 border-b border-hair py-0.5">
              <span>
                {g.name} <span className="text-[12.5px] text-ink2">{g.source}</span>
              </span>
              <span className="fig whitespace-nowrap">
                {figure(g.value)} {g.unit}
              </span>
            </li>
          ))}
        </ul>
        <p className="mt-1 text-[12.5px] text-ink2">{work.source} Ranges: what printer and material leave open, nine of ten cases.</p>
      </details>
    </div>
  )
}

function Row({ result: r }: { result: Result }) {
  const spread = r.low !== null && r.high !== null && r.value !== null && r.high - r.low > 0.02 * Math.abs(r.value)
  const kept = r.chance ?? 1
  return (
    <div className="border-b border-hair py-1">
      <div className="flex items-baseline justify-between gap-2">
        <dt>{r.name}</dt>
        <dd className="fig shrink-0">
          <b className="font-semibold">
            {figure(r.value)} {r.value === null ? '' : r.unit}
          </b>
          {spread && (
            <span className="text-[12.5px] text-ink2">
              {' '}
              {figure(r.low)} to {figure(r.high)}
            </span>
          )}
        </dd>
      </div>
      {r.limit !== null && (
        <p className="text-[13px]">
          <StateMark state={stateOf(kept)} /> {r.bound === 'most' ? 'at most' : 'at least'}{' '}
          <span className="fig">{`${figure(r.limit)} ${r.unit}`.trim()}</span>
          {r.note && ` ${r.note}`}: kept in {Math.round(100 * kept)} of 100{kept < 0.995 && r.fails ? `, else ${r.fails}` : ''}
        </p>
      )}
      {r.limit === null && r.note && <p className="text-[12.5px] text-ink2">{r.note}</p>}
    </div>
  )
}

function Curve({ plot: p, width = 290, height = 116 }: { plot: Plot; width?: number; height?: number }) {
  const right = Math.max(...p.points.map(([a]) => a), p.here[0], 1e-9)
  const top = 1.08 * Math.max(...p.points.map(([, u]) => u), p.here[1], p.limit ?? 0, 1e-9)
  const [l, b] = [42, height - 30]
  const x = (a: number) => l + (a / right) * (width - l - 8)
  const y = (u: number) => b - (u / top) * (b - 8)
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="mt-2 w-full" role="img" aria-label={`${p.up} over ${p.across}; here ${figure(p.here[1])} at ${figure(p.here[0])}`}>
      {p.limit !== null && (
        <>
          <path d={`M${l} ${y(p.limit)}H${width - 8}`} stroke="var(--wrong)" strokeDasharray="5 3" />
          <text x={width - 10} y={y(p.limit) - 3} textAnchor="end" fontSize="10" fill="var(--wrong)">
            limit
          </text>
        </>
      )}
      <path d={`M${p.points.map(([a, u]) => `${x(a).toFixed(1)} ${y(u).toFixed(1)}`).join('L')}`} fill="none" stroke="currentColor" strokeWidth="1.6" />
      <path d={`M${l} 4V${b}H${width - 8}`} fill="none" stroke="var(--ink2)" />
      <path d={`M${x(p.here[0])} ${b}V${y(p.here[1])}H${l}`} fill="none" stroke="var(--ink2)" strokeDasharray="2 3" />
      <rect x={x(p.here[0]) - 3.5} y={y(p.here[1]) - 3.5} width="7" height="7" fill="var(--accent)" transform={`rotate(45 ${x(p.here[0])} ${y(p.here[1])})`} />
      <text x={x(p.here[0])} y={b + 12} textAnchor="middle" fontSize="10" className="fig" fill="var(--ink2)">
        {figure(p.here[0])}
      </text>
      <text x={l - 3} y={y(p.here[1]) + 3} textAnchor="end" fontSize="10" className="fig" fill="var(--ink2)">
        {figure(p.here[1])}
      </text>
      <text x={l + 4} y={12} fontSize="10.5" fill="var(--ink2)">
        {p.up}
      </text>
      <text x={(l + width) / 2} y={height - 3} textAnchor="middle" fontSize="10.5" fill="var(--ink2)">
        {p.across}
      </text>
    </svg>
  )
}
