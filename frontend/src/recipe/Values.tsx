/** The value table: names with formulas, results beside them. */
import { useState } from 'react'
import { send } from '../state/commands'
import { keepPreview, preview } from '../state/previews'
import { useStore } from '../state/store'
import type { ValueOut } from '../api/client'
import { focusSoon } from '../widgets/focus'
import { FormulaField } from '../sentence/FormulaField'
import { ToleranceField } from '../sentence/ToleranceField'

export function Values() {
  const values = useStore((s) => s.project!.values)
  const [open, setOpen] = useState<string | null>(null)
  const [folded, setFolded] = useState(false)
  return (
    <section aria-label="values" className="border-b border-hair pb-2">
      <div className="flex items-baseline justify-between px-4 pt-3">
        <button className="font-semibold" aria-expanded={!folded} onClick={() => setFolded(!folded)}>
          Values <span className="font-normal text-ink2">{folded ? `${values.length} ▸` : ''}</span>
        </button>
        <button className="text-[13px] text-ink2 hover:text-accent" data-new-value onClick={() => (setFolded(false), setOpen('new'))}>
          + value
        </button>
      </div>
      {!folded && (
        <ul className="px-4">
          {values.map((v) => (
            <Row key={v.id} value={v} open={open === v.id} setOpen={(o) => setOpen(o ? v.id : null)} />
          ))}
        </ul>
      )}
      {open === 'new' && <NewValue done={() => (setOpen(null), focusSoon('[data-new-value]'))} />}
      {!values.length && open !== 'new' && !folded && (
        <p className="px-4 text-[13px] text-ink2">Name a figure once, e.g. wall = 1.7 mm, and use it in every formula.</p>
      )}
    </section>
  )
}

/** The steps that rest on a value: a click goes there. */
function Uses({ steps }: { steps: string[] }) {
  const recipe = useStore((s) => s.project!.document.recipe!)
  if (!steps.length) return <p className="mt-1 text-[13px] text-ink2">no step uses it</p>
  return (
    <p className="mt-1 text-[13px] text-ink2" data-uses>
      used in{' '}
      {steps.map((id, k) => {
        const number = recipe.findIndex((s) => s.id === id)
        return (
          <span key={id}>
            {k > 0 && ', '}
            <button className="underline underline-offset-2 hover:text-accent" title={recipe[number]?.name || undefined} onClick={() => goTo(id)}>
              step {number + 1}
            </button>
          </span>
        )
      })}
    </p>
  )
}

function goTo(step: string) {
  useStore.setState({ focusStep: step })
  requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-step="${step}"]`)?.scrollIntoView({ block: 'center' }))
  // the keyboard goes along
  focusSoon(`[data-step="${step}"]`)
}

function Row({ value, open, setOpen }: { value: ValueOut; open: boolean; setOpen: (open: boolean) => void }) {
  const said = useStore((s) => s.said)
  const [renaming, setRenaming] = useState(false)
  const tolerance = useStore((s) => s.project!.document.values!.find((v) => v.id === value.id)?.tolerance ?? '')
  const at = { step: `value:${value.id}` }
  const close = (kept = false) => {
    setOpen(false)
    setRenaming(false)
    if (kept) keepPreview()
    else void preview(null)
    useStore.setState({ said: null })
    focusSoon(`[data-value="${value.name}"] .chip`)
  }
  const simple = value.text.replace(/\s/g, '') === value.formula.replace(/\s/g, '')
  return (
    <li data-value={value.name} className="py-px">
      <div className="flex items-baseline gap-2">
        <button className="fig min-w-14 text-left text-ink2 hover:text-ink" title="call it something else" onClick={() => (setRenaming(true), setOpen(true))}>
          {value.name}
        </button>
        <span className="text-ink2">=</span>
        <button
          className={`chip ${open && !renaming ? 'chip-open' : 'chip-figure'} fig min-w-0 truncate`}
          aria-label={`${value.name} is ${value.formula}${value.text ? `, ${value.text}` : ''}`}
          aria-expanded={open}
          onClick={() => (open ? close() : setOpen(true))}
        >
          {value.formula}
        </button>
        {tolerance && <span className="fig shrink-0 text-accent">{tolerance}</span>}
        {!simple && value.text && <span className="fig shrink-0 text-ink2">→ {value.text}</span>}
      </div>
      {value.error && <p className="text-[13px] text-wrong">▲ {value.error}</p>}
      {open && (
        <div className="my-1 border border-ink bg-card px-3 py-2" onKeyDown={(e) => e.key === 'Escape' && (e.stopPropagation(), close())}>
          {renaming ? (
            <input
              className="field fig"
              autoFocus
              defaultValue={value.name}
              aria-label="name of the value"
              onKeyDown={async (e) => {
                if (e.key === 'Enter' && (await send({ do: 'RenameValue', value: value.id, name: e.currentTarget.value }, at))) close()
              }}
            />
          ) : (
            <FormulaField
              label={value.name}
              own={value.name}
              message={value.error}
              initial={value.formula}
              onTry={(formula) => void preview({ do: 'SetValue', value: value.id, formula }, at)}
              onTake={async (formula) => {
                const done = await send({ do: 'SetValue', value: value.id, formula }, at)
                if (done) close(true)
                return !!done
              }}
              onLeave={() => close()}
            />
          )}
          {!renaming && <Uses steps={value.uses} />}
          {!renaming && <ToleranceField dimension={value.id} text={tolerance} target={{ value: value.id }} at={at} />}
          {said?.step === at.step && (
            <p role="alert" className="mt-1 text-[13px] text-wrong">
              {said.text}
            </p>
          )}
          <button className="mt-1 text-[13px] text-ink2 underline-offset-2 hover:underline" onClick={() => void send({ do: 'RemoveValue', value: value.id }, at)}>
            remove {value.name}
          </button>
        </div>
      )}
    </li>
  )
}

function NewValue({ done }: { done: () => void }) {
  const [name, setName] = useState('')
  const [formula, setFormula] = useState('')
  const said = useStore((s) => s.said)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const keep = async () => {
    if (await send({ do: 'AddValue', name, formula }, { step: 'value:new' })) {
      setName('')
      setFormula('')
      document.querySelector<HTMLInputElement>('[data-value-name]')?.focus()
    }
  }
  return (
    <form
      className="mx-4 my-1 border border-ink bg-card px-3 py-2"
      onSubmit={(e) => (e.preventDefault(), void keep())}
      onKeyDown={(e) => e.key === 'Escape' && (e.stopPropagation(), done())}
    >
      <div className="flex items-center gap-2">
        <input data-value-name autoFocus className="field fig w-24!" placeholder="wall" aria-label="name of the new value" value={name} onChange={(e) => setName(e.target.value)} />
        <span>=</span>
        <input className="field fig min-w-0 flex-1" placeholder={unit === 'in' ? '1/16"' : '1.7 mm'} aria-label="formula of the new value" value={formula} onChange={(e) => setFormula(e.target.value)} />
      </div>
      {/^\s*-?(\d+ +\d+\/\d+|\d+\/\d+|[\d.]+)\s*$/.test(formula) && (
        <p className="mt-1 text-[13px] text-ink2">
          a plain number; for a length{' '}
          <button type="button" className="fig border-b border-dotted border-ink text-ink" onClick={() => setFormula(`${formula.trim()} ${unit}`)}>
            {formula.trim()} {unit}
          </button>
        </p>
      )}
      {said?.step === 'value:new' && (
        <p role="alert" className="mt-1 text-[13px] text-wrong">
          {said.text}
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <button className="strong" type="submit">
          keep
        </button>
        <button className="plain" type="button" onClick={done}>
          done
        </button>
      </div>
    </form>
  )
}
