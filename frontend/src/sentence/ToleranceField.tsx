/** The tolerance of a figure, as people write it: ±0.1, +0.2 -0.1, 82.9 .. 83.1, or a zone such as H8. */
import { useId, useState } from 'react'
import type { Command } from '../api/client'
import { send } from '../state/commands'
import { shownReport, useStore } from '../state/store'
import { plain } from '../widgets/figures'
import { atEnter } from '../widgets/keys'

interface Props {
  /** The dimension: a value (``v3``) or a figure of a step (``s5:distance``). */
  dimension: string
  text: string
  target: { value: string } | { step: string; path: string }
  at: { step: string; field?: string }
}

export function ToleranceField({ dimension, text, target, at }: Props) {
  const id = useId()
  const [now, setNow] = useState(text)
  const [kept, setKept] = useState(text)
  // what is recorded comes back in here, without the field losing the keyboard
  if (kept !== text) {
    setKept(text)
    setNow(text)
  }
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const found = useStore((s) => shownReport(s)?.dimensions.find((d) => d.id === dimension))
  const take = () => {
    if (now.trim() === text.trim()) return
    void send({ do: 'SetTolerance', ...target, tolerance: now } as Command, at)
  }
  return (
    <div className="mt-2 flex items-baseline gap-2 text-[13px]">
      <label htmlFor={id} className="shrink-0 text-ink2">
        tolerance
      </label>
      <input
        id={id}
        data-tolerance={dimension}
        className="field fig min-w-0 py-0.5!"
        value={now}
        placeholder="±0.1, +0.2 -0.1, H8"
        spellCheck={false}
        autoComplete="off"
        onChange={(e) => setNow(e.target.value)}
        onBlur={take}
        onKeyDown={atEnter(() => take())}
      />
      {found && text && found.lower !== null && (
        <span className="fig shrink-0 text-ink2" title="lower and upper limit">
          {limitsOf(found, unit)}
        </span>
      )}
    </div>
  )
}

/** Lower and upper limit in the unit that is shown. */
export function limitsOf(d: { kind: string; nominal: number | null; lower: number | null; upper: number | null }, unit: string): string {
  if (d.nominal === null || d.lower === null || d.upper === null) return ''
  const k = d.kind === 'angle' ? 180 / Math.PI : d.kind === 'length' && unit === 'in' ? 1 / 25.4 : 1
  const digits = d.kind === 'length' && unit === 'in' ? 4 : 3
  return `${plain((d.nominal + d.lower) * k, digits)} … ${plain((d.nominal + d.upper) * k, digits)}`
}
