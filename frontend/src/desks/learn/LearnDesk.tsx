/** The sheet of the Learn desk: the printer and what is known of it, the print diary, and the revisions. */
import { useEffect, useState } from 'react'
import { type Trial, api } from '../../api/client'
import { shownJoints, useStore } from '../../state/store'
import { attempt, compareStates, lookAtCoupon, refreshWorkshop, useWorkshop } from '../../state/workshop'
import { StateMark } from '../../widgets/Lozenge'
import { useProfile } from '../OnPrinter'

/** Of more joints than these the coupons are shown when they are asked for, and verdicts in one line. */
const MANY = 4

export function LearnDesk() {
  const kept = useWorkshop((s) => s.kept)
  const page = useWorkshop((s) => s.page)
  const catalogue = useWorkshop((s) => s.catalogue)
  const begins = useWorkshop((s) => s.busy === 'print')
  const refused = useWorkshop((s) => (s.refused?.at === 'print' ? s.refused.text : ''))
  const version = useStore((s) => s.project!.version)
  const joints = useStore(shownJoints).filter((j) => j.steps && j.drawn_mm !== null && j.printed.some(Boolean))
  const many = joints.length > MANY
  const [all, setAll] = useState(false)
  const profile = useProfile()
  useEffect(() => void refreshWorkshop(), [version])
  const lesson = kept?.lesson
  const proposal = lesson?.proposal
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <Item on={page.show === 'printer'} go={() => useWorkshop.setState({ page: { show: 'printer' } })} name="printer">
        <span className="font-semibold">{profile.name}</span> <span className="text-[13px] text-ink2">version {profile.version}</span>
        <span className="block text-[13.5px]">
          {lesson && lesson.measured > 0 ? `Known from ${counted(lesson.readings, 'reading')} and ${counted(lesson.verdicts, 'verdict')}.` : 'Not measured yet; gaps rest on what is usual.'}
        </span>
        {proposal && !proposal.dismissed && <span className="block text-[13.5px] text-warn">◆ it proposes a correction</span>}
      </Item>
      <h2 className="border-b border-hair px-4 pt-3 pb-1 text-[13px] text-ink2">Print diary</h2>
      {begins && (
        <p role="status" className="border-b border-hair px-4 py-2.5 text-[13.5px] text-ink2">
          A print begins as soon as its layers are worked out …
        </p>
      )}
      {refused && (
        <p role="alert" className="border-b border-hair px-4 py-2.5 text-[13.5px] text-wrong">
          The print did not begin. {refused}
        </p>
      )}
      {kept?.trials.length === 0 && !begins && !refused && (
        <p className="border-b border-hair px-4 py-2.5 text-[13.5px] text-ink2">
          Nothing printed yet. Print the parts on the Print desk, or a coupon below; then measure here, or just say how it fits.
        </p>
      )}
      <ol aria-label="print diary">
        {[...(kept?.trials ?? [])].reverse().map((trial) => (
          <li key={trial.id}>
            <Item on={page.show === 'trial' && page.id === trial.id} go={() => useWorkshop.setState({ page: { show: 'trial', id: trial.id } })} name={`print ${trial.number}`}>
              <TrialLine trial={trial} />
            </Item>
          </li>
        ))}
      </ol>
      <h2 className="border-b border-hair px-4 pt-3 pb-1 text-[13px] text-ink2">Coupons: small prints that tell more</h2>
      {((catalogue?.coupons ?? []) as { kind: string; title: string; about: string }[]).map((c) => (
        <Item key={c.kind} on={page.show === 'coupon' && page.kind === c.kind} go={() => void lookAtCoupon(c.kind)} name={c.title}>
          <span className="font-semibold">{c.title}</span>
          <span className="block text-[13px] text-ink2">{c.about}</span>
        </Item>
      ))}
      {many && (
        <button className="w-full border-b border-hair px-4 py-2.5 text-left hover:bg-row" aria-expanded={all} onClick={() => setAll(!all)}>
          <span className="font-semibold">A joint at stepped gaps</span>
          <span className="block text-[13px] text-ink2">{all ? 'one of these:' : `five prints of its very halves: one of ${joints.length} joints`}</span>
        </button>
      )}
      {(many && !all ? joints.filter((j) => page.show === 'coupon' && page.kind === `joint:${j.step}`) : joints).map((j) => (
        <Item key={j.step} on={page.show === 'coupon' && page.kind === `joint:${j.step}`} go={() => void lookAtCoupon(`joint:${j.step}`)} name={`${j.name} at stepped gaps`}>
          <span className="font-semibold">{j.name} at stepped gaps</span>
        </Item>
      ))}
      <Revisions />
    </div>
  )
}

const ORDINALS = ['First', 'Second', 'Third', 'Fourth', 'Fifth', 'Sixth', 'Seventh', 'Eighth', 'Ninth', 'Tenth']
export const counted = (n: number, word: string): string => `${n} ${word}${n === 1 ? '' : 's'}`
export const trialName = (t: Trial): string => (ORDINALS[t.number - 1] ? `${ORDINALS[t.number - 1]} print` : `Print ${t.number}`)
export const trialParts = (t: Trial): string => (t.title ? t.title : t.coupon ? 'coupon' : t.parts.map((p) => p.name).join(', '))
export const readingsOf = (t: Trial): number => t.parts.flatMap((p) => p.features).reduce((n, f) => n + f.readings.length, 0)

function TrialLine({ trial }: { trial: Trial }) {
  const n = readingsOf(trial)
  const names = Object.fromEntries(trial.joints.map((j) => [j.step, j.name]))
  const well = trial.verdicts.filter((v) => v.went_in !== null || v.verdict === 'good')
  // of a joint at stepped gaps one good one is what was looked for
  const stepped = trial.coupon.startsWith('joint:')
  const state = trial.verdicts.length ? (stepped ? well.length > 0 : well.length === trial.verdicts.length) ? 'well' : 'wrong' : null
  const others = trial.verdicts.filter((v) => !well.includes(v))
  const long = trial.verdicts.length > MANY
  const numbers = well.map((v) => v.joint.split('@')[1]).join(', ')
  return (
    <>
      <span className="flex items-baseline gap-2">
        <span className="font-semibold">{trialName(trial)}</span>
        <span className="flex-1 truncate text-[13px] text-ink2">
          {trial.revision !== null && `revision ${trial.revision} · `}
          {trialParts(trial)}
        </span>
        {state && <StateMark state={state} />}
      </span>
      <span className="block text-[13.5px]">
        {trial.state === 'printing' ? `printing, ${Math.round(100 * (trial.share ?? 0))} %` : trial.state === 'stopped' ? 'stopped; nothing came of it' : (
          <>
            {stepped && trial.verdicts.length > 0 && (numbers ? <>Gap <b>{numbers} good</b>. </> : <><b>None good</b> of {trial.verdicts.length} tried. </>)}
            {!stepped && long && (
              <>
                <b>{well.length} of {trial.verdicts.length} good</b>
                {well.length < trial.verdicts.length && '; '}
                {[...new Set(others.map((v) => v.verdict))].map((word, k) => (
                  <span key={word}>{k > 0 && '; '}<b>{word}</b>: {others.filter((v) => v.verdict === word).map((v) => names[v.joint] ?? 'joint').join(', ')}</span>
                ))}.{' '}
              </>
            )}
            {!stepped && !long && trial.verdicts.map((v) => (
              <span key={v.id}>
                {v.went_in !== null ? <b>{v.went_in} of {trial.ladder_mm.length} went in</b> : <>{names[v.joint] ?? 'Joint'} <b>{v.verdict}</b></>}.{' '}
              </span>
            ))}
            {n ? `${counted(n, 'reading')}.` : trial.verdicts.length ? '' : 'Not measured yet.'} {trial.note && <i>{trial.note}</i>}
          </>
        )}
      </span>
    </>
  )
}

export function Item({ on, go, name, children }: { on: boolean; go: () => void; name: string; children: React.ReactNode }) {
  return (
    <button aria-current={on || undefined} data-item={name} className={`block w-full border-b border-hair border-l-[3px] px-[13px] py-2 text-left -outline-offset-2 ${on ? 'border-l-accent bg-row' : 'border-l-transparent hover:bg-row'}`} onClick={go}>
      {children}
    </button>
  )
}

function Revisions() {
  const kept = useWorkshop((s) => s.kept)
  const page = useWorkshop((s) => s.page)
  const id = useStore((s) => s.id)
  const refused = useWorkshop((s) => s.refused)
  const [note, setNote] = useState('')
  const freeze = async () => {
    if (await attempt('revisions', () => api.freeze(id, note))) {
      setNote('')
      await refreshWorkshop()
    }
  }
  return (
    <section aria-label="revisions">
      <h2 className="border-b border-hair px-4 pt-3 pb-1 text-[13px] text-ink2">Revisions</h2>
      {[...(kept?.revisions ?? [])].reverse().map((r) => (
        <Item key={r.number} name={`revision ${r.number}`} on={page.show === 'compare' && page.from === String(r.number)} go={() => void compareStates(String(r.number), 'now')}>
          <span className="flex items-baseline gap-2">
            <span className="font-semibold">{r.number}</span>
            <span className="flex-1 truncate">{r.note || 'no note'}</span>
            <span className="text-[12.5px] text-ink2">{kept?.frozen === r.number ? 'as now' : when(r.at)}</span>
          </span>
        </Item>
      ))}
      <form className="flex gap-2 px-4 py-2.5" onSubmit={(e) => (e.preventDefault(), void freeze())}>
        <input className="field" aria-label="note of the revision" placeholder="what is new in it?" maxLength={400} value={note} onChange={(e) => setNote(e.target.value)} />
        <button className="plain shrink-0" type="submit">
          {kept?.frozen ? 'note it' : 'keep as revision'}
        </button>
      </form>
      {refused?.at === 'revisions' && (
        <p role="alert" className="px-4 pb-2 text-[13px] text-wrong">
          {refused.text}
        </p>
      )}
    </section>
  )
}

/** A moment as people say it. */
export function when(iso: string): string {
  const at = new Date(iso)
  return Number.isNaN(at.getTime()) ? iso : at.toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}
