/** How the printed gap scatters, and how unsure it is, drawn over the wanted zone. */
import type { Joint } from '../api/client'
import { asShown, perWords } from '../gauges/shown'
import { tint } from '../widgets/Lozenge'

export function Distribution({ joint: kept, width = 290, height = 110 }: { joint: Joint; width?: number; height?: number }) {
  const joint = asShown(kept)
  const { wanted_mm: wanted, expected_mm: e } = joint
  if (!wanted || !e) return null
  const sigma = Math.hypot(e.common, e.random, e.unsure) || 1e-3
  const low = Math.min(wanted.least, e.least - 3.4 * sigma) - 0.03
  const high = Math.max(wanted.most, e.most + 3.4 * sigma) + 0.03
  const x = (mm: number) => 8 + ((mm - low) / (high - low)) * (width - 16)
  const base = height - 34
  // between the tightest and the widest place the gap lies anywhere; the scatter rounds both ends off
  const density = (mm: number) => {
    if (e.most - e.least < 0.01) return Math.exp(-0.5 * ((mm - e.least) / sigma) ** 2)
    const phi = (z: number) => 1 / (1 + Math.exp(-1.702 * z))
    return phi((mm - e.least) / sigma) - phi((mm - e.most) / sigma)
  }
  const samples = Array.from({ length: 121 }, (_, i) => low + ((high - low) * i) / 120)
  const top = Math.max(...samples.map(density), 1e-9)
  const curve = samples.map((mm) => `${x(mm).toFixed(1)} ${(base - (density(mm) / top) * (base - 8)).toFixed(1)}`).join('L')
  const span = high - low
  const tick = [0.05, 0.1, 0.2, 0.5, 1, 2].find((t) => span / t <= 6) ?? 5
  const ticks: number[] = []
  for (let t = Math.ceil(low / tick) * tick; t <= high; t += tick) ticks.push(t)
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className={`mt-3 w-full ${tint(joint.state)}`} role="img" aria-label={`scatter of the printed gap, mm ${perWords(joint)}`}>
      <defs>
        <pattern id="zone" width="6" height="6" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
          <path d="M0 0V6" stroke="var(--accent)" opacity="0.45" />
        </pattern>
      </defs>
      <rect x={x(wanted.least)} y={4} width={x(wanted.most) - x(wanted.least)} height={base - 4} fill="url(#zone)" />
      <path d={`M${x(low)} ${base}L${curve}L${x(high)} ${base}`} fill="currentColor" fillOpacity="0.14" stroke="currentColor" strokeWidth="1.8" />
      <path d={`M0 ${base}H${width}`} stroke="var(--ink2)" />
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${x(t)} ${base}v4`} stroke="var(--ink2)" />
          <text x={x(t)} y={base + 15} textAnchor="middle" fontSize="10" className="fig" fill="var(--ink2)">
            {(Math.abs(t) < 1e-9 ? 0 : t).toFixed(tick < 0.1 ? 2 : 1)}
          </text>
        </g>
      ))}
      <text x={width / 2} y={height - 2} textAnchor="middle" fontSize="11" fill="var(--ink2)">
        printed gap, mm {perWords(joint)}
      </text>
    </svg>
  )
}
