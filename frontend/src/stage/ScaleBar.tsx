import { useStore } from '../state/store'
import type { Viewer } from './viewer'

/** A bar of a round length, as long on the screen as it is on the model. */
export function ScaleBar({ viewer }: { viewer: Viewer; frameCount: number }) {
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const per = viewer.eye.millimetresPerPixel / (unit === 'in' ? 25.4 : 1)
  const power = 10 ** Math.floor(Math.log10(per * 100))
  const size = [5, 2, 1].map((k) => k * power).find((s) => s / per <= 110) ?? power
  return (
    <div className="pointer-events-none absolute bottom-3 left-4">
      <div className="h-1.5 border-x border-b border-ink" style={{ width: size / per }} />
      <span className="fig">
        {Number(size.toPrecision(1))} {unit}
      </span>
    </div>
  )
}
