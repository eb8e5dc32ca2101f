/** How many ways things can still move, and which things. */
import type { SketchOut } from '../api/client'
import type { SketchDoc } from './geometry'

export function FreedomMeter({ sketch, out, light }: { sketch: SketchDoc; out: SketchOut | undefined; light: (ids: string[]) => void }) {
  if (!out || !sketch.curves.length) return null
  const all = 2 * sketch.points.length + sketch.curves.filter((c) => c.kind === 'circle' || c.kind === 'ellipse').length
  const cells = Math.min(16, Math.max(all, 1))
  const open = all ? Math.max(out.freedom > 0 ? 1 : 0, Math.round((out.freedom / all) * cells)) : 0
  const words = (id: string) => {
    const curve = sketch.curves.find((c) => c.id === id)
    if (curve) return curve.kind === 'ellipse' ? 'width of the ellipse' : 'size of the circle'
    const spline = sketch.curves.find((c) => c.kind === 'spline' && c.points.includes(id))
    if (spline) return spline.points.indexOf(id) % 3 ? 'handle' : 'node'
    const text = sketch.curves.find((c) => c.kind === 'text' && c.points.includes(id))
    if (text) return text.points[0] === id ? 'foot of the text' : 'height of the text'
    const centre = sketch.curves.find((c) => c.kind === 'circle' && c.points[0] === id)
    return centre ? 'centre of the circle' : sketch.curves.some((c) => c.points.includes(id)) ? 'corner' : 'middle point'
  }
  return (
    <div data-freedom={out.freedom} className="absolute top-[60px] right-4 z-[12] w-[232px] border border-ink bg-card px-3 py-2" role="status" aria-label="freedom meter">
      <p className="font-semibold">{out.freedom === 0 ? 'All settled' : out.freedom === 1 ? '1 way still free' : `${out.freedom} ways still free`}</p>
      <div aria-hidden className="my-1.5 flex gap-0.5">
        {Array.from({ length: cells }, (_, i) => (
          <span key={i} className={`h-2 flex-1 border ${i < cells - open ? 'border-ink bg-ink' : 'border-dashed border-free'}`} />
        ))}
      </div>
      {out.free.length > 0 && (
        <p className="text-[13px] text-ink2">
          can move:{' '}
          {out.free.slice(0, 6).map((id, i) => (
            <button key={id} className="mr-1 border-b border-dotted border-free" onMouseEnter={() => light([id])} onFocus={() => light([id])} onMouseLeave={() => light([])} onBlur={() => light([])}>
              {words(id)}
              {i < Math.min(out.free.length, 6) - 1 ? ',' : ''}
            </button>
          ))}
          {out.free.length > 6 && `and ${out.free.length - 6} more`}
        </p>
      )}
    </div>
  )
}
