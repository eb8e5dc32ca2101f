/** A coupon before it is printed: what it would tell, what it takes, and the ways to print it. */
import { useEffect } from 'react'
import { type CouponOut, api } from '../../api/client'
import { perWords } from '../../gauges/shown'
import { shownJoints, useStore } from '../../state/store'
import { attempt, followCoupon, keepFile, startPrint, useWorkshop } from '../../state/workshop'
import { duration, grams, length, metres } from '../../widgets/figures'

/** Whether a size is read along the height of a print. */
export const upright = (f: { direction: number[] }): boolean => Math.abs(f.direction[2]) >= 0.5

export function CouponPage({ kind }: { kind: string }) {
  const id = useStore((s) => s.id)
  const coupon = useWorkshop((s) => s.coupon)
  const refused = useWorkshop((s) => s.refused)
  const about = (useWorkshop((s) => s.catalogue?.coupons) as { kind: string; about: string }[] | undefined)?.find((c) => c.kind === kind)?.about
  // one of a joint is of the project as it stands
  const version = useStore((s) => s.project!.version)
  const made = kind.startsWith('joint:')
  useEffect(() => {
    if (made) followCoupon(kind)
  }, [made, kind, version])
  if (!coupon || coupon.kind !== kind) return <p className="text-ink2">{refused?.at === 'coupon' ? refused.text : 'making the coupon …'}</p>
  const features = coupon.parts.flatMap((p) => p.features)
  const inside = features.filter((f) => f.role === 'inside')
  const groups = [
    ['outside faces', features.filter((f) => f.role === 'outside' && !upright(f))],
    ['heights', features.filter((f) => f.role === 'outside' && upright(f))],
    ['slots', inside.filter((f) => !f.round_hole && !upright(f))],
    ['round holes', inside.filter((f) => f.round_hole && !upright(f))],
    ['lying holes, upright', inside.filter((f) => f.round_hole && upright(f))],
    ['windows, upright', inside.filter((f) => !f.round_hole && upright(f))],
  ] as const
  return (
    <section className="border border-ink bg-card px-4 py-3">
      <h2 className="text-[16px] font-semibold">{coupon.title}</h2>
      <p className="text-ink2">{coupon.about || about}</p>
      <dl className="mt-2 grid max-w-xl grid-cols-4 gap-3">
        {[['time', duration(coupon.total.time_s)], ['filament', metres(coupon.total.length_mm)], ['mass', grams(coupon.total.mass_g)], ['price', coupon.total.price.toFixed(2)]].map(([word, figure]) => (
          <div key={word}>
            <dt className="text-[12.5px] text-ink2">{word}</dt>
            <dd className="fig font-semibold">{figure}</dd>
          </div>
        ))}
      </dl>
      {coupon.rungs.length > 0 ? (
        <Rungs kind={kind} rungs={coupon.rungs} />
      ) : coupon.ladder_mm.length > 0 ? (
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

/** The gaps of a joint at stepped gaps, and how likely each is to do what is wanted. */
function Rungs({ kind, rungs }: { kind: string; rungs: CouponOut['rungs'] }) {
  const per = useGapWords(kind.slice('joint:'.length))
  return (
    <table className="mt-3 text-[13.5px]" data-rungs>
      <thead>
        <tr className="text-left text-[12.5px] text-ink2">
          <th className="w-16 pr-4 font-normal">gap</th>
          <th className="pr-8 text-right font-normal">drawn {per.words}</th>
          <th className="font-normal">goes together and holds</th>
        </tr>
      </thead>
      <tbody>
        {rungs.map((r) => (
          <tr key={r.number} className="border-t border-hair">
            <td className="py-0.5">{r.number}</td>
            <td className="fig pr-8 text-right font-semibold">{per.figure(r.drawn_mm)}</td>
            <td>{r.chance === null ? 'not known' : <>in <span className="fig">{Math.round(100 * r.chance)}</span> of 100</>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** How a joint's gaps are said: a side, or on diameter where its trade has it so. */
export function useGapWords(step: string): { words: string; figure: (mm: number) => string } {
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const joint = useStore(shownJoints).find((j) => j.step === step)
  const times = joint?.per === 'diameter' ? 2 : 1
  return { words: joint ? perWords(joint) : 'a side', figure: (mm) => length(mm * times, unit) }
}
