/** A step as a sentence with live chips, as the server says it. The same for a step that is there and for one being written. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { useState } from 'react'
import { isMissing } from '../state/chips'
import { fieldIsNewPart, specAt, valueAt } from '../state/fields'
import { useStore } from '../state/store'
import { addClause, answer, dropClause, leaveChip, openChip, tryAnswer, want } from '../state/writing'
import type { FieldOut, Fields, Kind, Segment } from '../api/client'
import { result } from '../widgets/figures'
import { AnswerSheet } from './AnswerSheet'

interface Props {
  step: string
  kind: Kind
  fields: Fields
  said: Segment[]
  figures: Record<string, number>
  tolerances?: Record<string, string>
  lost?: string
  off?: boolean
}

const NONE: string[] = []
/** A sign that stays on the line of the chip before it. */
const SIGN = /^[,.;:]/
/** A size keeps the sign before it on its line. */
const together = (text: string) => text.replace(/(?<=Ø|\br) (?=\d|$)/g, '\u00a0')
/** From so many letters on a chip may break over lines. */
const LONG = 16

export function Sentence({ step, kind, fields, said, figures, tolerances, lost, off }: Props) {
  const here = useStore((s) => (s.open?.step === step ? s.open.field : null))
  const wants = useStore((s) => s.wants[step]) ?? NONE
  const open = here ? specAt(kind, here) : undefined
  // a figure counts for the answer that it was worked out of: while another is tried, the one before it says nothing of it
  const [worked, setWorked] = useState({ figures, fields })
  const current = useStore((s) => s.reportFor === s.project?.version)
  const told = step === 'draft' ? worked.figures !== figures : current
  if (told && (worked.figures !== figures || worked.fields !== fields)) setWorked({ figures, fields })
  const figureAt = (path: string) => (valueAt(worked.fields, path) === valueAt(fields, path) ? figures[path] : undefined)
  const shown = said.filter((piece) => !piece.hidden || wants.includes(piece.want ?? ''))
  return (
    <div>
      <p className={`leading-[1.75] ${off ? 'opacity-55' : ''}`}>
        {shown.map((piece, i) => {
          if (!piece.chip) return <span key={`words ${i}`}>{together(i && shown[i - 1].chip ? piece.text.replace(SIGN, '') : piece.text)}</span>
          const field = specAt(kind, piece.chip)
          if (!field) return null
          const [clauses, place] = piece.chip.split('.')
          // the last chip of a clause can take the clause away
          const last = place !== undefined && !shown.slice(i + 1).some((p) => p.chip?.startsWith(`${clauses}.${place}.`))
          const end = i === shown.length - 1
          const more = end && <More step={step} kind={kind} said={said} wants={wants} />
          return (
            // a short chip stays on a line with its sign, a long one runs on like other words
            <span key={piece.chip} className={piece.text.length > LONG ? '' : 'whitespace-nowrap'}>
              <Chip {...{ step, kind, field, fields, tolerances, piece }} worth={figureAt(piece.chip)} lost={lost === piece.chip || lost === clauses} open={here === piece.chip} />
              <span className="whitespace-nowrap">
                {last && (
                  <button type="button" className="px-0.5 text-[12px] text-ink2 hover:text-wrong" aria-label={`take out: ${piece.text || field.label}`} title="take this out" onClick={() => void dropClause(step, clauses, Number(place))}>
                    ✕
                  </button>
                )}
                {end ? '.' : shown[i + 1].chip ? '' : SIGN.exec(shown[i + 1].text)?.[0]}
                {more && '\u00a0'}
                {more}
              </span>
            </span>
          )
        })}
        {(!shown.length || !shown[shown.length - 1].chip) && (
          <>
            {'. '}
            <More step={step} kind={kind} said={said} wants={wants} />
          </>
        )}
      </p>
      {here && open && <AnswerSheet key={here} step={step} kind={kind} field={open} path={here} fields={fields} />}
    </div>
  )
}

/** What can be added to a sentence: further clauses, and parts that say nothing yet. */
function More({ step, kind, said, wants }: { step: string; kind: Kind; said: Segment[]; wants: string[] }) {
  const clauses = kind.fields.filter((f) => f.type === 'clauses')
  const hidden = [...new Set(said.filter((p) => p.hidden && !wants.includes(p.want ?? '')).map((p) => p.want ?? ''))]
  if (!clauses.length && !hidden.length) return null
  return (
    <Menu>
      <MenuButton className="chip-more" aria-label="add to this sentence" title="add to this sentence">
        …
      </MenuButton>
      <MenuItems anchor="bottom start" className="z-30 border border-ink bg-card py-1 text-[13.5px] outline-none">
        {clauses.map((f) => (
          <MenuItem key={f.name}>
            <button className="block w-full px-3 py-0.5 text-left data-focus:bg-row" onClick={() => void addClause(step, f.name)}>
              and {f.label}
            </button>
          </MenuItem>
        ))}
        {hidden.map((what) => (
          <MenuItem key={what}>
            <button className="block w-full px-3 py-0.5 text-left data-focus:bg-row" onClick={() => want(step, what)}>
              {what}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  )
}

interface ChipProps extends Omit<Props, 'lost' | 'said' | 'off' | 'figures'> { worth: number | undefined; field: FieldOut; piece: Segment; lost: boolean; open: boolean }

function Chip({ step, kind, field, fields, worth, tolerances, piece, lost, open }: ChipProps) {
  const path = piece.chip!
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const draft = useStore((s) => (step === 'draft' ? s.draft : null))
  const tolerance = tolerances?.[path] ?? ''
  const tint = useStore((s) => (piece.part ? s.project!.document.parts!.find((p) => p.id === piece.part)?.colour : undefined))
  const value = valueAt(fields, path)
  const missing = isMissing(field, fields, draft, path)
  const figure = ['length', 'angle', 'number'].includes(field.type)
  const style = open ? 'chip-open' : missing ? 'chip-missing' : lost ? 'chip-lost' : figure ? 'chip-figure fig' : ''
  const fresh = !!draft && fieldIsNewPart(kind, fields, path)
  /** The answer as plain text, for those who hear it. */
  let heard = fresh ? draft.newPart : piece.text
  let words: React.ReactNode = together(heard)
  if (missing) {
    heard = 'not answered yet'
    words = field.missing || field.label
  } else if (figure) {
    const shown = result(String(value), worth, field.type, unit)
    heard = [String(value), shown, tolerance && `tolerance ${tolerance}`].filter(Boolean).join(', ')
    words = (
      <>
        {String(value)}
        {tolerance && <span className={open ? '' : 'font-normal text-accent'}> {tolerance}</span>}
        {shown && <span className={open ? '' : 'font-normal text-ink2'}> → {shown}</span>}
      </>
    )
  } else if (field.type === 'part') {
    words = (
      <>
        <span aria-hidden className="mr-1 inline-block h-3 w-3 border border-ink align-[-1px]" style={{ background: (!fresh && tint) || 'transparent' }} />
        {heard}
      </>
    )
  }
  return (
    // no button element: it would be a box of its own, and a long answer could not run on over the lines of its sentence
    <span
      role="button"
      tabIndex={0}
      className={`chip ${style}`}
      aria-label={`${field.label}: ${heard}`}
      aria-expanded={open}
      data-chip={path}
      onClick={() => (open ? leaveChip() : openChip(step, path))}
      onKeyDown={(e) => {
        if (e.key === 'Enter' || e.key === ' ') {
          e.preventDefault()
          e.stopPropagation()
          e.currentTarget.click()
          return
        }
        if (!figure || missing || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return
        e.preventDefault()
        e.stopPropagation()
        openChip(step, path)
      }}
    >
      {words}
    </span>
  )
}

export { answer, tryAnswer }
