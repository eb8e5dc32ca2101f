/** The other way round: which value gives a reading the figure that it should have. */
import { useState } from 'react'
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react'
import { Refusal, api } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'

interface Props { first: object; second: object | null; what: string; now: string; done: () => void }

export function SolveFor({ first, second, what, now, done }: Props) {
  const id = useStore((s) => s.id)
  const values = useStore((s) => s.project!.document.values!)
  const [target, setTarget] = useState(now)
  const [value, setValue] = useState(values[0]?.id ?? '')
  const [state, setState] = useState<'ready' | 'looking'>('ready')
  const [found, setFound] = useState('')
  const [message, setMessage] = useState('')
  const name = values.find((v) => v.id === value)?.name ?? ''
  if (!values.length) return <p className="mt-1 text-[12.5px] text-ink2">Name a value first: a reading is reached by changing one.</p>
  const look = async () => {
    setState('looking')
    setFound('')
    setMessage('')
    try {
      const answer = await api.solveFor(id, first, second, what, target, value)
      setFound(answer.formula)
      setMessage(answer.message)
    } catch (error) {
      setMessage(error instanceof Refusal ? error.message : String(error))
    }
    setState('ready')
  }
  return (
    <form
      aria-label={`make ${what} another`}
      className="mt-1 border-t border-hair pt-1.5"
      onSubmit={(e) => {
        e.preventDefault()
        void look()
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        done()
      }}
    >
      <div className="flex items-baseline gap-1.5">
        <span className="text-ink2">make it</span>
        <input className="field fig w-20! py-0!" aria-label={`what ${what} should be`} autoFocus value={target} onFocus={(e) => e.target.select()} onChange={(e) => (setTarget(e.target.value), setFound(''))} />
        <span className="text-ink2">by</span>
        <Listbox value={value} onChange={(v) => (setValue(v), setFound(''), setMessage(''))}>
          <ListboxButton className="chip min-w-0 flex-1 truncate text-left" aria-label={`the value that may change: ${name}`}>
            {name}
          </ListboxButton>
          <ListboxOptions anchor="top start" className="z-40 max-h-60 overflow-auto border border-ink bg-card py-1 text-[13.5px] outline-none">
            {values.map((v) => (
              <ListboxOption key={v.id} value={v.id} className="cursor-pointer px-3 py-0.5 data-focus:bg-row data-selected:font-semibold">
                {v.name}
              </ListboxOption>
            ))}
          </ListboxOptions>
        </Listbox>
        <button className="plain py-0!" type="submit" disabled={state === 'looking'}>
          {state === 'looking' ? '…' : 'find'}
        </button>
      </div>
      {found && (
        <div className="mt-1 flex items-baseline justify-between">
          <span className="fig">
            {name} = <b>{found}</b>
          </span>
          <button type="button" className="strong py-0!" onClick={() => void send({ do: 'SetValue', value, formula: found }).then((kept) => kept && done())}>
            take it
          </button>
        </div>
      )}
      {message && (
        <p role="alert" className="mt-1 text-[13px] text-wrong">
          {message}
        </p>
      )}
    </form>
  )
}
