/** The parts over the stage: colour, name, role, eye, and a mark when something is wrong. */
import { useEffect, useRef, useState } from 'react'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { send } from '../state/commands'
import { startDraft } from '../state/writing'
import { useStore } from '../state/store'
import { surface, volume } from '../widgets/figures'
import { knowCatalogue, useWorkshop } from '../state/workshop'
import type { ProjectState, Report } from '../api/client'
import { ChoiceChip } from '../widgets/Chips'

type Part = NonNullable<ProjectState['document']['parts']>[number]

const ROLES = ['printed', 'bought', 'made', 'reference'] as const
const PIGMENTS = ['#D9AE8F', '#A9C2B6', '#E2C684', '#B9B4CC', '#C9A3A0', '#9DB4C4', '#C7C29A', '#B59E8B']

/** So many parts stand over the stage; of more only the first ones and those with a fault, until all are asked for. */
const [MANY, FIRST] = [16, 11]

export function PartsRow() {
  const parts = useStore((s) => s.project!.document.parts!)
  const hidden = useStore((s) => s.hidden)
  const faulty = useStore((s) => parts.filter((p) => faultOf(s.report, p.id)).map((p) => p.id).join())
  const [all, setAll] = useState(false)
  if (!parts.length) return null
  // in the order of the row; those of one group stand together, where the first of them is
  const first = (p: Part) => parts.findIndex((q) => (p.group ? q.group === p.group : q === p))
  const whole = [...parts].sort((a, b) => first(a) - first(b))
  const many = whole.length > MANY
  const row = many && !all ? whole.filter((p, i) => i < FIRST || faulty.split(',').includes(p.id)) : whole
  return (
    <ul aria-label="parts" data-parts className="absolute top-3 left-4 z-10 flex max-h-[50%] max-w-[calc(100%-2rem)] flex-wrap items-end gap-2 data-all:top-1 data-all:overflow-y-auto data-all:bg-paper data-all:pt-2.5" data-all={(many && all) || undefined}>
      {row.map((part, i) => {
        // a bracket over the chips of a group: each draws its piece, and the first and the last its ends
        const group = part.group
        const begins = !!group && row[i - 1]?.group !== group
        const ends = !!group && row[i + 1]?.group !== group
        return (
          <li key={part.id} data-group={group} className={group ? `relative -mx-1 border-t border-ink px-1 pt-1 ${begins ? 'ml-0 border-l' : ''} ${ends ? 'mr-0 border-r' : ''}` : ''}>
            {begins && <GroupName name={group} ids={row.filter((p) => p.group === group).map((p) => p.id)} />}
            <PartChip part={part} off={hidden.has(part.id)} />
          </li>
        )
      })}
      {many && (
        <li>
          <button className="border border-hair bg-card px-2 py-1 text-ink2 hover:text-ink" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'fewer' : `${whole.length - row.length} more parts`}
          </button>
        </li>
      )}
    </ul>
  )
}

/** What is wrong with a part as it was made, in a word or two. */
function faultOf(report: Report | null, id: string): string {
  const made = report?.parts.find((p) => p.id === id)
  if (!report) return ''
  if (report.gone[id]) return ''
  return !made ? 'not made' : made.closed === false || made.valid === false ? 'not closed' : (made.lumps ?? 1) > 1 ? `${made.lumps} lumps` : ''
}

/** The name over a group's bracket: hides and shows all of it, and moves it as one. */
function GroupName({ name, ids }: { name: string; ids: string[] }) {
  const hidden = useStore((s) => s.hidden)
  const off = ids.every((id) => hidden.has(id))
  const flip = () => {
    const next = new Set(hidden)
    for (const id of ids) if (off) next.delete(id)
      else next.add(id)
    useStore.setState({ hidden: next })
  }
  const kind = useStore((s) => s.kinds?.kinds.find((k) => k.kind === 'move'))
  // a step is written where the recipe is seen
  const many = useStore((s) => s.desk === 'shape' && !s.upto && !s.other) && ids.length > 1
  const move = () => kind && startDraft(kind, null, { part: ids[0], also: ids.slice(1).map((part) => ({ part })) })
  return (
    <span className="absolute -top-[9px] left-2 flex gap-2 bg-paper px-1 text-[12px] leading-none whitespace-nowrap">
      <button className={off ? 'text-ink2 line-through' : 'text-ink'} aria-label={`${off ? 'show' : 'hide'} the group ${name}`} aria-pressed={!off} onClick={flip}>
        {name}
      </button>
      {many && (
        <button className="text-ink2 underline-offset-2 hover:text-ink hover:underline" aria-label={`move the group ${name} as one`} title="move all of it as one" onClick={move}>
          move
        </button>
      )}
    </span>
  )
}

function PartChip({ part, off }: { part: Part; off: boolean }) {
  const sheer = useStore((s) => s.sheer)
  const report = useStore((s) => s.report)
  const wrong = faultOf(report, part.id)
  const spent = !!report?.gone[part.id]
  const toggle = () => {
    const next = new Set(useStore.getState().hidden)
    if (!next.delete(part.id)) next.add(part.id)
    useStore.setState({ hidden: next })
  }
  return (
    <div data-part={part.name} className={`flex items-stretch border bg-card ${off || spent ? 'border-hair text-ink2' : 'border-ink shadow-[0_2px_0_var(--ink)]'}`}>
      <button className="px-2 py-1" aria-label={`${off ? 'show' : 'hide'} ${part.name}`} aria-pressed={!off} title={`${off ? 'show' : 'hide'} (twice: alone)`} onClick={toggle} onDoubleClick={() => showAlone(part.id)}>
        <span className="block h-3.5 w-3.5 border border-ink" style={{ background: off ? 'transparent' : part.colour, opacity: sheer.has(part.id) ? 0.4 : 1 }} />
      </button>
      <Popover className="relative">
        <PopoverButton className="flex items-center gap-1.5 py-1 pr-3 font-semibold">
          {part.name}
          {spent ? <span className="font-normal text-ink2">· used up</span> : part.role !== 'printed' && <span className="font-normal text-ink2">· {part.role}</span>}
          {wrong && (
            <span className="text-[12.5px] font-normal text-wrong" title={wrong}>
              ▲ {wrong}
            </span>
          )}
        </PopoverButton>
        <PopoverPanel anchor={{ to: 'bottom start', gap: 4, padding: 8 }} className="z-30 w-72 border border-ink bg-card p-3">
          <PartCard id={part.id} />
        </PopoverPanel>
      </Popover>
    </div>
  )
}

/** Only this part; once more: all of them again. */
function showAlone(id: string): void {
  const { project, hidden } = useStore.getState()
  const others = project!.document.parts!.filter((p) => p.id !== id).map((p) => p.id)
  useStore.setState({ hidden: others.length && others.every((o) => hidden.has(o)) && !hidden.has(id) ? new Set() : new Set(others) })
}

interface KeptProps { label: string; of: string; field: 'name' | 'group' | 'note'; kept: string; lines?: number; placeholder?: string; list?: string; className?: string }

/** A text of a part. It is kept when one leaves it, in whatever way: also when the card closes over it. */
function KeptText({ label, of, field, kept, lines, placeholder, list, className = '' }: KeptProps) {
  const [text, setText] = useState(kept)
  const typed = useRef<string | null>(null)
  const keep = () => {
    const now = typed.current?.trim()
    typed.current = null
    if (now === undefined || now === kept || (field === 'name' && !now)) return setText(kept)
    void send({ do: 'EditPart', part: of, [field]: now })
  }
  const last = useRef(keep)
  last.current = keep
  useEffect(() => setText(kept), [kept])
  useEffect(() => () => last.current(), [])
  const common = { 'aria-label': label, value: text, placeholder, maxLength: field === 'note' ? 2000 : 80, onChange: (e: { target: { value: string } }) => setText((typed.current = e.target.value)), onBlur: keep }
  if (lines) return <textarea rows={lines} className={`field text-[13px] ${className}`} {...common} />
  // the keyboard stays in the card, so that Escape closes it
  return <input className={`field ${className}`} list={list} onKeyDown={(e) => e.key === 'Enter' && keep()} {...common} />
}

/** A figure of a part in the project's unit; empty where nobody said one. What is no figure is said, and stays to be mended. */
function KeptFigure({ label, of, field, kept, unit }: { label: string; of: string; field: 'sheet_mm' | 'cutter_mm'; kept: number; unit: string }) {
  const k = unit === 'in' ? 25.4 : 1
  const written = kept ? String(Number((kept / k).toFixed(5))) : ''
  const [text, setText] = useState(written)
  const [bad, setBad] = useState(false)
  useEffect(() => setText(written), [written])
  const keep = () => {
    const figure = Number(text.trim().replace(',', '.').replace(/ *(mm|in)$/, ''))
    const wrong = !Number.isFinite(figure) || figure < 0 || figure > 1000
    setBad(wrong)
    if (wrong) useStore.setState({ said: { text: `“${text}” is no ${label}; write a figure in ${unit}, or nothing.` } })
    else if (Math.abs(figure * k - kept) > 1e-9) void send({ do: 'EditPart', part: of, [field]: figure * k })
    else setText(written)
  }
  return (
    <>
      <input className={`field fig w-12! px-1! py-0! ${bad ? 'text-wrong' : ''}`} aria-label={label} aria-invalid={bad} placeholder="–" value={text} onChange={(e) => setText(e.target.value)} onBlur={keep} onKeyDown={(e) => e.key === 'Enter' && keep()} />
      {unit}
    </>
  )
}

function PartCard({ id }: { id: string }) {
  const part = useStore((s) => s.project!.document.parts!.find((p) => p.id === id))
  const made = useStore((s) => s.report?.parts.find((p) => p.id === id))
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const hidden = useStore((s) => s.hidden)
  const sheer = useStore((s) => s.sheer)
  const others = useStore((s) => s.project!.document.parts!.length - 1)
  const printed = useStore((s) => s.project!.document.parts!.filter((p) => p.role === 'printed' && p.id !== id).map((p) => `${p.id} ${p.name}`).join('\n'))
  const mates = printed ? printed.split('\n').map((line) => ({ id: line.slice(0, line.indexOf(' ')), name: line.slice(line.indexOf(' ') + 1) })) : []
  const alone = others > 0 && hidden.size === others && !hidden.has(id)
  const groups = useStore((s) => [...new Set(s.project!.document.parts!.map((p) => p.group ?? ''))].join('\n'))
  const order = useStore((s) => s.project!.document.parts!.map((p) => p.id).join()).split(',')
  const place = order.indexOf(id)
  const catalogue = useWorkshop((s) => s.catalogue)
  useEffect(() => void knowCatalogue(), [])
  const materials = [...(catalogue?.others ?? []), ...(catalogue?.materials ?? [])].map((m) => String(m.id))
  const before = place > 0 ? order[place - 1] : ''
  if (!part) return null
  const k = unit === 'in' ? 25.4 : 1
  const flip = (which: 'hidden' | 'sheer') => {
    const next = new Set(useStore.getState()[which])
    if (!next.delete(id)) next.add(id)
    useStore.setState({ [which]: next })
  }
  return (
    <div className="flex flex-col gap-2">
      <KeptText label="name of the part" of={id} field="name" kept={part.name} />
      <div className="flex gap-1.5" role="group" aria-label="colour">
        {PIGMENTS.map((c, i) => (
          <button key={c} aria-label={`pigment ${i + 1}`} aria-pressed={part.colour === c} className={`h-5 w-5 border ${part.colour === c ? 'border-2 border-ink' : 'border-hair'}`} style={{ background: c }} onClick={() => void send({ do: 'EditPart', part: id, colour: c })} />
        ))}
      </div>
      <div className="flex flex-wrap gap-x-3" role="group" aria-label="role">
        {ROLES.map((role) => (
          <button key={role} aria-pressed={part.role === role} className={part.role === role ? 'border-b-2 border-ink font-semibold' : 'text-ink2'} onClick={() => void send({ do: 'EditPart', part: id, role })}>
            {role}
          </button>
        ))}
      </div>
      {part.role === 'printed' && mates.length > 0 && (
        <p className="text-[13px] text-ink2" data-within>
          printed <ChoiceChip label="with what it is printed" value={part.within ?? ''} options={[['', 'by itself'], ...mates.map((p): [string, string] => [p.id, `in one with ${p.name}`])]} take={(within) => void send({ do: 'EditPart', part: id, within })} />
        </p>
      )}
      {part.role !== 'printed' && (
        <p className="text-[13px] text-ink2" data-material>
          made of <ChoiceChip label="material" value={part.material || 'steel'} options={materials.map((m) => [m, m])} take={(material) => void send({ do: 'EditPart', part: id, material })} />
        </p>
      )}
      {part.role === 'made' && (
        <p className="flex items-baseline gap-1 text-[13px] whitespace-nowrap text-ink2" data-making>
          sheet <KeptFigure label="thickness of the sheet" of={id} field="sheet_mm" kept={part.sheet_mm ?? 0} unit={unit} />, cutter Ø
          <KeptFigure label="diameter of the cutter" of={id} field="cutter_mm" kept={part.cutter_mm ?? 0} unit={unit} />
        </p>
      )}
      <div className="flex flex-wrap gap-x-3" role="group" aria-label="look">
        {([['hidden', hidden.has(id), () => flip('hidden')], ['see-through', sheer.has(id), () => flip('sheer')], ['alone', alone, () => showAlone(id)]] as const).map(([word, on, act]) => (
          <button key={word} aria-pressed={on} className={on ? 'border-b-2 border-ink font-semibold' : 'text-ink2'} onClick={act}>
            {word}
          </button>
        ))}
      </div>
      <label className="flex items-baseline gap-2 text-[13px] text-ink2">
        group
        <KeptText label="group of the part" of={id} field="group" kept={part.group ?? ''} list="groups" placeholder="none" className="py-0!" />
        <datalist id="groups">
          {groups.split('\n').filter(Boolean).map((g) => (
            <option key={g} value={g} />
          ))}
        </datalist>
      </label>
      <KeptText label="note on the part" of={id} field="note" kept={part.note ?? ''} placeholder="a note" lines={2} />
      <div className="flex gap-x-3 text-[13px]" role="group" aria-label="place in the row">
        <button className="text-ink2 hover:text-ink disabled:opacity-40" disabled={!before} onClick={() => void send({ do: 'OrderPart', part: id, before })}>
          ‹ further left
        </button>
        <button className="text-ink2 hover:text-ink disabled:opacity-40" disabled={place === order.length - 1} onClick={() => void send({ do: 'OrderPart', part: id, before: order[place + 2] ?? '' })}>
          further right ›
        </button>
      </div>
      {made && (
        <dl className="fig grid grid-cols-[auto_1fr] gap-x-3 border-t border-hair pt-2 text-[12px]">
          <dt className="text-ink2">size</dt>
          <dd>
            {[0, 1, 2].map((i) => ((made.bounding_box_mm.high[i] - made.bounding_box_mm.low[i]) / k).toFixed(unit === 'in' ? 3 : 2)).join(' × ')} {unit}
          </dd>
          <dt className="text-ink2">volume</dt>
          <dd>{made.volume_mm3 === null ? '…' : volume(made.volume_mm3, unit)}</dd>
          <dt className="text-ink2">surface</dt>
          <dd>{made.area_mm2 === null ? '…' : surface(made.area_mm2, unit)}</dd>
          {made.mass_g !== null && (
            <>
              <dt className="text-ink2">mass</dt>
              <dd>{made.mass_g.toPrecision(3)} g</dd>
            </>
          )}
        </dl>
      )}
    </div>
  )
}
