/** A gauge: the needle band of what is expected over the hatched zone of what is wanted. */
import type { Joint } from '../api/client'
import { fixed } from '../widgets/figures'
import { Lozenge, tint } from '../widgets/Lozenge'
import { asShown, perWords } from './shown'

export function Gauge({ joint: kept, width = 158, height = 46 }: { joint: Joint; width?: number; height?: number }) {
  const joint = asShown(kept)
  const { wanted_mm: wanted, expected_mm: expected } = joint
  if (!wanted || !expected) return <svg width={width} height={height} aria-hidden />
  const room = Math.max(wanted.most - wanted.least, 0.1)
  const low = Math.min(wanted.least - room * 0.9, Math.max(expected.low - 0.05, wanted.least - 4 * room))
  const high = Math.max(wanted.most + room * 0.9, Math.min(expected.high + 0.05, wanted.most + 4 * room))
  const x = (mm: number) => Math.max(3, Math.min(width - 3, ((mm - low) / (high - low)) * (width - 6) + 3))
  const base = height - 20
  const tick = niceTick(high - low)
  const ticks: number[] = []
  for (let t = Math.ceil(low / tick) * tick; t <= high; t += tick) ticks.push(t)
  const middle = (expected.least + expected.most) / 2
  const id = `hatch-${joint.step}-${width}`
  return (
    <svg width={width} height={height} role="img" aria-label={gaugeText(kept)} className={tint(joint.state)} overflow="visible">
      <defs>
        <pattern id={id} width="5" height="5" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
          <path d="M0 0V5" stroke="var(--accent)" strokeWidth="1.1" opacity="0.5" />
        </pattern>
      </defs>
      <rect x={x(wanted.least)} y={2} width={x(wanted.most) - x(wanted.least)} height={base - 2} fill={`url(#${id})`} stroke="var(--accent)" strokeDasharray="2 2" />
      <path d={`M0 ${base}H${width}`} stroke="var(--ink2)" />
      {ticks.map((t) => (
        <path key={t} d={`M${x(t)} ${base}v${Math.abs(t) < 1e-9 ? 7 : 4}`} stroke="var(--ink2)" />
      ))}
      <Ends low={expected.low} high={expected.high} x={x} y={height - 2} width={width} />
      <g className="settle">
        <path d={`M${x(expected.low)} 14H${x(expected.high)}`} stroke="currentColor" strokeWidth="4" />
        <path d={`M${x(expected.low)} 6v16M${x(expected.high)} 6v16`} stroke="currentColor" strokeWidth="1.8" />
        <Lozenge x={x(middle)} y={14} size={7} fill="var(--card)" />
      </g>
    </svg>
  )
}

/** The figures at both ends of the needle band, moved apart where they would touch. */
function Ends({ low, high, x, y, width }: { low: number; high: number; x: (mm: number) => number; y: number; width: number }) {
  const room = 17
  const middle = Math.max(2 * room, Math.min(width - 2 * room, (x(low) + x(high)) / 2))
  const [a, b] = [Math.max(room, Math.min(x(low), middle - room)), Math.min(width - room, Math.max(x(high), middle + room))]
  return (
    <g fontSize="10.5" className="fig" fill="var(--ink2)" textAnchor="middle" aria-hidden>
      <text x={a} y={y}>
        {fixed(low)}
      </text>
      <text x={b} y={y}>
        {fixed(high)}
      </text>
    </g>
  )
}

function niceTick(range: number): number {
  const power = 10 ** Math.floor(Math.log10(range / 6))
  return [1, 2, 5, 10].map((k) => k * power).find((t) => range / t <= 9) ?? power * 10
}

export function gaugeText(kept: Joint): string {
  const joint = asShown(kept)
  const { wanted_mm: w, expected_mm: e } = joint
  if (!w || !e) return `${joint.name}: ${joint.says}`
  return `${joint.name}: expected ${fixed(e.low)} to ${fixed(e.high)} mm ${perWords(joint)}, wanted ${w.least.toFixed(2)} to ${w.most.toFixed(2)}; ${joint.says}`
}
