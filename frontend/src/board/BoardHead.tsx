/** The board's own line: the sketch's name, what it holds, where the board lies, outlines in and out. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { useState } from 'react'
import type { SketchOut } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { answer, closeBoard } from '../state/writing'
import { Stops } from '../widgets/Stops'
import type { SketchDoc } from './geometry'
import { OpenEnds } from './OpenEnds'
import { OutlineSheet, saveOutline } from './OutlineSheet'

interface Props {
  step: string
  doc: { name?: string; fields?: unknown }
  sketch: SketchDoc
  out: SketchOut | undefined
  known: boolean
  marks: boolean
  setMarks: (on: boolean) => void
  lens: boolean
  setLens: (on: boolean) => void
  showAll: () => void
  focus: () => void
}

export function BoardHead({ step, doc, sketch, out, known, marks, setMarks, lens, setLens, showAll, focus }: Props) {
  const project = useStore((s) => s.project)!
  const [reading, setReading] = useState(false)
  const place = project.document.recipe!.findIndex((s) => s.id === step) + 1
  const toggle = (word: string, on: boolean, set: (on: boolean) => void, title: string) => (
    <button className={on ? 'border-b-2 border-ink' : 'text-ink2'} aria-pressed={on} title={title} onClick={() => set(!on)}>
      {word}
    </button>
  )
  return (
    <div className="absolute top-3 left-4 z-[12] flex items-center gap-3 border border-ink bg-card px-3 py-1.5">
      <label className="flex items-center gap-1.5">
        Sketch
        <input
          key={doc.name}
          aria-label="name of the sketch"
          className="w-28 border-b border-dotted border-ink bg-transparent font-semibold placeholder:font-normal"
          placeholder={`of step ${place}`}
          defaultValue={doc.name}
          maxLength={80}
          onBlur={(e) => e.target.value.trim() !== doc.name && void send({ do: 'RenameStep', step, name: e.target.value }, { step: 'board' })}
          onKeyDown={(e) => {
            e.stopPropagation()
            if (e.key === 'Enter' || e.key === 'Escape') focus()
          }}
        />
      </label>
      <span className="text-ink2 max-[1180px]:hidden">
        {known ? '' : 'seeing where it lies … '}
        {sketch.curves.length} {sketch.curves.length === 1 ? 'curve' : 'curves'}, {out?.regions.length ?? 0} {out?.regions.length === 1 ? 'region' : 'regions'}
      </span>
      <OpenEnds step={step} out={out} />
      {toggle('marks', marks, setMarks, 'marks of ties: all, or only those of what is selected')}
      {toggle('lens', lens, setLens, 'what is under the pointer, larger (m)')}
      <button className="text-ink2 hover:text-ink" title="bring all that is drawn into view (f)" onClick={showAll}>
        show all
      </button>
      <Place step={step} fields={doc.fields as Record<string, string>} />
      <Files step={step} open={() => setReading(true)} />
      <button className="strong" data-leave-board onClick={closeBoard}>
        done
      </button>
      {reading && <OutlineSheet project={project.id} step={step} close={() => setReading(false)} />}
    </div>
  )
}

const PANEL = 'z-30 mt-2 flex w-64 flex-col gap-1.5 border border-ink bg-card p-3'

/** Where the board's origin lies on its plane, and how its directions lie there. */
function Place({ step, fields }: { step: string; fields: Record<string, string> }) {
  const said = useStore((s) => s.said)
  return (
    <Popover>
      <PopoverButton className="border-b border-dotted border-ink">origin</PopoverButton>
      <PopoverPanel anchor="bottom start" className={PANEL} onKeyDown={(e) => e.key !== 'Escape' && e.stopPropagation()}>
        <p className="text-[13px] text-ink2">Where the board has its middle on its plane, and how it is turned there.</p>
        {([['right', 'to the right'], ['up', 'up'], ['turn', 'turned by']] as const).map(([field, label]) => (
          <label key={field} className="flex items-center gap-2">
            <span className="w-24">{label}</span>
            <input
              key={fields[field]}
              className="field fig py-0!"
              defaultValue={fields[field] ?? (field === 'turn' ? '0 deg' : '0 mm')}
              spellCheck={false}
              onKeyDown={(e) => e.key === 'Enter' && void answer(step, field, e.currentTarget.value)}
              onBlur={(e) => e.target.value.trim() !== (fields[field] ?? '') && void answer(step, field, e.target.value)}
            />
          </label>
        ))}
        {said?.step === step && (
          <p role="alert" className="text-[13px] text-wrong">
            {said.text}
          </p>
        )}
      </PopoverPanel>
    </Popover>
  )
}

/** An outline from a file, or this one as a file. */
function Files({ step, open }: { step: string; open: () => void }) {
  const project = useStore((s) => s.project)!
  const [unit, setUnit] = useState<'mm' | 'inch'>('mm')
  const [said, setSaid] = useState('')
  return (
    <Popover>
      {({ close }) => (
        <>
          <PopoverButton className="border-b border-dotted border-ink">outline file</PopoverButton>
          <PopoverPanel anchor="bottom start" className={PANEL} onKeyDown={(e) => e.key !== 'Escape' && e.stopPropagation()}>
            <button className="plain text-left" onClick={() => (close(), open())}>
              bring one in …
            </button>
            <div className="flex items-center gap-2">
              <span>save in</span>
              <Stops name="unit to save in" value={unit} options={[['mm', 'mm'], ['inch', 'inch']] as const} set={setUnit} small />
            </div>
            {(['dxf', 'svg'] as const).map((format) => (
              <button key={format} className="plain text-left" onClick={() => void saveOutline(project.id, step, format, unit).then(setSaid)}>
                save as {format.toUpperCase()}
              </button>
            ))}
            {said && (
              <p role="alert" className="text-[13px] text-wrong">
                {said}
              </p>
            )}
          </PopoverPanel>
        </>
      )}
    </Popover>
  )
}
