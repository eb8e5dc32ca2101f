/** What was learnt of the printer: the correction that it proposes, the lines of its readings, its terms, its versions. */
import { useState } from 'react'
import { api, type Lesson } from '../../api/client'
import { useStore } from '../../state/store'
import { acceptProposal, attempt, lookAtCoupon, refreshWorkshop, useWorkshop } from '../../state/workshop'
import { signed } from '../../widgets/figures'
import { useProfile } from '../OnPrinter'
import { counted, when } from './LearnDesk'
import { Plot } from './Plot'

export function PrinterPage() {
  const lesson = useWorkshop((s) => s.kept?.lesson)
  const profile = useProfile()
  if (!lesson) return null
  return (
    <>
      {lesson.proposal ? <ProposalCard lesson={lesson} /> : <Nothing lesson={lesson} />}
      {lesson.suspicious.length > 0 && (
        <section aria-label="suspicious readings" className="border border-warn bg-card px-4 py-2 text-[13.5px]">
          <p className="text-warn">◆ {lesson.suspicious.length === 1 ? 'One reading counts for hardly anything, for all others speak' : 'Some readings count for hardly anything, for all others speak'} against it. Read it again, or leave it out.</p>
          <ul>
            {lesson.suspicious.map((r) => (
              <li key={r.reading}>
                <button className="underline underline-offset-2" onClick={() => useWorkshop.setState({ page: { show: 'trial', id: r.trial } })}>
                  print {r.number}, {r.feature}
                </button>
                : <span className="fig">{r.measured_mm.toFixed(2)}</span> read for <span className="fig">{r.drawn_mm.toFixed(2)}</span> drawn
              </li>
            ))}
          </ul>
        </section>
      )}
      {lesson.lines.length > 0 && (
        <div className="grid grid-cols-2 gap-4 max-[1150px]:grid-cols-1">
          {lesson.lines.map((line) => (
            <Plot key={line.key} line={line} />
          ))}
        </div>
      )}
      <Terms lesson={lesson} />
      <section aria-label="versions" className="border border-ink bg-card px-4 py-3">
        <h2 className="font-semibold">Versions of this profile</h2>
        <ol className="text-[13.5px]">
          {lesson.versions.map((v) => (
            <li key={v.version} className="flex gap-3 border-b border-hair py-1 last:border-0">
              <span className="fig w-6">{v.version}</span>
              <span className="flex-1">{v.reason}</span>
              <span className="fig text-ink2">
                outside {signed(v.outside_mm, 2)} · inside {signed(v.inside_mm, 2)} mm a side
              </span>
              <span className="w-28 text-right text-ink2">{when(v.at)}</span>
            </li>
          ))}
          {!lesson.versions.length && <li className="text-ink2">Version {profile.version}, as it ships. {profile.source}</li>}
        </ol>
      </section>
    </>
  )
}

function Nothing({ lesson }: { lesson: Lesson }) {
  return (
    <section className="border border-ink bg-card px-4 py-3">
      <h2 className="text-[16px] font-semibold">{lesson.measured ? 'Nothing to correct' : 'What your printer really makes'}</h2>
      <p className="mb-2 text-ink2">
        {lesson.measured
          ? 'What was measured agrees with the profile that the gaps rest on.'
          : 'Every print deviates from what was drawn. Measure a print, or only say how its joints fit; the profile and the drawn gaps are then corrected from it, and it says how sure that is.'}
      </p>
      <button className="plain" onClick={() => void lookAtCoupon('sizes')}>
        See the coupon that would tell most
      </button>
    </section>
  )
}

/** Before and after; where both read the same, that is what is said. */
function says(j: { chance_before: number; chance_after: number }): string {
  const [before, after] = [j.chance_before, j.chance_after].map((c) => Math.round(100 * c))
  return before === after ? `as before, ${after} of 100` : `${before} → ${after} of 100`
}

/** What taking a correction over is good for, where it is not plain from the chances. */
function goodFor(changed: number, joints: { chance_before: number; chance_after: number }[], again: number): string {
  const moved = joints.some((j) => Math.abs(j.chance_after - j.chance_before) >= 0.005)
  if (changed || moved || !joints.length) return ''
  const what = 'These joints fit as well as before; what it is good for is the next joint on this printer, which starts from measured figures.'
  return again ? what : `${what} Nothing has to be printed again.`
}

function ProposalCard({ lesson }: { lesson: Lesson }) {
  const proposal = lesson.proposal!
  const id = useStore((s) => s.id)
  const [busy, setBusy] = useState(false)
  const refused = useWorkshop((s) => s.refused)
  const changed = proposal.joints.filter((j) => Math.abs(j.drawn_after_mm - j.drawn_before_mm) > 1e-6)
  const again = [...new Set(proposal.joints.flatMap((j) => j.changes))]
  const accept = async () => {
    setBusy(true)
    await acceptProposal()
    setBusy(false)
  }
  if (proposal.dismissed) {
    return (
      <p className="border border-hair bg-card px-4 py-2 text-[13.5px]" data-proposal="dismissed">
        A correction from {counted(lesson.readings, 'reading')} and {counted(lesson.verdicts, 'verdict')} was set aside.{' '}
        <button className="underline underline-offset-2" onClick={() => void attempt('proposal', () => api.dismissProposal(id)).then(refreshWorkshop)}>
          take it up again
        </button>
      </p>
    )
  }
  return (
    <section data-proposal="open" aria-label="proposal" className="border border-ink bg-card px-4 py-3">
      <div>
        <h2 className="text-[16px] font-semibold">{headline(lesson.terms)}</h2>
        <p className="text-[13.5px] text-ink2">{proposal.reason}</p>
        <p className="mt-1.5">
          {!changed.length && !goodFor(0, proposal.joints, again.length) && 'No drawn gap moves; how sure they are does. '}
          {goodFor(changed.length, proposal.joints, again.length)}
        </p>
        {proposal.joints.length > 0 && (
          <table className="mt-2 w-full">
            <thead className="text-left text-[13px] text-ink2">
              <tr className="border-b border-hair">
                <th className="py-0.5 font-normal">joint</th>
                <th className="font-normal">drawn gap</th>
                <th className="font-normal">taken off</th>
                <th className="text-right font-normal">fits</th>
              </tr>
            </thead>
            <tbody>
              {proposal.joints.map((j) => (
                <tr key={j.joint} className="border-b border-hair align-baseline">
                  <td className="py-0.5 pr-4 font-semibold">{j.name}</td>
                  <td className="fig pr-4 whitespace-nowrap">{changed.includes(j) ? `${j.drawn_before_mm.toFixed(2)} → ${j.drawn_after_mm.toFixed(2)} mm` : `${j.drawn_after_mm.toFixed(2)} mm as before`}</td>
                  <td className="pr-4 text-ink2">{changed.includes(j) ? j.changes.join(' and ') : ''}</td>
                  <td className="fig text-right font-semibold whitespace-nowrap">{says(j)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <p className="mt-1.5">
          To print again: <b>{again.join(', ') || 'nothing'}</b>
        </p>
      </div>
      <div className="mt-2 flex items-center gap-2">
        <button className="strong" data-accept disabled={busy} onClick={() => void accept()}>
          Take it over as version {proposal.version}
        </button>
        <button className="plain" onClick={() => void attempt('proposal', () => api.dismissProposal(id)).then(refreshWorkshop)}>
          Not now
        </button>
        <span className="text-[12.5px] text-ink2">It can be taken back.</span>
      </div>
      {refused?.at === 'proposal' && (
        <p role="alert" className="mt-1 text-[13px] text-wrong">
          {refused.text}
        </p>
      )}
    </section>
  )
}

/** What the evidence says of faces and openings in the layers' plane, with how sure it is. */
function headline(terms: Lesson['terms']): string {
  const of = (kind: string) => {
    const found = terms.filter((t) => t.term === `${kind}_x` || t.term === `${kind}_y`)
    const mean = (key: 'after' | 'after_sd') => found.reduce((sum, t) => sum + t[key], 0) / found.length
    return { mm: mean('after'), half: 2 * mean('after_sd') }
  }
  const [outside, inside] = [of('outside'), of('inside')]
  const say = ({ mm, half }: typeof outside) => `${Math.abs(mm).toFixed(2)} ± ${half.toFixed(2)} mm`
  return `Outside faces ${outside.mm < 0 ? 'lie back' : 'lie proud'} ${say(outside)} on each side, openings ${inside.mm < 0 ? 'open up' : 'close in'} ${say(inside)}`
}

function Terms({ lesson }: { lesson: Lesson }) {
  return (
    <section aria-label="terms" className="border border-ink bg-card px-4 py-3">
      <h2 className="font-semibold">What is believed of it, term by term</h2>
      <table className="w-full text-[13.5px]">
        <thead>
          <tr className="text-left text-[12.5px] text-ink2">
            <th className="font-normal" />
            <th className="py-0.5 text-right font-normal">profile, ± 2 sd</th>
            <th className="text-right font-normal">with all evidence, ± 2 sd</th>
            <th className="w-24 pl-2 font-normal" />
          </tr>
        </thead>
        <tbody>
          {lesson.terms.map((t) => (
            <tr key={t.term} className="border-t border-hair">
              <td className="py-0.5">{t.says}</td>
              <td className="fig text-right">
                {signed(t.before)} ± {(2 * t.before_sd).toFixed(3)}
              </td>
              <td className={`fig text-right ${lesson.measured ? 'font-semibold' : 'text-ink2'}`}>
                {signed(t.after)} ± {(2 * t.after_sd).toFixed(3)}
              </td>
              <td className="pl-2 text-[12.5px] text-ink2">{t.unit}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1.5 text-[12.5px] text-ink2">
        Besides, one print differs from the next by {lesson.scatter_mm.common.toFixed(3)} mm a side as a whole, and each face by {lesson.scatter_mm.random.toFixed(3)} mm by itself (standard deviations).
      </p>
    </section>
  )
}
