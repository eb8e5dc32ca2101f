/** A field that takes a formula: result beside it, arrow keys step it, the model shows it before it is taken. */
import { useEffect, useId, useMemo, useRef, useState } from 'react'
import { useStore } from '../state/store'
import { stepped } from '../widgets/figures'
import { atEnter } from '../widgets/keys'

interface Props {
  label: string
  initial: string
  onTry: (text: string) => void
  onTake: (text: string) => Promise<boolean> | void
  onLeave: () => void
  /** A name that the formula cannot use: its own. */
  own?: string
  /** What was said of it; it may say what would do. */
  message?: string
}

export function FormulaField({ label, initial, onTry, onTake, onLeave, own, message = '' }: Props) {
  const [text, setText] = useState(initial)
  // what it was when it opened: a draft's figure is the tried one already while it is tried
  const [began] = useState(initial)
  const all = useStore((s) => s.project!.values)
  const values = useMemo(() => all.filter((v) => v.name !== own), [all, own])
  // a refusal may say what would do
  const better = useStore((s) => /“([^”]+)” would do\./.exec(s.said?.text ?? message)?.[1])
  const input = useRef<HTMLInputElement>(null)
  const timer = useRef<number>(0)
  const id = useId()
  useEffect(() => {
    input.current?.focus()
    input.current?.select()
    return () => window.clearTimeout(timer.current)
  }, [])
  const change = (next: string, soon = 160) => {
    setText(next)
    window.clearTimeout(timer.current)
    timer.current = window.setTimeout(() => next.trim() && next !== initial && onTry(next), soon)
  }
  const insert = (name: string) => {
    const at = input.current!.selectionStart ?? text.length
    const end = input.current!.selectionEnd ?? at
    change(text.slice(0, at) + name + text.slice(end))
    requestAnimationFrame(() => {
      input.current?.focus()
      input.current?.setSelectionRange(at + name.length, at + name.length)
    })
  }
  const take = () => {
    window.clearTimeout(timer.current)
    if (text.trim() === began.trim()) return onLeave()
    void onTake(text)
  }
  return (
    <div>
      <label htmlFor={id} className="text-[13px] text-ink2">
        {label}
      </label>
      <div className="flex gap-2">
        <input
          id={id}
          ref={input}
          className="field fig min-w-0"
          value={text}
          spellCheck={false}
          autoComplete="off"
          onChange={(e) => change(e.target.value)}
          onKeyDown={(e) => {
            atEnter(() => take())(e)
            if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
              const by = (e.shiftKey ? 1 : 0.1) * (e.key === 'ArrowUp' ? 1 : -1)
              const next = stepped(text, by)
              if (next !== null) {
                e.preventDefault()
                change(next, 0)
              }
            }
          }}
        />
        <button className="strong" onClick={take}>
          take
        </button>
      </div>
      {better && (
        <button className="mt-1 border-b border-dotted border-ink text-[13px]" onClick={() => (change(better, 0), input.current?.focus())}>
          write <span className="fig">{better}</span>
        </button>
      )}
      {values.length > 0 && (
        <div className="mt-1.5 flex flex-wrap gap-x-3 gap-y-0.5 text-[13px] text-ink2">
          {values.slice(0, 12).map((v) => (
            <button key={v.id} tabIndex={-1} className="hover:text-accent" onClick={() => insert(v.name)} title={`${v.name} = ${v.text}`}>
              <span className="fig">{v.name}</span>
            </button>
          ))}
        </div>
      )}
    </div>
  )
}
