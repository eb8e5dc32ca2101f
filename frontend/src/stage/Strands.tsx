/** Links between parts as strands on the model: from what is taken to the part that rests on it. */
import { Vector3 } from 'three'
import { useStore } from '../state/store'
import type { Viewer } from './viewer'

export function StageStrands({ viewer }: { viewer: Viewer; frameCount: number }) {
  const shown = useStore((s) => s.strands && !s.preview)
  const links = useStore((s) => s.report?.links)
  const parts = useStore((s) => s.project!.document.parts!)
  const focused = useStore((s) => s.focusStep)
  if (!shown || !links?.length) return null
  const screen = (at: number[]) => viewer.eye.toScreen(new Vector3().fromArray(at))
  const colour = (id: string) => parts.find((p) => p.id === id)?.colour
  return (
    <svg className="pointer-events-none absolute inset-0" width={viewer.size.width} height={viewer.size.height} aria-hidden data-stage-strands>
      {links.map((link, k) => {
        if (!link.at || !link.to_at) return null
        const [a, b] = [screen(link.at), screen(link.to_at)]
        const [dx, dy] = [b.x - a.x, b.y - a.y]
        // strands between the same two things lie beside each other
        const bow = 0.12 + 0.05 * (k % 4)
        const middle = `${(a.x + b.x) / 2 - dy * bow} ${(a.y + b.y) / 2 + dx * bow}`
        const mine = link.step === focused
        return (
          <g key={`${link.step} ${link.field} ${link.of}`} className={mine ? 'text-accent' : 'text-ink'} stroke="currentColor" fill="none" strokeWidth={mine ? 2.5 : 1.25}>
            <path d={`M${a.x} ${a.y}Q${middle} ${b.x} ${b.y}`} />
            <circle cx={a.x} cy={a.y} r="4.5" style={{ fill: colour(link.of) }} strokeWidth="1.5" />
            <rect x={b.x - 4} y={b.y - 4} width="8" height="8" style={{ fill: colour(link.to[0]) }} strokeWidth="1.5" />
          </g>
        )
      })}
    </svg>
  )
}
