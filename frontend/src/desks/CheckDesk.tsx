/** What could go wrong with the printed pieces: each finding with its figure, its limit, its place, and what to do. */
import { Vector3 } from 'three'
import type { Check, Finding } from '../api/client'
import { type Desk, shownReport, useStore } from '../state/store'
import { StateMark, tint } from '../widgets/Lozenge'
import { Limits } from './Limits'

export function CheckDesk() {
  const report = useStore(shownReport)
  const parts = report?.parts.length ?? 0
  const checks = report?.checks ?? []
  const open = checks.filter((c) => c.findings.length)
  const well = checks.filter((c) => !c.findings.length && !c.empty)
  const nothing = [...new Set(checks.flatMap((c) => (c.empty ? [c.well] : [])))]
  if (!parts && !open.length) {
    return (
      <div className="px-4 py-4">
        <p className="mb-1 text-[16px] font-semibold">Before you print</p>
        <p className="mb-3 text-ink2">What would not print, not go together or not hold is found here, with its place. There is no part to look at yet.</p>
        <button className="strong" onClick={() => useStore.setState({ desk: 'shape' })}>
          Make one
        </button>
      </div>
    )
  }
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" aria-busy={!report?.measured}>
      <Limits />
      <p role="status" className="px-4 pt-3 pb-2 text-[16px] font-semibold">
        {!report?.measured ? 'Checking …' : open.length ? summary(open) : 'Nothing to object.'}
      </p>
      {open.map((check) => (
        <section key={check.check} aria-label={check.title} className="border-t border-hair">
          <h2 className="px-4 pt-2 text-[13px] text-ink2">{check.title}</h2>
          <ul>
            {check.findings.map((finding, i) => (
              <Row key={i} finding={finding} told={check.findings[i - 1]?.advice === finding.advice} />
            ))}
          </ul>
        </section>
      ))}
      {well.length > 0 && (
        <ul aria-label="what is well" className="border-t border-hair px-4 py-2">
          {well.map((check) => (
            <li key={check.check} className="py-0.5 text-[13.5px]">
              <StateMark state="well" /> {check.well}
            </li>
          ))}
          {nothing.map((words) => (
            <li key={words} className="py-0.5 text-[13.5px] text-ink2">
              {words}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

function summary(checks: Check[]): string {
  const count = (state: string) => checks.flatMap((c) => c.findings).filter((f) => f.state === state).length
  const [wrong, doubtful] = [count('wrong'), count('doubtful')]
  return [wrong && `${wrong} wrong`, doubtful && `${doubtful} doubtful`].filter(Boolean).join(', ')
}

/** Brings a finding before the eyes: its place on the stage, or the step that it speaks of. */
export function goTo(finding: Finding): void {
  const { viewer } = useStore.getState()
  if (finding.place) viewer?.eye.centre(new Vector3().fromArray(finding.place))
  else if (finding.step) useStore.setState({ desk: 'shape', focusStep: finding.step })
  else if (finding.joint) useStore.setState({ desk: 'join', focusJoint: finding.joint })
}

/** One finding; `told` where the one before it says already what to do. */
function Row({ finding, told }: { finding: Finding; told: boolean }) {
  const recipe = useStore((s) => s.project!.document.recipe!)
  const to = (word: string, desk: Desk, more: object) => (
    <button className="mr-3 text-[13px] text-ink2 underline underline-offset-2 hover:text-accent" onClick={() => useStore.setState({ desk, ...more })}>
      {word}
    </button>
  )
  return (
    <li className="px-4 py-1.5 hover:bg-row" data-finding={finding.state}>
      <button className="w-full text-left" onClick={() => goTo(finding)} title={finding.place ? 'bring its place into the middle' : ''}>
        <span className={tint(finding.state)}>
          <StateMark state={finding.state} /> {finding.says}
        </span>
        {finding.figure && (
          <span className="fig block">
            <b>{finding.figure}</b>
            {finding.limit && <span className="text-ink2"> · limit {finding.limit}</span>}
          </span>
        )}
        {!told && <span className="block text-[13.5px]">{finding.advice}</span>}
      </button>
      {finding.step && to(`to step ${recipe.findIndex((s) => s.id === finding.step) + 1}`, 'shape', { focusStep: finding.step })}
      {finding.joint && to('to the joint', 'join', { focusJoint: finding.joint })}
    </li>
  )
}
