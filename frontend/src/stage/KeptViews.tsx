/** Views of the model that are kept by name: looked at again, kept anew, forgotten. */
import { useState } from 'react'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import type { Viewer } from './viewer'

export function KeptViews({ viewer }: { viewer: Viewer }) {
  const kept = useStore((s) => s.project!.document.views!)
  return (
    <Popover className="flex">
      <PopoverButton id="kept-views" className="px-2.5 text-ink2 hover:text-ink data-open:font-semibold data-open:text-ink" title="views kept by name">
        kept{kept.length ? ` ${kept.length}` : ''}
      </PopoverButton>
      <PopoverPanel anchor="top end" focus className="z-30 w-64 border border-ink bg-card p-3 text-[13.5px]">
        {({ close }) => <Views viewer={viewer} close={close} />}
      </PopoverPanel>
    </Popover>
  )
}

function Views({ viewer, close }: { viewer: Viewer; close: () => void }) {
  const kept = useStore((s) => s.project!.document.views!)
  const parts = useStore((s) => s.project!.document.parts!)
  const [name, setName] = useState('')
  const look = (view: (typeof kept)[number]) => {
    viewer.eye.see(view)
    useStore.setState({ hidden: new Set(view.hidden!.filter((id) => parts.some((p) => p.id === id))) })
    close()
  }
  const keep = async () => {
    const there = new Set(parts.map((p) => p.id))
    const hidden = [...useStore.getState().hidden].filter((id) => there.has(id))
    if (await send({ do: 'KeepView', name, ...viewer.eye.seen(), hidden })) setName('')
  }
  const again = kept.some((v) => v.name.toLowerCase() === name.trim().toLowerCase())
  return (
    <>
      {kept.length > 0 && (
        <ul aria-label="kept views" className="mb-2 max-h-60 overflow-y-auto border-b border-hair pb-2">
          {kept.map((view) => (
            <li key={view.id} className="flex justify-between gap-3">
              <button className="min-w-0 flex-1 truncate py-0.5 text-left hover:bg-row" onClick={() => look(view)}>
                {view.name}
                {view.hidden!.length > 0 && <span className="text-ink2"> · {view.hidden!.length} hidden</span>}
              </button>
              <button className="text-ink2 underline-offset-2 hover:text-ink hover:underline" aria-label={`forget the view ${view.name}`} onClick={() => void send({ do: 'DropView', view: view.id })}>
                forget
              </button>
            </li>
          ))}
        </ul>
      )}
      <form className="flex items-baseline gap-2" onSubmit={(e) => (e.preventDefault(), void keep())}>
        <input className="min-w-0 flex-1 border-b border-ink bg-transparent outline-none" aria-label="name of the view" placeholder="keep this view as …" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
        <button className="underline underline-offset-2 disabled:text-ink2 disabled:no-underline" disabled={!name.trim()}>
          {again ? 'keep anew' : 'keep'}
        </button>
      </form>
    </>
  )
}
