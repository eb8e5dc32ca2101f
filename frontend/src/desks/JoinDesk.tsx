/** The joints with what they work out: the three gaps, which half gives way, and the chance. */
import { useEffect, useRef } from 'react'
import { Vector3 } from 'three'
import type { Joint } from '../api/client'
import { asShown, perWords } from '../gauges/shown'
import { send } from '../state/commands'
import { shownChips } from '../state/fields'
import { atLimits } from '../state/looking'
import { shownJoints, useStore } from '../state/store'
import { lookAtCoupon } from '../state/workshop'
import { startDraft } from '../state/writing'
import { StateMark, tint } from '../widgets/Lozenge'
import { length, range, signed } from '../widgets/figures'
import { Distribution } from './Distribution'
import { GapScale } from './GapScale'
import { Hold } from './Hold'
import { SetUpAsked, useProfile } from './OnPrinter'
import { SectionDrawing } from './SectionDrawing'
import { Working } from './Working'

export function JoinDesk() {
  const joints = useStore(shownJoints)
  const focus = useStore((s) => s.focusJoint)
  const kinds = useStore((s) => s.kinds)!
  const current = focus ?? joints[0]?.step
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      {joints.map((joint) => (joint.step === current ? <Card key={joint.step} joint={joint} /> : <Line key={joint.step} joint={joint} />))}
      {!joints.length && (
        <div className="px-4 py-4">
          <p className="mb-1 text-[16px] font-semibold">Where two parts meet</p>
          <p className="mb-3 text-ink2">
            A joint shapes both halves at once and keeps the gap between them, whatever else changes. Make a part with an open end first; then close it with a lid that plugs in.
          </p>
          {kinds.kinds.filter((k) => k.group === 'join').map((k) => (
            <button key={k.kind} className="strong" onClick={() => (useStore.setState({ desk: 'shape' }), startDraft(k, null))}>
              {k.title}
            </button>
          ))}
        </div>
      )}
    </div>
  )
}

function Line({ joint }: { joint: Joint }) {
  const parts = useStore((s) => s.project!.document.parts!)
  return (
    <button className="flex w-full items-baseline gap-2 border-b border-hair px-4 py-3 text-left hover:bg-row" onClick={() => useStore.setState({ focusJoint: joint.step })}>
      <span className="font-semibold">{joint.name}</span>
      <span className="flex-1 truncate text-[13px] text-ink2">{joint.parts.map((p) => parts.find((q) => q.id === p)?.name).join(', ')}</span>
      <StateMark state={joint.state} /> {joint.says}
    </button>
  )
}

function Card({ joint: kept }: { joint: Joint }) {
  const joint = asShown(kept)
  const per = perWords(joint)
  const project = useStore((s) => s.project)!
  const used = useProfile()
  const measured = (used.version ?? 1) > 1
  const unit = project.document.unit ?? 'mm'
  const step = project.document.recipe!.find((s) => s.id === joint.step)
  const number = project.document.recipe!.findIndex((s) => s.id === joint.step) + 1
  const box = useRef<HTMLElement>(null)
  useEffect(() => void box.current?.scrollIntoView({ block: 'nearest' }), [joint.step])
  const fields = (step?.fields ?? {}) as Record<string, string>
  const kind = useStore((s) => s.kinds!.kinds.find((k) => k.kind === step?.kind))
  const asked = kind ? shownChips(kind, fields) : []
  const fits = kind?.fields.find((f) => f.name === 'fit')?.choices ?? []
  const name = (id: string) => project.document.parts!.find((p) => p.id === id)?.name ?? 'a part'
  const mm = (v: number) => length(v, unit)
  // what nobody prints, no printer changes
  const made = joint.printed.some(Boolean)
  return (
    <section ref={box} data-joint={joint.name} className="border-b border-hair border-l-[3px] border-l-accent bg-row px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[16px] font-semibold">{joint.name}</h2>
        <button className="text-[13px] text-ink2 hover:text-accent" onClick={() => useStore.setState({ desk: 'shape', focusStep: joint.step })}>
          step {number}
        </button>
      </div>
      <p className="text-[13px] text-ink2">{joint.parts.length === 2 ? `${name(joint.parts[1])} ${joint.per === 'across' ? 'against' : 'into'} ${name(joint.parts[0])}` : ''}; all gaps are {{ diameter: 'on diameter', side: 'per side', across: 'straight across' }[joint.per]}</p>
      {joint.state === 'failed' && <p className="mt-2 text-wrong">▲ {joint.says}</p>}
      {joint.wanted_mm && (
        <>
          <dl className="mt-2">
            <Gap word="wanted" more={fields.fit ? `${fields.fit === 'iso' ? `ISO 286 ${fields.zones}` : fields.fit} fit` : ''} figure={range(joint.wanted_mm.least, joint.wanted_mm.most, unit)} />
            {joint.drawn_mm !== null && (
              <Gap word="drawn" more={fields.halves === 'both' ? 'as it was made' : made ? `${mm(joint.drawn_mm - joint.wanted_mm.target)} more than the target, for this printer` : 'as wanted: neither half is printed'} figure={mm(joint.drawn_mm)} />
            )}
            {joint.measured_mm && (
              <Gap
                word="measured"
                more="drawn gap on the solids, least to most"
                figure={!uneven(joint) ? mm(joint.measured_mm.least) : range(joint.measured_mm.least, joint.measured_mm.most, unit)}
              />
            )}
            {joint.measured_mm && uneven(joint) && (
              <>
                <Gap word="room" more="all round, where the inner half fits best" figure={mm(joint.measured_mm.room)} />
                <Gap word="play" more="half the way from stop to stop, where longest" figure={joint.measured_mm.play > NO_STOP_MM ? 'no stop' : mm(joint.measured_mm.play)} />
              </>
            )}
            {joint.tolerance && (
              <>
                <Gap word="at limits" more="room and play, worst cases of the tolerances" figure={range(joint.tolerance.room, joint.tolerance.play, unit)} />
                <Gap word="likely" more="room and play, limits as three standard deviations" figure={range(joint.tolerance.likely_room, joint.tolerance.likely_play, unit)} />
              </>
            )}
            {joint.expected_mm && <Gap word="expected" more={made ? used.name : 'as it is made, within its tolerances'} figure={range(joint.expected_mm.low, joint.expected_mm.high, unit)} />}
          </dl>
          <SectionDrawing joint={kept} />
          {joint.note && <p className="mt-2 text-[13.5px] text-warn">◆ {joint.note}</p>}
          {joint.measured_mm && uneven(joint) && <Culprits joint={joint} unit={unit} />}
          {joint.measured_mm && joint.measured_mm.tilt_rad > 0.002 && (
            <p className="mt-1 text-[13.5px] text-ink2">
              As drawn it can rock by <span className="fig">{((joint.measured_mm.tilt_rad * 180) / Math.PI).toFixed(1)}°</span> to either side.
            </p>
          )}
          {joint.tolerance && joint.tolerance.rows.length > 0 && (
            <p className="mt-2 text-[13.5px]">
              Moves it most: <b>{joint.tolerance.rows[0].name}</b> of {joint.tolerance.rows[0].part},{' '}
              <span className="fig">
                {signed(joint.tolerance.rows[0].at_lower)} at its lower, {signed(joint.tolerance.rows[0].at_upper)} mm {per} at its upper limit
              </span>
              .
            </p>
          )}
          <Worst joint={joint} />
          {asked.includes('takes') && (
            <>
              <p className="mt-3" id="takes">
                A change of the gap lands on
              </p>
              <div role="group" aria-labelledby="takes" className="mt-1 flex">
                {([['inner', name(joint.parts[1])], ['outer', name(joint.parts[0])], ['both', 'both']] as const).map(([value, word]) => (
                  <button
                    key={value}
                    aria-pressed={fields.takes === value}
                    onClick={() => void send({ do: 'EditStep', step: joint.step, fields: { takes: value } })}
                    className={`-ml-px border border-ink px-3 py-0.5 first:ml-0 ${fields.takes === value ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}
                  >
                    {word}
                  </button>
                ))}
              </div>
            </>
          )}
          {fits.length > 0 && <p className="mt-3">Fit</p>}
          <div role="group" aria-label="fit" className="mt-1 flex flex-wrap">
            {fits.map((fit) => (
              <button
                key={fit.value}
                aria-pressed={fields.fit === fit.value}
                onClick={() => void send({ do: 'EditStep', step: joint.step, fields: { fit: fit.value } })}
                className={`-ml-px border border-ink px-3 py-0.5 first:ml-0 ${fields.fit === fit.value ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}
              >
                {fit.label}
              </button>
            ))}
          </div>
          <GapScale joint={kept} />
          <Distribution joint={kept} />
          {joint.chance && (
            <p className={`mt-2 ${joint.state === 'well' ? '' : tint(joint.state)}`}>
              <StateMark state={joint.state} /> {joint.goes_in} in <b>{Math.round(joint.chance.goes_in * 100)} of 100</b> prints, {joint.holds} in{' '}
              <b>{Math.round(joint.chance.holds * 100)}</b>; {joint.working && joint.working.kept < 0.995 ? 'both, and within the limits below,' : 'both'} in <b>{Math.round(joint.chance.fits * 100)}</b>.
            </p>
          )}
          <Hold joint={kept} />
          {joint.steps && joint.drawn_mm !== null && made && (
            <button className="plain mt-2" data-stepped onClick={() => (useStore.setState({ desk: 'learn' }), void lookAtCoupon(`joint:${joint.step}`))}>
              Try it at stepped gaps
            </button>
          )}
          {joint.given && joint.chance && <p className="mt-1 text-[13.5px] text-ink2">{joint.given} <SetUpAsked /></p>}
          {made && joint.expected_mm && joint.expected_mm.unsure > 0.03 && (
            <p className="mt-1 text-[13.5px]">
              How this printer deviates is only known to ±{(2 * joint.expected_mm.unsure).toFixed(2)} mm {per}; {measured ? 'more readings' : 'measuring a print'} would narrow it.{' '}
              <button className="underline underline-offset-2" onClick={() => useStore.setState({ desk: 'learn' })}>
                Learn
              </button>
            </p>
          )}
          {joint.working && <Working work={joint.working} />}
          <p className="mt-2 text-[12.5px] text-ink2">{used.source}</p>
        </>
      )}
    </section>
  )
}

/** More play than this is none: nothing stops the inner half there. */
const NO_STOP_MM = 100

/** Whether a joint's gap is not the same all round, as far as it can be read, so that least, room, play and most are four figures. */
function uneven(joint: Joint) {
  const m = joint.measured_mm
  return !!m && (m.most - m.least > m.within || m.least_by.length + m.most_by.length > 0)
}

/** The two worst combinations of tolerances, to be looked at: model, cut and gauges follow. */
function Worst({ joint }: { joint: Joint }) {
  const limits = useStore((s) => s.limits)
  if (limits)
    return (
      <p className="mt-1 text-[13.5px]">
        This is the model at limits of its tolerances.{' '}
        <button className="underline underline-offset-2" onClick={() => void atLimits(null)}>
          Nominal again
        </button>
      </p>
    )
  const worst = [
    { word: 'tightest', own: joint.tolerance?.tightest ?? {} },
    { word: 'loosest', own: joint.tolerance?.loosest ?? {} },
  ].filter(({ own }) => Object.keys(own).length)
  if (!worst.length) return null
  return (
    <p className="mt-1 text-[13.5px]">
      See it{' '}
      {worst.map(({ word, own }, k) => (
        <span key={word}>
          {k > 0 && ', '}
          <button className="underline underline-offset-2" onClick={() => void atLimits({ overall: 'nominal', parts: {}, dimensions: {}, own })}>
            {word}
          </button>
        </span>
      ))}
      .
    </p>
  )
}

/** Where the gap is least and most, and the step that made it so: a click shows the place, or goes to the step. */
function Culprits({ joint, unit }: { joint: Joint; unit: string }) {
  const recipe = useStore((s) => s.project!.document.recipe!)
  const m = joint.measured_mm!
  const rows = [
    { word: 'least', figure: m.least, by: m.least_by, at: m.least_at },
    { word: 'most', figure: m.most, by: m.most_by, at: m.most_at },
  ].filter((row) => row.by.length)
  return (
    <ul className="mt-1 text-[13.5px]">
      {rows.map(({ word, figure, by, at }) => (
        <li key={word}>
          <button className="underline underline-offset-2" onClick={() => useStore.getState().viewer?.eye.centre(middle(at))}>
            {word} <span className="fig">{length(figure, unit)}</span>
          </button>
          , made by{' '}
          {by.map((id, k) => {
            const number = recipe.findIndex((s) => s.id === id)
            return (
              <span key={id}>
                {k > 0 && ', '}
                <button className="underline underline-offset-2" onClick={() => useStore.setState({ desk: 'shape', focusStep: id })}>
                  step {number + 1}
                  {recipe[number]?.name ? ` (${recipe[number].name})` : ''}
                </button>
              </span>
            )
          })}
        </li>
      ))}
    </ul>
  )
}

const middle = (pair: number[][]) => new Vector3().fromArray(pair[0]).add(new Vector3().fromArray(pair[1])).multiplyScalar(0.5)

function Gap({ word, more, figure }: { word: string; more: string; figure: string }) {
  return (
    <div className="flex items-baseline justify-between gap-2 border-b border-hair py-1.5">
      <dt>
        {word} <span className="text-[12.5px] text-ink2">{more}</span>
      </dt>
      <dd className="fig shrink-0 font-semibold">{figure}</dd>
    </div>
  )
}
