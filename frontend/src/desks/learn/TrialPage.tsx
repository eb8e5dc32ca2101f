/** One print of the diary: how its joints went together, and what was read off it, by caliper or typed. */
import { useEffect, useState } from 'react'
import { type Trial, type TrialFeature, api } from '../../api/client'
import { shownJoints, useStore } from '../../state/store'
import { attempt, drawGap, refreshWorkshop, useWorkshop } from '../../state/workshop'
import { StateMark } from '../../widgets/Lozenge'
import { duration, grams, length, signed } from '../../widgets/figures'
import { UnderWay } from '../UnderWay'
import { useProfile } from '../OnPrinter'
import { upright, useGapWords } from './CouponPage'
import { readingsOf, trialName, trialParts, when } from './LearnDesk'

const VERDICTS = ['too tight', 'good', 'loose', 'broke'] as const
const act = async (at: string, work: () => Promise<unknown>): Promise<boolean> => {
  const done = await attempt(at, async () => (await work(), true))
  if (done) await refreshWorkshop()
  return !!done
}

export function TrialPage({ id }: { id: string }) {
  const trial = useWorkshop((s) => s.kept?.trials.find((t) => t.id === id))
  const lesson = useWorkshop((s) => s.kept?.lesson)
  if (!trial) return <p className="text-ink2">That print is not in the diary any more.</p>
  const done = trial.state === 'done'
  return (
    <>
      <header className="flex items-baseline justify-between gap-4">
        <h2 className="text-[17px] font-semibold">
          {trialName(trial)} <span className="font-normal text-ink2">{trialParts(trial)}</span>
        </h2>
        <span className="text-[13px] text-ink2">
          {trial.revision !== null && `revision ${trial.revision} · `}profile version {trial.profile_version} · {duration(trial.time_s)}, {grams(trial.mass_g)} · {when(trial.began)} ·{' '}
          {trial.machine === null ? 'own printer' : 'simulated printer'}
        </span>
      </header>
      {trial.state === 'printing' && <UnderWay trial={trial} />}
      {trial.state === 'stopped' && <p className="text-wrong">▲ Stopped; nothing came of it.</p>}
      {done && lesson?.proposal && !lesson.proposal.dismissed && (
        <p className="border border-warn bg-card px-4 py-2" role="status">
          ◆ What is known now proposes a correction of the profile.{' '}
          <button className="underline underline-offset-2" data-to-proposal onClick={() => useWorkshop.setState({ page: { show: 'printer' } })}>
            see what it changes
          </button>
        </p>
      )}
      {done && !trial.coupon && <Joints trial={trial} />}
      {done && trial.ladder_mm.length > 0 && <Ladder trial={trial} />}
      {done && trial.coupon.startsWith('joint:') && <Steps trial={trial} />}
      {done && <Readings trial={trial} />}
      <Note trial={trial} />
    </>
  )
}

function Refused({ at }: { at: string }) {
  const refused = useWorkshop((s) => s.refused)
  if (refused?.at !== at) return null
  return (
    <p role="alert" className="text-[13px] text-wrong">
      {refused.text}
    </p>
  )
}

function Joints({ trial }: { trial: Trial }) {
  const id = useStore((s) => s.id)
  const simulated = trial.machine !== null
  if (!trial.joints.length) return null
  const untried = trial.joints.filter((j) => !trial.verdicts.some((v) => v.joint === j.step))
  const tryAll = async () => {
    for (const j of untried) await api.judge(id, { joint: j.step })
  }
  return (
    <section aria-label="joints of this print" className="border border-ink bg-card px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h3 className="font-semibold">Did it go together?</h3>
        {simulated && untried.length > 2 && (
          <button className="plain" data-try-all onClick={() => void act('joints', tryAll)}>
            Try all {untried.length} with these pieces
          </button>
        )}
      </div>
      <Refused at="joints" />
      {trial.joints.map((j) => (
        <div key={j.step} data-verdict={j.name} className="border-b border-hair py-2 last:border-0">
          <div className="flex flex-wrap items-center gap-2">
            <span className="w-56">
              {j.name} <span className="fig text-ink2">{j.drawn_mm.toFixed(2)} drawn</span>
            </span>
            {simulated && (
              <button className="plain" data-try onClick={() => void act(`joint ${j.step}`, () => api.judge(id, { joint: j.step }))}>
                Try it with these pieces
              </button>
            )}
            <span className="text-[13px] text-ink2">or say how it was:</span>
            <Verdicts label={`how ${j.name} went`} say={(verdict) => void act(`joint ${j.step}`, () => api.judge(id, { joint: j.step, verdict }))} />
          </div>
          <Said trial={trial} joint={j.step} />
          <Refused at={`joint ${j.step}`} />
        </div>
      ))}
    </section>
  )
}

/** What may be said of how it went; with `said` one of them is what was. */
function Verdicts({ label, said, say }: { label: string; said?: string; say: (verdict: (typeof VERDICTS)[number]) => void }) {
  return (
    <span role="group" aria-label={label} className="flex">
      {VERDICTS.map((v) => (
        <button
          key={v}
          aria-pressed={said === undefined ? undefined : said === v}
          className={`-ml-px border border-ink px-2.5 py-0.5 first:ml-0 ${said === v ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}
          onClick={() => say(v)}
        >
          {v}
        </button>
      ))}
    </span>
  )
}

function Said({ trial, joint }: { trial: Trial; joint: string }) {
  const found = trial.verdicts.filter((v) => v.joint === joint)
  if (!found.length) return null
  return (
    <ul className="mt-1">
      {found.map((v) => (
        <li key={v.id} className="flex items-baseline gap-2">
          <StateMark state={v.went_in !== null || v.verdict === 'good' ? 'well' : 'wrong'} />
          <b>{v.went_in !== null ? `${v.went_in} of ${trial.ladder_mm.length} took the plug` : v.verdict}</b>
          <span className="text-[13px] text-ink2">{v.source === 'said' ? 'as said' : `${v.says} (tried with the simulated pieces)`}</span>
          <button className="text-[12.5px] text-ink2 underline underline-offset-2 hover:text-wrong" onClick={() => void act('verdict', () => api.dropVerdict(v.id))}>
            take away
          </button>
        </li>
      ))}
    </ul>
  )
}

/** A joint at stepped gaps: how it went at each, and to draw the one that went best. */
function Steps({ trial }: { trial: Trial }) {
  const id = useStore((s) => s.id)
  const step = trial.coupon.slice('joint:'.length)
  const per = useGapWords(step)
  const joints = useStore(shownJoints)
  // a correction that waits would move the gap once more
  const waits = useWorkshop((s) => !!s.kept?.lesson.proposal && !s.kept.lesson.proposal.dismissed)
  const there = joints.some((j) => j.step === step) && !waits
  const simulated = trial.machine !== null
  const tryAll = async () => {
    for (const j of trial.joints) await api.judge(id, { joint: j.step, trial: trial.id })
  }
  return (
    <section aria-label="gaps of this print" className="border border-ink bg-card px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h3 className="font-semibold">How did it go at each gap?</h3>
        {simulated && (
          <button className="plain" data-try-all onClick={() => void act('steps', tryAll)}>
            Try all with these pieces
          </button>
        )}
      </div>
      <Refused at="steps" />
      {trial.joints.map((j, k) => {
        const said = trial.verdicts.find((v) => v.joint === j.step)
        return (
          <div key={j.step} data-rung={k + 1} className="border-b border-hair py-2 last:border-0">
            <div className="flex flex-wrap items-center gap-2">
              <span className="w-52">
                gap {k + 1} <b className="fig ml-2">{per.figure(j.drawn_mm)}</b> <span className="text-[13px] text-ink2">{per.words}</span>
              </span>
              <Verdicts label={`how gap ${k + 1} went`} said={said?.verdict ?? ''} say={(verdict) => void act('steps', () => api.judge(id, { joint: j.step, trial: trial.id, verdict }))} />
              {said && (
                <button className="text-[12.5px] text-ink2 underline underline-offset-2 hover:text-wrong" onClick={() => void act('steps', () => api.dropVerdict(said.id))}>
                  take away
                </button>
              )}
              {said?.verdict === 'good' && there && (
                <button className="plain ml-auto" data-draw-gap onClick={() => void drawGap(step, j.drawn_mm)}>
                  Draw this gap
                </button>
              )}
            </div>
            {said?.says && <p className="mt-0.5 text-[13px] text-ink2">{said.says} (tried with the simulated pieces)</p>}
          </div>
        )
      })}
      {there && trial.verdicts.length > 0 && <Best trial={trial} step={step} />}
      {waits && trial.verdicts.length > 0 && <p className="pt-2">Take over the correction that follows, or set it aside; then the best of these gaps can be drawn.</p>}
      <p className="mt-1.5 text-[12.5px] text-ink2">
        What is said here teaches the printer, as any verdict does. Where you like one of the good gaps better than what its fit wants, draw that one.
      </p>
    </section>
  )
}

/** The gap that is best by all that is known now, what flares included. */
function Best({ trial, step }: { trial: Trial; step: string }) {
  const per = useGapWords(step)
  const [best, setBest] = useState<{ drawn_mm: number; chance: number } | null>(null)
  useEffect(() => {
    let wanted = true
    void api.bestGap(trial.id).then((found) => wanted && setBest(found), () => wanted && setBest(null))
    return () => void (wanted = false)
  }, [trial])
  if (!best) return null
  return (
    <div className="flex flex-wrap items-center gap-2 pt-2" data-best-gap>
      <span>
        By all that is known now <b className="fig">{per.figure(best.drawn_mm)}</b> {per.words} is best: as far as the gap decides it, good in <b className="fig">{Math.round(100 * best.chance)}</b> of 100.
      </span>
      <button className="strong ml-auto" data-draw-best onClick={() => void drawGap(step, best.drawn_mm)}>
        Draw this one
      </button>
    </div>
  )
}

function Ladder({ trial }: { trial: Trial }) {
  const id = useStore((s) => s.id)
  return (
    <section aria-label="gap ladder" className="border border-ink bg-card px-4 py-3">
      <h3 className="font-semibold">How many openings took the plug?</h3>
      <p className="mb-2 text-[13px] text-ink2">Tightest first; the figure is the gap drawn on each side.</p>
      <div className="flex flex-wrap items-center gap-1.5">
        <button className="plain fig" onClick={() => void act('ladder', () => api.judge(id, { trial: trial.id, went_in: 0 }))}>
          none
        </button>
        {[...trial.ladder_mm].reverse().map((gap, i) => (
          <button
            key={i}
            className="plain fig"
            aria-label={`the loosest ${i + 1} took the plug`}
            onClick={() => void act('ladder', () => api.judge(id, { trial: trial.id, went_in: i + 1 }))}
          >
            {i + 1}: to {gap.toFixed(2)}
          </button>
        ))}
        {trial.machine !== null && (
          <button className="strong" data-try onClick={() => void act('ladder', () => api.judge(id, { trial: trial.id }))}>
            Try it with these pieces
          </button>
        )}
      </div>
      <Said trial={trial} joint="ladder" />
      <Refused at="ladder" />
    </section>
  )
}

function Readings({ trial }: { trial: Trial }) {
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const simulated = trial.machine !== null
  const features = trial.parts.flatMap((p) => p.features)
  const layer_mm = useProfile().settings?.layer_mm
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set())
  if (!features.length) return null
  return (
    <section aria-label="readings" className="border border-ink bg-card px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h3 className="font-semibold">Readings</h3>
        {simulated && (
          <button className="plain" data-read-all onClick={() => void act('caliper', () => api.readAll(trial.id))}>
            Read all with the caliper
          </button>
        )}
      </div>
      <Refused at="caliper" />
      {trial.parts.map((part) => (
        <table key={part.id} className="mt-1.5 w-full text-[13.5px]">
          <thead>
            <tr className="text-left text-[12.5px] text-ink2">
              <th className="w-[24%] font-normal">{part.name}</th>
              <th className="w-20 text-right font-normal">drawn</th>
              <th className="w-[18%] pl-5 font-normal">face and direction</th>
              <th className="pl-4 font-normal">read</th>
            </tr>
          </thead>
          <tbody>
            {shownOf(part.features, open).map(({ feature: f, more }) => (
              <tr key={f.id} data-feature={f.name} className="border-t border-hair align-baseline">
                <td className="py-1">
                  {f.name}
                  {more > 0 && (
                    <button className="ml-2 text-[12.5px] text-ink2 underline underline-offset-2" data-alike onClick={() => setOpen(new Set([...open, alike(f)]))}>
                      and {more} alike
                    </button>
                  )}
                </td>
                <td className="fig text-right whitespace-nowrap">{length(f.drawn_mm, unit)}</td>
                <td className="pl-5 text-[13px] text-ink2">{facing(f)}</td>
                <td className="pl-4">
                  <Read trial={trial} feature={f} simulated={simulated} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
      {layer_mm !== undefined && features.some((f) => betweenLayers(f, layer_mm)) && (
        <p className="mt-1.5 text-[12.5px] text-ink2" data-between-layers>
          What stands upright comes in whole layers of {layer_mm} mm: upright sizes that are no whole number of them teach less.
        </p>
      )}
      <p className="mt-1.5 text-[12.5px] text-ink2">
        {readingsOf(trial) ? 'A reading that is left out stays in the diary but teaches nothing.' : 'Type what you measured, in mm or with a unit; measure well above the bed, away from the seam.'}
      </p>
    </section>
  )
}

/** What the places of a joint that are drawn alike have in common. */
const alike = (f: TrialFeature): string => `${f.name.replace(/, place \d+/, '')} ${f.drawn_mm.toFixed(2)} ${f.role}`

/** The rows of a part: of a joint's places that are alike the first, and those that were read, unless all are asked for. */
function shownOf(features: TrialFeature[], open: ReadonlySet<string>): { feature: TrialFeature; more: number }[] {
  const hidden = new Map<string, number>()
  const rows = features.filter((f) => {
    const key = alike(f)
    const shown = !/, place \d+/.test(f.name) || open.has(key) || !hidden.has(key) || f.readings.length > 0
    hidden.set(key, (hidden.get(key) ?? 0) + (shown ? 0 : 1))
    return shown
  })
  const told = new Set<string>()
  return rows.map((feature) => {
    const key = alike(feature)
    const more = told.has(key) ? 0 : (hidden.get(key) ?? 0)
    told.add(key)
    return { feature, more }
  })
}

function facing(f: TrialFeature): string {
  const way = [', across', ', deep', ', upright'][f.direction.map(Math.abs).indexOf(Math.max(...f.direction.map(Math.abs)))]
  // of a round hole that stands, one direction is as good as the other
  return f.round_hole ? `round, ${f.role}${upright(f) ? way : ''}` : `${f.role}${way}`
}

/** Whether a size that was read stands upright and is no whole number of layers: what stands comes in whole ones, and such a reading teaches less. */
const betweenLayers = (f: TrialFeature, layer_mm: number): boolean =>
  f.readings.length > 0 && upright(f) && Math.abs(f.drawn_mm / layer_mm - Math.round(f.drawn_mm / layer_mm)) > 0.02

function Read({ trial, feature, simulated }: { trial: Trial; feature: TrialFeature; simulated: boolean }) {
  const at = `read ${feature.id}`
  const refused = useWorkshop((s) => (s.refused?.at === at ? s.refused.text : ''))
  const [text, setText] = useState('')
  const keep = async (sure = false) => {
    if (text.trim() && (await act(at, () => api.read(trial.id, { feature: feature.id, text, sure })))) setText('')
  }
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-0.5">
        {feature.readings.map((r) => (
          <span key={r.id} className="flex items-baseline gap-1" data-reading={r.excluded ? 'left out' : 'counts'}>
            <span className={`fig ${r.excluded ? 'text-ink2 line-through' : 'font-semibold'}`}>{r.measured_mm.toFixed(2)}</span>
            <span className="fig text-[12px] text-ink2">{signed(r.measured_mm - feature.drawn_mm, 2)}</span>
            <button className="text-[12px] text-ink2 underline underline-offset-2" onClick={() => void act(at, () => api.exclude(r.id, !r.excluded))}>
              {r.excluded ? 'count' : 'leave out'}
            </button>
            <button className="px-0.5 text-[12px] text-ink2 hover:text-wrong" aria-label={`delete the reading ${r.measured_mm.toFixed(2)}`} onClick={() => void act(at, () => api.dropReading(r.id))}>
              ✕
            </button>
          </span>
        ))}
        {simulated && (
          <button className="text-[13px] underline underline-offset-2" onClick={() => void act(at, () => api.read(trial.id, { feature: feature.id, caliper: true }))}>
            caliper
          </button>
        )}
        <input
          className="field fig w-20! px-1.5! py-0!"
          aria-label={`reading of ${feature.name}`}
          placeholder={feature.drawn_mm.toFixed(1)}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && void keep()}
        />
      </div>
      {refused && (
        <p role="alert" className="text-[13px] text-wrong">
          {refused}{' '}
          {refused.includes('another feature') && (
            <button className="text-ink underline underline-offset-2" onClick={() => void keep(true)}>
              it is right, keep it
            </button>
          )}
        </p>
      )}
    </>
  )
}

function Note({ trial }: { trial: Trial }) {
  const [note, setNote] = useState(trial.note)
  const [sure, setSure] = useState(false)
  return (
    <div className="flex items-center gap-2">
      <input
        className="field max-w-[28rem]"
        aria-label="note of this print"
        placeholder="note: what was seen, what was changed by hand"
        maxLength={400}
        value={note}
        onChange={(e) => setNote(e.target.value)}
        onBlur={() => note !== trial.note && void act('note', () => api.noteTrial(trial.id, note))}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      {sure ? (
        <>
          <button className="plain text-wrong" onClick={() => void act('note', () => api.removeTrial(trial.id)).then(() => useWorkshop.setState({ page: { show: 'printer' } }))}>
            remove it with its readings
          </button>
          <button className="text-[13px] underline underline-offset-2" onClick={() => setSure(false)}>
            keep it
          </button>
        </>
      ) : (
        <button className="text-[13px] text-ink2 underline underline-offset-2 hover:text-wrong" onClick={() => setSure(true)}>
          remove this print
        </button>
      )}
    </div>
  )
}
