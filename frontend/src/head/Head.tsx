/** One line: project, desks, search, undo and redo, unit, saved state, light, help. */
import { useState } from 'react'
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { travel } from '../state/writing'
import { useWorkshop } from '../state/workshop'
import { applyTheme, storedTheme } from '../theme/theme'
import { DeskLine } from './DeskLine'

/** Which revision this is, or since which one it changed; a click goes to them. */
function RevisionMark() {
  const kept = useWorkshop((s) => s.kept)
  const version = useStore((s) => s.project!.version)
  const asked = useWorkshop((s) => s.keptFor)
  const last = kept?.revisions[kept.revisions.length - 1]
  if (!kept || !last) return null
  const same = asked === version ? kept.revisions.find((r) => r.number === kept.frozen) : undefined
  return (
    <button className="max-w-40 min-w-0 truncate text-[13px] text-ink2 hover:text-accent max-[1100px]:hidden" title="revisions" onClick={() => useStore.setState({ desk: 'learn' })}>
      {same ? `${same.number}: ${same.note || 'no note'}` : `after revision ${last.number}`}
    </button>
  )
}

const SAVED = { kept: 'all kept ✓', keeping: 'keeping …', cut: '▲ cut off' }

export function Head({ onHome, onKeys }: { onHome: () => void; onKeys: () => void }) {
  const project = useStore((s) => s.project)!
  const saved = useStore((s) => s.saved)
  const [naming, setNaming] = useState(false)
  const [theme, setTheme] = useState(storedTheme())
  const unit = project.document.unit ?? 'mm'
  const drafting = useStore((s) => !!s.draft)
  const back = drafting ? 'the last answer of this sentence' : (project.undo ?? '')
  return (
    <header className="grid h-[46px] shrink-0 grid-cols-[1fr_auto_1fr] items-center border-b border-ink bg-sheet px-4">
      <div className="flex min-w-0 items-center gap-3">
        <button onClick={onHome} aria-label="all projects" title="all projects">
          <img src="/mark.svg" alt="" className="h-6 max-w-none" />
        </button>
        {naming ? (
          <input
            autoFocus
            className="field max-w-56"
            aria-label="name of the project"
            defaultValue={project.document.name}
            onBlur={() => setNaming(false)}
            onKeyDown={async (e) => {
              if (e.key === 'Escape') setNaming(false)
              if (e.key === 'Enter' && (await send({ do: 'RenameProject', name: e.currentTarget.value }))) setNaming(false)
            }}
          />
        ) : (
          // a name is seen before what revision it is
          <h1 className="max-w-64 min-w-0 text-[16px] font-bold min-[1101px]:shrink-0">
            <button className="block max-w-full truncate" onClick={() => setNaming(true)} title="call it something else">
              {project.document.name}
            </button>
          </h1>
        )}
        <RevisionMark />
        <a className="shrink-0 text-[13px] text-ink2 hover:text-accent" title="save the project as a file" href={`/api/projects/${project.id}/file`} download>
          <span className="max-[1180px]:hidden">project </span>file
        </a>
      </div>
      <DeskLine />
      <div className="flex items-center justify-end gap-2.5">
        <button
          data-find
          className="flex w-36 items-center justify-between border-b border-dashed border-ink2 text-left text-ink2 hover:text-ink"
          onClick={() => useStore.setState({ palette: { after: null, find: true } })}
        >
          Find or do …<span className="key">/</span>
        </button>
        <button className="px-1 disabled:opacity-35" disabled={!back} aria-label={`take back: ${back || 'nothing'}`} title={back ? `take back: ${back}` : 'nothing to take back'} onClick={() => void travel('undo')}>
          ↶
        </button>
        <button className="px-1 disabled:opacity-35" disabled={!project.redo || drafting} aria-label={`do again: ${project.redo ?? 'nothing'}`} title={project.redo ? `do again: ${project.redo}` : 'nothing to do again'} onClick={() => void travel('redo')}>
          ↷
        </button>
        <Listbox value={unit} onChange={(u) => void send({ do: 'SetUnit', unit: u })}>
          <ListboxButton aria-label={`unit of lengths: ${unit}`} className="px-1 font-semibold">
            {unit}
          </ListboxButton>
          <ListboxOptions anchor="bottom end" className="z-30 border border-ink bg-card outline-none">
            {[['mm', 'millimetres'], ['in', 'inches']].map(([u, word]) => (
              <ListboxOption key={u} value={u} className="cursor-pointer px-3 py-1 data-focus:bg-row data-selected:font-semibold">
                {word}
              </ListboxOption>
            ))}
          </ListboxOptions>
        </Listbox>
        <span role="status" data-saved={saved} className={`w-[74px] text-[13px] ${saved === 'cut' ? 'text-wrong' : 'text-ink2'}`}>
          {SAVED[saved]}
        </span>
        <button
          data-light
          aria-label={theme === 'light' ? 'dark colours' : 'light colours'}
          title={theme === 'light' ? 'dark colours' : 'light colours'}
          onClick={() => {
            const next = theme === 'light' ? 'dark' : 'light'
            applyTheme(next)
            setTheme(next)
          }}
        >
          ◐
        </button>
        <button aria-label="keys" title="keys" className="key" onClick={onKeys}>
          ?
        </button>
      </div>
    </header>
  )
}
