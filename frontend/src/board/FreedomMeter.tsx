/** How many ways things can still move, and which things. */
import type { SketchOut } from '../api/client'
import type { SketchDoc } from './geometry'
import type { Words } from './words'

export function FreedomMeter({ sketch, out, words, light }: { sketch: SketchDoc; out: SketchOut | undefined; words: Words; light: (ids: string[]) => void }) {
  if (!out || !sketch.curves.length) return null
  const all = 2 * sketch.points.length + sketch.curves.filter((c) => c.kind === 'circle' || c.kind === 'ellipse').length
  const cells = Math.min(16, Math.max(all, 1))
  const open = all ? Math.max(out.freedom > 0 ? 1 : 0, Math.round((out.freedom / all) * cells)) : 0
  const named = (id: string) => {
    const curve = sketch.curves.find((c) => c.id === id)
    const name = words(id).replace(/^the /, '')
    return curve ? `size of the ${name}` : name
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
              {named(id)}
              {i < Math.min(out.free.length, 6) - 1 ? ',' : ''}
            </button>
          ))}
          {out.free.length > 6 && `and ${out.free.length - 6} more`}
        </p>
      )}
    </div>
  )
}
