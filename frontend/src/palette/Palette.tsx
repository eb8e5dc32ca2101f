/** One searchable list of what can be done: steps by intention, and things of the project to go to. */
import { useMemo, useState } from 'react'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/react'
import { type Desk, openBoard, openChip, shownChips, startDraft, travel, useStore } from '../state/store'
import type { Fields } from '../api/client'
import { DESKS } from '../head/DeskLine'

interface Entry { id: string; group: string; word: string; about: string; act: () => void; rank: number }

const ORDER = ['make', 'take away', 'finish edges', 'hollow', 'repeat', 'divide', 'move', 'refer', 'join', 'go to', 'do']

export function Palette() {
  const palette = useStore((s) => s.palette)
  if (!palette) return null
  return <Opened after={palette.after} />
}

function Opened({ after }: { after: string | null }) {
  const kinds = useStore((s) => s.kinds)!
  const project = useStore((s) => s.project)!
  const selected = useStore((s) => s.selected)
  const [query, setQuery] = useState('')
  const close = () => useStore.setState({ palette: null })

  const entries = useMemo(() => {
    const chosen: Set<string> = new Set(selected.map((t) => t.type))
    const list: Entry[] = kinds.kinds.map((kind) => ({
      id: `step-${kind.kind}`, group: kind.group, word: kind.title, about: kind.about, act: () => startDraft(kind, after),
      rank: kind.suits.some((s) => chosen.has(s)) ? -1 : ORDER.indexOf(kind.group),
    }))
    if (query.trim()) {
      project.document.recipe!.forEach((step, i) => {
        const kind = kinds.kinds.find((k) => k.kind === step.kind)!
        list.push({
          id: `go-${step.id}`, group: 'go to', word: step.name || project.sentences[step.id], about: `step ${i + 1}`, rank: ORDER.indexOf('go to'),
          act: () => {
            useStore.setState({ desk: 'shape', focusStep: step.id })
            if (step.kind === 'sketch') openBoard(step.id)
            else openChip(step.id, shownChips(kind, step.fields as Fields)[0])
          },
        })
      })
      for (const [desk, name] of DESKS) list.push({ id: `desk-${desk}`, group: 'go to', word: `${name} desk`, about: '', rank: ORDER.indexOf('go to'), act: () => useStore.setState({ desk: desk as Desk }) })
      list.push({ id: 'undo', group: 'do', word: 'Take back', about: project.undo ?? 'nothing to take back', rank: 20, act: () => void travel('undo') })
      list.push({ id: 'redo', group: 'do', word: 'Do again', about: project.redo ?? 'nothing to do again', rank: 20, act: () => void travel('redo') })
      list.push({ id: 'fit', group: 'do', word: 'Show everything', about: 'fit the model into the stage', rank: 20, act: () => useStore.getState().viewer?.fit() })
    }
    const words = query.toLowerCase().split(/\s+/).filter(Boolean)
    return list
      .filter((e) => words.every((w) => `${e.word} ${e.about} ${e.group}`.toLowerCase().includes(w)))
      .sort((a, b) => a.rank - b.rank)
  }, [kinds, project, selected, query, after])

  const place = after === null ? '' : after === '' ? ' at the beginning' : ` after step ${project.document.recipe!.findIndex((s) => s.id === after) + 1}`
  return (
    <Dialog open onClose={close} className="fixed inset-0 z-40 flex justify-center bg-[var(--shade)] pt-[12vh]">
      <DialogPanel className="flex h-fit max-h-[70vh] w-[440px] flex-col border border-ink bg-card">
        <Combobox
          immediate
          onChange={(entry: Entry | null) => {
            close()
            entry?.act()
          }}
        >
          <ComboboxInput
            autoFocus
            aria-label="find or do"
            placeholder={`What comes next${place}?`}
            className="border-b border-ink bg-transparent px-4 py-3 text-[15px] outline-none"
            onChange={(e) => setQuery(e.target.value)}
          />
          <ComboboxOptions static className="min-h-0 flex-1 overflow-y-auto py-1">
            {entries.map((entry, i) => (
              <div key={entry.id}>
                {entry.group !== entries[i - 1]?.group && <p className="px-4 pt-2 text-[12.5px] text-ink2">{entry.rank < 0 ? `${entry.group} (suits what is selected)` : entry.group}</p>}
                <ComboboxOption value={entry} className="flex cursor-pointer items-baseline gap-3 px-4 py-1 data-focus:bg-row">
                  <span className="max-w-52 shrink-0 truncate font-semibold">{entry.word}</span>
                  <span className="truncate text-[13px] text-ink2">{entry.about}</span>
                </ComboboxOption>
              </div>
            ))}
            {!entries.length && <p className="px-4 py-2 text-ink2">Nothing fits “{query}”. Try edge, hollow, join …</p>}
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </Dialog>
  )
}
