/** A coupon before it is printed: what it would tell, what it takes, and the ways to print it. */
import { api } from '../../api/client'
import { useStore } from '../../state/store'
import { attempt, keepFile, startPrint, useWorkshop } from '../../state/workshop'
import { duration, grams, metres } from '../../widgets/figures'

export function CouponPage({ kind }: { kind: string }) {
  const id = useStore((s) => s.id)
  const coupon = useWorkshop((s) => s.coupon)
  const refused = useWorkshop((s) => s.refused)
  const about = (useWorkshop((s) => s.catalogue?.coupons) as { kind: string; about: string }[] | undefined)?.find((c) => c.kind === kind)?.about
  if (!coupon || coupon.kind !== kind) return <p className="text-ink2">{refused?.at === 'coupon' ? refused.text : 'making the coupon …'}</p>
  const features = coupon.parts.flatMap((p) => p.features)
  const groups = [
    ['outside faces', features.filter((f) => f.role === 'outside' && Math.abs(f.direction[2]) < 0.5)],
    ['heights', features.filter((f) => f.role === 'outside' && Math.abs(f.direction[2]) >= 0.5)],
    ['slots', features.filter((f) => f.role === 'inside' && !f.round_hole)],
    ['round holes', features.filter((f) => f.role === 'inside' && f.round_hole)],
  ] as const
  return (
    <section className="border border-ink bg-card px-4 py-3">
      <h2 className="text-[16px] font-semibold">{coupon.title}</h2>
      <p className="text-ink2">{about}</p>
      <dl className="mt-2 grid max-w-xl grid-cols-4 gap-3">
        {[['time', duration(coupon.total.time_s)], ['filament', metres(coupon.total.length_mm)], ['mass', grams(coupon.total.mass_g)], ['price', coupon.total.price.toFixed(2)]].map(([word, figure]) => (
          <div key={word}>
            <dt className="text-[12.5px] text-ink2">{word}</dt>
            <dd className="fig font-semibold">{figure}</dd>
          </div>
        ))}
      </dl>
      {coupon.ladder_mm.length > 0 ? (
        <p className="mt-3">
          Gaps drawn on each side of the plug: <span className="fig">{coupon.ladder_mm.map((g) => g.toFixed(2)).join(' · ')} mm</span>. Count how many openings take it.
        </p>
      ) : (
        <dl className="mt-3 text-[13.5px]">
          {groups.filter(([, list]) => list.length).map(([word, list]) => (
            <div key={word} className="flex gap-3 border-t border-hair py-1">
              <dt className="w-32">{word}</dt>
              <dd className="fig">{[...new Set(list.map((f) => f.drawn_mm.toFixed(1)))].join(' · ')} mm</dd>
            </div>
          ))}
        </dl>
      )}
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <button className="strong" data-print-coupon onClick={() => void startPrint({ coupon: kind, device: 'simulated', note: '' })}>
          Print it on the simulated printer
        </button>
        <button className="plain" onClick={() => void startPrint({ coupon: kind, device: 'own', note: '' })}>
          It is printed on mine
        </button>
        <button className="plain" onClick={() => useStore.setState({ other: { title: coupon.title, report: coupon.report } })}>
          Look at it
        </button>
        {['3mf', 'stl', 'step'].map((format) => (
          <button key={format} className="text-[13px] underline underline-offset-2" onClick={() => void attempt('files', async () => keepFile(await api.couponFile(id, kind, format)))}>
            save {format.toUpperCase()}
          </button>
        ))}
      </div>
      {(refused?.at === 'print' || refused?.at === 'files') && (
        <p role="alert" className="mt-1.5 text-[13px] text-wrong">
          {refused.text}
        </p>
      )}
    </section>
  )
}
