/** Readings of one kind: points, the band of the next print that is believed, and the least-squares line where there is one. */
import type { LineOut } from '../../api/client'
import { signed } from '../../widgets/figures'

const [W, H, LEFT, RIGHT, TOP, BOTTOM] = [420, 236, 52, 14, 16, 34]

export function Plot({ line }: { line: LineOut }) {
  const { points, believed, fit } = line
  const outside = line.key.startsWith('outside')
  const tintOf = outside ? 'var(--accent)' : 'var(--free)'
  const reach = Math.max(0.1, ...points.map((p) => Math.abs(p.off)), ...believed.map((b) => Math.abs(b.off) + b.half))
  const tick = [0.05, 0.1, 0.2, 0.5, 1].find((t) => reach / t <= 3) ?? 2
  const edge = Math.ceil(reach / tick) * tick
  const most = Math.max(...believed.map((b) => b.drawn))
  const step = [1, 2, 5, 10, 20, 50, 100].find((t) => most / t <= 7) ?? 200
  const x = (mm: number) => LEFT + (mm / most) * (W - LEFT - RIGHT)
  const y = (mm: number) => TOP + ((edge - mm) / (2 * edge)) * (H - TOP - BOTTOM)
  const band = (rows: { drawn: number; off: number; half: number }[]) =>
    `M${rows.map((b) => `${x(b.drawn)} ${y(b.off + b.half)}`).join('L')}L${[...rows].reverse().map((b) => `${x(b.drawn)} ${y(b.off - b.half)}`).join('L')}Z`
  const course = (rows: { drawn: number; off: number }[]) => `M${rows.map((b) => `${x(b.drawn)} ${y(b.off)}`).join('L')}`
  const levels = Array.from({ length: Math.round((2 * edge) / tick) + 1 }, (_, i) => -edge + i * tick)
  const prints = [...new Set(points.map((p) => p.print))]
  return (
    <figure data-line={line.key} className="max-w-[560px] border border-ink bg-card px-3 py-2">
      <figcaption>
        <span className="font-semibold">{line.title[0].toUpperCase() + line.title.slice(1)}</span>
        <span className="block text-[12.5px] text-ink2">printed minus drawn, mm, over the size drawn, mm</span>
      </figcaption>
      <svg viewBox={`0 0 ${W} ${H}`} className="w-full" role="img" aria-label={`${line.title}: ${points.length} readings`}>
        <path d={band(believed)} fill={tintOf} opacity="0.16" />
        {levels.map((l) => (
          <g key={l}>
            <path d={`M${LEFT - 5} ${y(l)}h5`} stroke="var(--ink2)" />
            <text x={LEFT - 9} y={y(l) + 3.5} textAnchor="end" fontSize="11" className="fig" fill="var(--ink2)">
              {Math.abs(l) < 1e-9 ? '0.00' : signed(l, 2)}
            </text>
          </g>
        ))}
        <path d={`M${LEFT} ${y(0)}H${W - RIGHT}`} stroke="var(--ink)" />
        {Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step).map((v) => (
          <g key={v}>
            <path d={`M${x(v)} ${H - BOTTOM}v4`} stroke="var(--ink2)" />
            <text x={x(v)} y={H - BOTTOM + 16} textAnchor="middle" fontSize="11" className="fig" fill="var(--ink2)">
              {v}
            </text>
          </g>
        ))}
        <path d={`M${LEFT} ${H - BOTTOM}H${W - RIGHT}`} stroke="var(--hair)" />
        <path d={course(believed)} stroke={tintOf} strokeWidth="1.8" fill="none" />
        {fit && <path d={course(fit.band)} stroke={tintOf} strokeWidth="1.2" strokeDasharray="5 3" fill="none" />}
        {points.map((p, i) => (
          <path key={i} d={`M${x(p.drawn) - 4.5} ${y(p.off)}l4.5 -4.5l4.5 4.5l-4.5 4.5Z`} fill={prints.indexOf(p.print) % 2 ? tintOf : 'var(--card)'} stroke={tintOf} strokeWidth="1.3">
            <title>{`${p.drawn.toFixed(2)} drawn, ${signed(p.off)} mm`}</title>
          </path>
        ))}
      </svg>
      <p className="text-[12.5px] text-ink2">
        Line and band: what the next print is believed to do, two standard deviations.{' '}
        {fit
          ? `Dashed, least squares by itself: ${fit.a.toFixed(4)} · drawn ${signed(fit.b)} mm, scatter ${fit.s.toFixed(3)} mm; slope ${fit.ci_a[0].toFixed(4)} to ${fit.ci_a[1].toFixed(4)} (95 %).`
          : line.why_no_fit && `No line by itself: ${line.why_no_fit}`}
      </p>
      {fit?.notes.map((note) => (
        <p key={note} className="text-[12.5px] text-warn">
          ◆ {note}
        </p>
      ))}
    </figure>
  )
}
