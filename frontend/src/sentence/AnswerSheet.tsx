/** Where the open chip is answered: right under its sentence, so that nothing jumps or covers the model. */
import { useEffect, useRef, useState } from 'react'
import { RadioGroup, Radio } from '@headlessui/react'
import { closeChip, pickKind } from '../state/chips'
import { send } from '../state/commands'
import { fieldIsNewPart, valueAt } from '../state/fields'
import { useStore } from '../state/store'
import { answer, leaveChip, tryAnswer } from '../state/writing'
import type { FieldOut, Fields, Kind } from '../api/client'
import { focusSoon, inStep } from '../widgets/focus'
import { FileSheet } from './FileSheet'
import { FormulaField } from './FormulaField'
import { PickSheet } from './PickSheet'
import { ToleranceField } from './ToleranceField'
import { atEnter } from '../widgets/keys'

interface Props { step: string; kind: Kind; field: FieldOut; path: string; fields: Fields }

export function AnswerSheet({ step, kind, field, path, fields }: Props) {
  const said = useStore((s) => s.said)
  const tolerance = useStore((s) => s.project!.document.recipe!.find((r) => r.id === step)?.tolerances?.[path] ?? '')
  // while it is tried, or as it was kept
  const failed = useStore((s) => (s.preview?.report ?? s.report)?.steps.find((r) => (step === 'draft' ? !s.project!.document.recipe!.some((p) => p.id === r.id) : r.id === step))?.message ?? '')
  const box = useRef<HTMLDivElement>(null)
  const message = said && said.step === step && (!said.field || said.field === path || said.field === path.split('.')[0]) ? said.text : ''
  // in sight with what keeps a sentence that is being written, also when its lists have come and made it longer
  useEffect(() => {
    const show = () => {
      box.current?.closest('[data-step="draft"]')?.scrollIntoView({ block: 'nearest' })
      box.current?.scrollIntoView({ block: 'nearest' })
    }
    show()
    const grown = new ResizeObserver(show)
    grown.observe(box.current!)
    return () => grown.disconnect()
  }, [message])
  const back = () => {
    leaveChip()
    focusSoon(`[data-step="${step}"] [data-chip="${path}"]`)
  }
  return (
    <div
      ref={box}
      role="group"
      data-sheet
      aria-label={field.label}
      className="my-1 border border-ink bg-card px-3 py-2"
      onKeyDown={(e) => {
        if (e.key === 'Escape') {
          e.stopPropagation()
          back()
        }
      }}
    >
      {['length', 'angle', 'number'].includes(field.type) ? (
        <>
          <FormulaField
            label={field.label}
            initial={String(valueAt(fields, path) ?? '')}
            onTry={(text) => tryAnswer(step, path, text)}
            onTake={(text) => answer(step, path, text)}
            onLeave={back}
            message={failed}
          />
          {step !== 'draft' && (
            <ToleranceField dimension={`${step}:${path}`} text={tolerance} target={{ step, path }} at={{ step, field: path }} />
          )}
        </>
      ) : field.type === 'choice' ? (
        <ChoiceSheet {...{ step, field, path, fields }} />
      ) : field.type === 'part' ? (
        <PartSheet {...{ step, kind, field, path, fields }} />
      ) : field.type === 'file' ? (
        <FileSheet {...{ step, path, fields }} />
      ) : field.type === 'image' ? (
        <FileSheet image {...{ step, path, fields }} />
      ) : field.type === 'text' ? (
        <TextSheet {...{ step, field, path, fields }} />
      ) : pickKind(field.type) ? (
        <PickSheet key={path} {...{ step, path }} kind={pickKind(field.type)!} />
      ) : null}
      {message && (
        <p role="alert" className="mt-1 text-[13px] text-wrong">
          {message}
        </p>
      )}
    </div>
  )
}

function TextSheet({ step, field, path, fields }: Omit<Props, 'kind'>) {
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => input.current?.select(), [])
  return (
    <label className="block">
      <span className="text-[13px] text-ink2">{field.label}</span>
      <input
        ref={input}
        className="field"
        defaultValue={String(valueAt(fields, path) ?? '')}
        maxLength={80}
        onKeyDown={atEnter<HTMLInputElement>((e) => void answer(step, path, e.currentTarget.value.trim()))}
      />
    </label>
  )
}

function ChoiceSheet({ step, field, path, fields }: Omit<Props, 'kind'>) {
  const group = useRef<HTMLDivElement>(null)
  useEffect(() => group.current?.querySelector<HTMLElement>('[role=radio][tabindex="0"]')?.focus(), [])
  return (
    <RadioGroup
      ref={group}
      value={String(valueAt(fields, path))}
      onChange={(value) => tryAnswer(step, path, value)}
      aria-label={field.label}
      className="flex flex-wrap gap-x-4 gap-y-1"
      onKeyDown={atEnter(() => {
        const checked = group.current?.querySelector<HTMLElement>('[data-focus]') ?? (document.activeElement as HTMLElement)
        void answer(step, path, checked.dataset.value)
      })}
    >
      {field.choices.map((c) => (
        <Radio
          key={c.value}
          value={c.value}
          data-value={c.value}
          onClick={() => void answer(step, path, c.value)}
          className="group flex cursor-pointer items-center gap-1.5 data-checked:font-semibold"
        >
          <svg width="11" height="11" viewBox="-6 -6 12 12" aria-hidden className="text-ink">
            <path d="M-5 0L0 -5L5 0L0 5Z" className="fill-transparent group-data-checked:fill-ink" stroke="currentColor" />
          </svg>
          {c.label}
        </Radio>
      ))}
    </RadioGroup>
  )
}

function PartSheet({ step, kind, field, path, fields }: Props) {
  const parts = useStore((s) => s.project!.document.parts!)
  const draft = useStore((s) => s.draft)
  const fresh = fieldIsNewPart(kind, fields, path)
  const old = parts.find((p) => p.id === valueAt(fields, path))
  const [name, setName] = useState(step === 'draft' ? draft?.newPart ?? '' : old?.name ?? '')
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => input.current?.select(), [])
  if (!fresh) {
    return (
      <ul className="flex flex-col">
        {parts.length > 1 && <li className="pb-1 text-[13px] text-ink2">Point at a part, or take it here.</li>}
        {parts.map((p) => (
          <li key={p.id}>
            <button className="w-full px-1 py-0.5 text-left hover:bg-row" autoFocus={p.id === old?.id} onClick={() => void answer(step, path, p.id)}>
              <span aria-hidden className="mr-2 inline-block h-3 w-3 border border-ink" style={{ background: p.colour }} />
              {p.name}
            </button>
          </li>
        ))}
        {!parts.length && <li className="text-ink2">There is no part yet; make one first.</li>}
      </ul>
    )
  }
  const take = async () => {
    if (step === 'draft') {
      useStore.setState((s) => ({ draft: s.draft && { ...s.draft, newPart: name } }))
      closeChip()
      focusSoon(...inStep('draft'))
    } else if (old && (await send({ do: 'EditPart', part: old.id, name }, { step, field: field.name }))) closeChip()
  }
  return (
    <label className="block">
      <span className="text-[13px] text-ink2">name of the part</span>
      <input
        ref={input}
        className="field"
        value={name}
        maxLength={80}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => step === 'draft' && useStore.setState((s) => ({ draft: s.draft && { ...s.draft, newPart: name } }))}
        onKeyDown={atEnter(() => void take())}
      />
    </label>
  )
}
