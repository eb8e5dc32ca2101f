/** Pointing without a mouse: all faces and edges by name, lit up on the model while one goes through them. */
import { useMemo, useState } from 'react'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react'
import { type Thing, sameThing } from '../state/picks'
import { useStore } from '../state/store'
import { focusSoon } from '../widgets/focus'
import type { Viewer } from './viewer'

interface Entry { thing: Thing; words: string }

export function PointList({ viewer, close }: { viewer: Viewer; close: () => void }) {
  const hidden = useStore((s) => s.hidden)
  const selected = useStore((s) => s.selected)
  const told = useStore((s) => s.told)
  const [query, setQuery] = useState('')
  const entries = useMemo(() => {
    void told
    const out: Entry[] = []
    const seen = new Map<string, number>()
    // names that come twice are counted
    const add = (thing: Thing, label: string) => {
      const n = (seen.get(label) ?? 0) + 1
      seen.set(label, n)
      out.push({ thing, words: n > 1 ? `${label} (${n})` : label })
    }
    for (const [part, header] of viewer.headers) {
      if (hidden.has(part)) continue
      header.faces.forEach((f, index) => add({ type: 'face', part, index }, f.label))
      header.edges.forEach((e, index) => !e.smooth && add({ type: 'edge', part, index }, e.label))
    }
    return out
  }, [viewer, hidden, told])
  const words = query.toLowerCase().split(/\s+/).filter(Boolean)
  const shown = entries.filter((e) => words.every((w) => e.words.toLowerCase().includes(w))).slice(0, 60)
  const leave = () => {
    useStore.setState({ hover: null })
    close()
    focusSoon('[data-pin]:not(:disabled)', '#stage')
  }
  return (
    <div className="absolute bottom-14 left-4 z-20 flex max-h-[46%] w-[320px] flex-col border border-ink bg-card">
      <Combobox
        immediate
        multiple
        value={[] as Entry[]}
        onChange={(taken: Entry[]) => {
          const thing = taken[taken.length - 1]?.thing
          if (!thing) return
          const old = useStore.getState().selected
          // a reading is of one thing or between two
          const next = old.some((t) => sameThing(t, thing)) ? old.filter((t) => !sameThing(t, thing)) : [...old.slice(-1), thing]
          useStore.setState({ selected: next })
          setQuery('')
          if (next.length === 2) leave()
        }}
      >
        <ComboboxInput
          autoFocus
          aria-label="point at"
          placeholder="Which face or edge?"
          className="border-b border-hair bg-transparent px-3 py-1.5 outline-none"
          value={query}
          onChange={(e) => setQuery(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              e.stopPropagation()
              leave()
            }
          }}
        />
        <ComboboxOptions static className="min-h-0 flex-1 overflow-y-auto py-1 text-[13px]">
          {shown.map((entry) => (
            <ComboboxOption key={entry.words} value={entry} className="cursor-pointer px-3 data-focus:bg-row">
              {({ focus }) => (
                <>
                  {focus && <Lit thing={entry.thing} />}
                  {selected.some((t) => sameThing(t, entry.thing)) ? '◆ ' : ''}
                  {entry.words}
                </>
              )}
            </ComboboxOption>
          ))}
          {!shown.length && <p className="px-3 text-ink2">Nothing is called that.</p>}
        </ComboboxOptions>
      </Combobox>
      <p className="border-t border-hair px-3 py-1 text-[12.5px] text-ink2">Enter takes one; a second one is measured to the first. Esc leaves.</p>
    </div>
  )
}

/** Lights up what the list stands at. */
function Lit({ thing }: { thing: Thing }) {
  const hover = useStore((s) => s.hover)
  if (!hover || !sameThing(hover, thing)) queueMicrotask(() => useStore.setState({ hover: thing }))
  return null
}
