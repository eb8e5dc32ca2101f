/** A step as a sentence with live chips. The same for a step that is there and for one being written. */
import { useStore, answer, fieldIsNewPart, isMissing, leaveChip, openChip, shownChips, tryAnswer } from '../state/store'
import type { FieldOut, Fields, Kind } from '../api/client'
import { type Pick, says } from '../state/picks'
import { result } from '../widgets/figures'
import { AnswerSheet } from './AnswerSheet'

interface Props {
  step: string
  kind: Kind
  fields: Fields
  figures: Record<string, number>
  lost?: string
  name?: string
  off?: boolean
}

export function Sentence({ step, kind, fields, figures, lost, name, off }: Props) {
  const open = useStore((s) => s.open)
  const here = open?.step === step ? open.field : null
  const chips = shownChips(kind, fields)
  return (
    <div>
      <p className={`leading-[1.75] ${off ? 'opacity-55' : ''}`}>
        {kind.sentence.map((piece, i) => {
          if (piece.text) {
            const shown = Object.entries(piece.when).every(([n, answers]) => answers.includes(String(fields[n])))
            return shown ? <span key={i}>{piece.text}</span> : null
          }
          if (!chips.includes(piece.chip)) return null
          const field = kind.fields.find((f) => f.name === piece.chip)!
          return <Chip key={i} {...{ step, kind, field, fields, figures, name }} lost={lost === field.name} open={here === field.name} />
        })}
        .
      </p>
      {here && <AnswerSheet key={here} step={step} kind={kind} field={kind.fields.find((f) => f.name === here)!} fields={fields} />}
    </div>
  )
}

interface ChipProps extends Omit<Props, 'lost'> { field: FieldOut; lost: boolean; open: boolean }

function Chip({ step, kind, field, fields, figures, lost, open, name }: ChipProps) {
  const project = useStore((s) => s.project)!
  const draft = useStore((s) => s.draft)
  const value = fields[field.name]
  const missing = isMissing(field, fields, step === 'draft' ? draft : null)
  const figure = ['length', 'angle', 'number'].includes(field.type)
  const style = open ? 'chip-open' : missing ? 'chip-missing' : lost ? 'chip-lost' : figure ? 'chip-figure fig' : ''
  let words: React.ReactNode
  /** The answer as plain text, for those who hear it. */
  let heard = ''
  if (missing) {
    heard = 'not answered yet'
    words = field.missing || field.label
  } else if (figure) {
    const shown = result(String(value), figures[field.name], field.type, project.document.unit ?? 'mm')
    const tolerance = project.document.recipe!.find((s) => s.id === step)?.tolerances?.[field.name] ?? ''
    heard = [String(value), shown, tolerance && `tolerance ${tolerance}`].filter(Boolean).join(', ')
    words = (
      <>
        {String(value)}
        {tolerance && <span className={open ? '' : 'font-normal text-accent'}> {tolerance}</span>}
        {shown && <span className={open ? '' : 'font-normal text-ink2'}> → {shown}</span>}
      </>
    )
  } else if (field.type === 'part') {
    const part = project.document.parts!.find((p) => p.id === value)
    const fresh = step === 'draft' && fieldIsNewPart(kind, fields, field.name)
    heard = fresh ? (draft?.newPart ?? '') : (part?.name ?? 'a part that is gone')
    words = (
      <>
        <span aria-hidden className="mr-1 inline-block h-3 w-3 border border-ink align-[-1px]" style={{ background: part?.colour ?? 'transparent' }} />
        {heard}
      </>
    )
  } else {
    if (field.type === 'choice') heard = field.choices.find((c) => c.value === value)?.label ?? String(value)
    else if (field.type === 'sketch') {
      const curves = ((value as { curves?: unknown[] })?.curves ?? []).length
      heard = name || (curves ? `an outline of ${curves} ${curves === 1 ? 'curve' : 'curves'}` : 'an empty outline')
    } else heard = says(value as Pick, project)
    words = heard
  }
  return (
    <button
      type="button"
      className={`chip ${style}`}
      aria-label={`${field.label}: ${heard}`}
      aria-expanded={open}
      data-chip={field.name}
      onClick={() => (open ? leaveChip() : openChip(step, field.name))}
      onKeyDown={(e) => {
        if (!figure || missing || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return
        e.preventDefault()
        e.stopPropagation()
        openChip(step, field.name)
      }}
    >
      {words}
    </button>
  )
}

export { answer, tryAnswer }
