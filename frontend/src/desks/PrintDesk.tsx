/** Before a print: on what, how each part lies, what it takes; then to the simulated printer, to one's own, or into files. */
import { Fragment, useEffect, useState } from 'react'
import { api, type PrintPart, type Trial } from '../api/client'
import { shownReport, useStore } from '../state/store'
import { attempt, keepFile, platesOf, refreshPrints, refreshWorkshop, showLayer, startPrint, useOnPlate, useWorkshop } from '../state/workshop'
import { duration, grams, metres } from '../widgets/figures'
import { Stops } from '../widgets/Stops'
import { LieSheet } from './LieSheet'
import { OnPrinter } from './OnPrinter'
import { UnderWay } from './UnderWay'

/** Less than this that cannot be laid is dust of corners, not a missing wall, mm³. */
const MISSED_MM3 = 0.5

export function PrintDesk() {
  const parts = useStore((s) => s.project!.document.parts!)
  const version = useStore((s) => s.project!.version)
  const prints = useWorkshop((s) => s.prints)
  const printsFor = useWorkshop((s) => s.printsFor)
  const refused = useWorkshop((s) => s.refused)
  useEffect(() => {
    // figures follow the document, once it holds still
    const timer = window.setTimeout(() => void refreshPrints(), printsFor < 0 ? 0 : 250)
    return () => window.clearTimeout(timer)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [version])
  useEffect(() => void refreshWorkshop(), [])
  useEffect(() => () => {
    void showLayer(null)
    useStore.setState({ laying: null })
  }, [])
  if (!parts.length) {
    return (
      <div className="px-4 py-4">
        <p className="mb-1 text-[16px] font-semibold">Onto the printer</p>
        <p className="mb-3 text-ink2">Here parts are laid on the bed, layer by layer, with time and material, and sent to a printer or into files. There is no part yet.</p>
        <button className="strong" onClick={() => useStore.setState({ desk: 'shape' })}>
          Make one
        </button>
      </div>
    )
  }
  const stale = printsFor < version
  const plates = platesOf(prints?.parts ?? [])
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" aria-busy={stale}>
      <OnPrinter />
      <section aria-label="plate" className="border-b border-hair px-4 py-3">
        {plates === 1 && <h2 className="font-semibold">On the plate</h2>}
        {refused?.at === 'plate' && <p className="text-[13px] text-wrong" role="alert">{refused.text}</p>}
        {!prints && refused?.at !== 'plate' && <p className="text-[13px] text-ink2" role="status">Laid on the bed …</p>}
        {Array.from({ length: plates }, (_, plate) => (
          <Fragment key={plate}>
            {plates > 1 && <h2 className={`font-semibold ${plate ? 'mt-3' : ''}`}>On plate {plate + 1}</h2>}
            <ul aria-label={plates > 1 ? `plate ${plate + 1}` : 'the plate'}>
              {/* what has no place is told beside the first */}
              {prints?.parts.filter((p) => (p.plate ?? 0) === plate).map((p) => <PartLine key={p.id} part={p} stale={stale} />)}
            </ul>
          </Fragment>
        ))}
        {prints && !prints.parts.length && <p className="text-[13px] text-ink2">No part is printed; give one that role.</p>}
        {prints && <Totals stale={stale} />}
      </section>
      <Send />
      <Files />
    </div>
  )
}

function PartLine({ part, stale }: { part: PrintPart; stale: boolean }) {
  const colour = useStore((s) => s.project!.document.parts!.find((p) => p.id === part.id)?.colour)
  const off = useWorkshop((s) => s.left.has(part.id))
  const alone = useWorkshop((s) => !s.left.has(part.id) && part.in_one_with.some((p) => s.left.has(p)))
  const [open, setOpen] = useState(false)
  const flip = () => {
    const left = new Set(useWorkshop.getState().left)
    if (!left.delete(part.id)) left.add(part.id)
    useWorkshop.setState({ left })
  }
  return (
    <li data-plate={part.name} className="border-b border-hair py-1.5">
      <div className="flex items-center gap-2">
        <input type="checkbox" aria-label={`print ${part.name}`} className="box" checked={!off} onChange={flip} />
        <span aria-hidden className="h-3.5 w-3.5 border border-ink" style={{ background: colour }} />
        <span className={`flex-1 truncate font-semibold ${off ? 'text-ink2' : ''}`}>{part.name}</span>
        {part.estimate && (
          <span className={`fig text-ink2 ${stale ? 'opacity-50' : ''}`}>
            {duration(part.estimate.time_s)} · {grams(part.estimate.mass_g)}
          </span>
        )}
      </div>
      <div className="pl-6 text-[13px]">
        {part.lies_with ? (
          <span className="text-ink2">lies as {nameOf(part.lies_with)} does</span>
        ) : (
          <button className="chip" aria-expanded={open} aria-label={`how ${part.name} lies`} onClick={() => setOpen(!open)}>
            <Lies id={part.id} />
          </button>
        )}
        {part.estimate && <span className="text-ink2"> · {part.estimate.layers} layers</span>}
        {part.in_one_with.length > 0 && <p className="text-ink2">printed in one with {part.in_one_with.map(nameOf).join(' and ')}</p>}
        {alone && <p className="text-warn">◆ what is printed in one with it is left off the plate</p>}
        {part.message && <p className="text-wrong">▲ {part.message}</p>}
        {part.estimate && part.estimate.left_out_mm3 > MISSED_MM3 && (
          <p className="text-warn">◆ {part.estimate.left_out_mm3.toFixed(part.estimate.left_out_mm3 < 10 ? 1 : 0)} mm³ is too thin for any bead and will be missing</p>
        )}
        {!part.message && !off && !part.place_mm && <p className="text-warn">◆ larger than the bed, as it lies</p>}
      </div>
      {open && <LieSheet id={part.id} close={() => setOpen(false)} />}
    </li>
  )
}

const nameOf = (id: string) => useStore.getState().project!.document.parts!.find((p) => p.id === id)?.name ?? 'a part that is gone'

/** How a part lies, in words. */
function Lies({ id }: { id: string }) {
  const part = useStore((s) => s.project!.document.parts!.find((p) => p.id === id))
  const viewer = useStore((s) => s.viewer)
  const shown = useStore(shownReport)
  void shown
  if (!part) return null
  const face = part.lies?.face
  const label = face && viewer?.header(id)?.faces.find((f) => f.name === face.name)?.label
  const turn = part.turn_deg ? `, turned ${part.turn_deg}°` : ''
  return <>{face ? `lies on its ${(label ?? 'face that is gone').replace(new RegExp(` of ${part.name}$`), '')}${turn}` : `lies as modelled${turn}`}</>
}

function Totals({ stale }: { stale: boolean }) {
  const parts = useOnPlate()
  const sum = (key: 'time_s' | 'length_mm' | 'mass_g' | 'price') => parts.reduce((all, p) => all + (p.estimate?.[key] ?? 0), 0)
  if (!parts.length) return <p className="pt-1.5 text-[13px] text-ink2">Nothing is on the plate.</p>
  if (parts.some((p) => !p.estimate && !p.message)) return <p className="pt-1.5 text-[13px] text-ink2" role="status">Layers, time and material are being worked out …</p>
  const rows: [string, string][] = [
    ['time', duration(sum('time_s'))], ['filament', metres(sum('length_mm'))], ['mass', grams(sum('mass_g'))], ['price', sum('price').toFixed(2)],
  ]
  return (
    <dl className={`grid grid-cols-4 gap-2 pt-2 ${stale ? 'opacity-50' : ''}`} data-totals>
      {rows.map(([word, figure]) => (
        <div key={word}>
          <dt className="text-[12.5px] text-ink2">{word}</dt>
          <dd className="fig font-semibold whitespace-nowrap">{figure}</dd>
        </div>
      ))}
    </dl>
  )
}

function Send() {
  const trial = useWorkshop((s) => s.kept?.trials.find((t) => t.state === 'printing'))
  const refused = useWorkshop((s) => s.refused)
  const busy = useWorkshop((s) => s.busy === 'print')
  const [device, setDevice] = useState<'simulated' | 'own'>('simulated')
  const [note, setNote] = useState('')
  const on = useOnPlate()
  const parts = on.map((p) => p.id)
  return (
    <section aria-label="print" className="border-b border-hair px-4 py-3">
      <h2 className="mb-1.5 font-semibold">Print</h2>
      {trial ? (
        <UnderWay trial={trial} />
      ) : (
        <>
          <Finished />
          <Stops name="printer to print on" value={device} options={[['simulated', 'simulated printer'], ['own', 'my own printer']]} set={setDevice} />
          <input className="field mt-2" aria-label="note to this print" placeholder="note to this print" maxLength={400} value={note} onChange={(e) => setNote(e.target.value)} />
          <button
            className="strong mt-2"
            data-print
            disabled={busy || !parts.length}
            onClick={() => void startPrint({ parts, device, note }).then(() => setNote(''))}
          >
            {device === 'simulated' ? `Print what is on the plate${platesOf(on) > 1 ? 's' : ''}` : 'It is printed: into the diary'}
          </button>
          {busy && <p role="status" className="mt-1.5 text-[13px] text-ink2">All layers are worked out, then it begins …</p>}
          <p className="mt-1.5 text-[12.5px] text-ink2">
            {device === 'simulated' ? 'Its faults are hidden; only measuring tells them.' : 'Save files below, print them, then note here what came of it.'} What is printed is kept as a revision.
          </p>
        </>
      )}
      {refused?.at === 'print' && (
        <p role="alert" className="mt-1.5 text-[13px] text-wrong">
          {refused.text}
        </p>
      )}
    </section>
  )
}

/** The last print, as long as nobody has said anything of it: the next thing is to measure it. */
function Finished() {
  const last = useWorkshop((s) => s.kept?.trials.reduce<Trial | null>((was, t) => (was && was.number > t.number ? was : t), null))
  if (!last || last.state !== 'done' || last.verdicts.length || last.parts.some((p) => p.features.some((f) => f.readings.length))) return null
  const what = last.coupon ? 'a coupon' : last.parts.map((p) => p.name).join(', ')
  return (
    <div role="status" data-finished className="mb-2.5 border border-accent bg-card px-3 py-2">
      <p>
        Print {last.number} is done: {what}.
      </p>
      <button className="strong mt-1.5" onClick={() => (useWorkshop.setState({ page: { show: 'trial', id: last.id } }), useStore.setState({ desk: 'learn' }))}>
        Measure it, and say how it fits
      </button>
    </div>
  )
}

function Files() {
  const id = useStore((s) => s.id)
  const [format, setFormat] = useState<'stl' | '3mf' | 'step'>('3mf')
  const [unit, setUnit] = useState<'mm' | 'in'>('mm')
  const [stand, setStand] = useState<'laid' | 'modelled'>('laid')
  const [packs, setPacks] = useState<{ '3mf': 'one' | 'each'; step: 'one' | 'each' }>({ '3mf': 'one', step: 'each' })
  const [pattern, setPattern] = useState('{project} {part}')
  const [saved, setSaved] = useState('')
  const refused = useWorkshop((s) => s.refused)
  const busy = useWorkshop((s) => s.busy === 'files')
  const on = useOnPlate()
  const parts = on.map((p) => p.id)
  const plates = platesOf(on)
  const together = format !== 'stl' && packs[format] === 'one'
  const count = !together ? parts.length : format === '3mf' ? plates : 1
  const save = async () => {
    setSaved('')
    const names = await attempt('files', async () => {
      const groups = together ? [parts] : parts.map((p) => [p])
      const out: string[] = []
      for (const group of groups) out.push(keepFile(await api.export(id, { parts: group, format, unit, pattern, laid: stand === 'laid', together })))
      return out
    })
    if (names) setSaved(`Saved: ${names.join(', ')}`)
  }
  return (
    <section aria-label="files" className="px-4 py-3">
      <h2 className="font-semibold">As files</h2>
      <p className="mb-2 text-[12.5px] text-ink2">What is on the plate{plates > 1 ? 's' : ''}, drawn gaps and all; finer than a tenth of each part’s tightest gap.</p>
      <div className="flex flex-col items-start gap-1.5">
        <Stops name="format" value={format} options={[['3mf', '3MF'], ['stl', 'STL'], ['step', 'STEP']]} set={setFormat} />
        {format !== 'stl' && <Stops name="how many files" value={packs[format]} options={[['one', format === '3mf' ? 'a file a plate' : 'one file, by groups'], ['each', 'a file each']]} set={(pack) => setPacks({ ...packs, [format]: pack })} />}
        {format !== 'step' && !together && <Stops name="how parts stand in the file" value={stand} options={[['laid', 'as they lie'], ['modelled', 'as modelled']]} set={setStand} />}
        {format !== 'step' && <Stops name="unit of the file" value={unit} options={[['mm', 'mm'], ['in', 'in']]} set={setUnit} />}
      </div>
      <label className="mt-2 block text-[13px]">
        <span className="text-ink2">names, with {'{project}'} and {'{part}'}</span>
        <input className="field fig" value={pattern} onChange={(e) => setPattern(e.target.value)} />
      </label>
      <button className="plain mt-2" disabled={busy || !parts.length} onClick={() => void save()}>
        {busy ? 'writing …' : count === 1 ? 'Save 1 file' : `Save ${count} files`}
      </button>
      {saved && (
        <p role="status" className="mt-1.5 text-[13px] text-accent">
          {saved}
        </p>
      )}
      {refused?.at === 'files' && (
        <p role="alert" className="mt-1.5 text-[13px] text-wrong">
          {refused.text}
        </p>
      )}
    </section>
  )
}

