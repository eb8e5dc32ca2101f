/** Chips of a sentence that are no step's: a figure that is typed in place, and a choice from a short list. */
import { useState } from 'react'
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react'

interface FigureProps {
  label: string
  value: number
  /** What stands behind the figure, e.g. mm. */
  unit?: string
  step?: number
  take: (value: number) => void
}

export function FigureChip({ label, value, unit = '', step = 0.1, take }: FigureProps) {
  const [open, setOpen] = useState(false)
  const [refused, setRefused] = useState<string | null>(null)
  const shown = Number(value.toFixed(4))
  if (!open) {
    return (
      <button className="chip chip-figure fig" aria-label={`${label}: ${shown}${unit && ` ${unit}`}`} onClick={() => setOpen(true)}>
        {shown}
        {unit && ` ${unit}`}
      </button>
    )
  }
  const read = (typed: string) => {
    const text = typed.trim()
    const figure = Number(text.replace(',', '.').replace(unit, ''))
    const fault = text === '' ? `A figure is needed here, such as ${shown}.` : Number.isFinite(figure) ? null : `“${text}” is no figure.`
    setRefused(fault)
    return fault === null ? figure : null
  }
  const done = (typed: string) => {
    const figure = read(typed)
    if (figure === null) return
    setOpen(false)
    if (figure !== shown) take(figure)
  }
  return (
    <>
      <input
        autoFocus
        aria-label={label}
        aria-invalid={refused !== null}
        className="field fig inline w-16! px-1! py-0!"
        defaultValue={shown}
        onFocus={(e) => e.target.select()}
        onBlur={(e) => done(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && read(e.currentTarget.value) !== null) e.currentTarget.blur()
          if (e.key === 'Escape') {
            e.stopPropagation()
            e.currentTarget.value = String(shown)
            e.currentTarget.blur()
          }
          if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
            e.preventDefault()
            const now = Number(e.currentTarget.value)
            if (Number.isFinite(now)) e.currentTarget.value = String(Number((now + (e.key === 'ArrowUp' ? step : -step)).toFixed(4)))
          }
        }}
      />
      {refused && (
        <span role="alert" className="px-1 text-[13px] text-wrong">
          {refused}
        </span>
      )}
    </>
  )
}

interface ChoiceProps { label: string; value: string; options: [string, string][]; take: (value: string) => void }

export function ChoiceChip({ label, value, options, take }: ChoiceProps) {
  const words = options.find(([v]) => v === value)?.[1] ?? value
  return (
    <Listbox value={value} onChange={(v) => v !== value && take(v)}>
      <ListboxButton className="chip font-semibold" aria-label={`${label}: ${words}`}>
        {words}
      </ListboxButton>
      <ListboxOptions anchor="bottom start" className="z-30 max-h-80 overflow-auto border border-ink bg-card outline-none">
        {options.map(([v, word]) => (
          <ListboxOption key={v} value={v} className="cursor-pointer px-3 py-0.5 data-focus:bg-row data-selected:font-semibold">
            {word}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  )
}
