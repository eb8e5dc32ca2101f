/** One searchable list of what can be done: steps by intention, and things of the project to go to. */
import { useMemo, useState } from 'react'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/react'
import { canTake, pickKind } from '../state/chips'
import { send } from '../state/commands'
import { defaultsOf, shownChips } from '../state/fields'
import { type Desk, useStore } from '../state/store'
import { openBoard, openChip, startDraft, travel } from '../state/writing'
import type { Fields, Kind } from '../api/client'
import { DESKS } from '../head/DeskLine'
import { startApart } from '../stage/ApartBar'
import { startCut } from '../stage/CutBar'
import { focusSoon } from '../widgets/focus'

interface Entry { id: string; group: string; word: string; about: string; more?: string; act: () => void; rank: number; lacks: string }

/** How well what was typed tells an entry: it is its name, begins words of it, or words of what is said of it, or stands somewhere in them. */
function near(entry: Entry, typed: string[]): number {
  const begins = (text: string) => typed.every((w) => ` ${text.toLowerCase().replace(/[^a-z0-9]+/g, ' ')}`.includes(` ${w}`))
  if (entry.word.toLowerCase() === typed.join(' ')) return -1
  return begins(entry.word) ? 0 : begins(`${entry.word} ${entry.about} ${entry.more ?? ''}`) ? 1 : 2
}

const ORDER = ['make', 'take away', 'finish edges', 'change faces', 'hollow', 'repeat', 'divide', 'move', 'refer', 'join', 'go to', 'do']

/** What a kind of step would have to ask for in vain, as long as the project has none of it. */
function lacking(kind: Kind, parts: number, outlines: number): string {
  // what is asked for with the answers that a new step begins with, and can only be answered by pointing
  const begin = defaultsOf(kind.fields)
  const asked = shownChips(kind, begin).map((c) => kind.fields.find((f) => f.name === c)).filter((f) => f && f.default === null)
  const only = (...things: string[]) => asked.some((f) => {
    const pick = f && pickKind(f.type)
    return pick && !pick.ready.some((r) => !r.each) && pick.points.every((p) => things.includes(p.thing))
  })
  const taken = asked.some((f) => f && f.type === 'part' && f.missing)
  if (!parts && (taken || only('face', 'edge', 'corner'))) return 'needs a part first'
  if (!outlines && only('region')) return 'needs an outline first'
  return ''
}

/** Where the list opens: beside the place in the recipe where the step will stand, or under the field in the head. */
function place(palette: { after: string | null; find?: boolean }): React.CSSProperties {
  const anchor = (selector: string) => document.querySelector(selector)?.getBoundingClientRect()
  if (palette.find) {
    const head = anchor('[data-find]')
    return { right: head ? Math.max(12, window.innerWidth - head.right) : 12, top: (head?.bottom ?? 40) + 4 }
  }
  const row = anchor(palette.after ? `[data-step="${palette.after}"]` : '[data-first]') ?? anchor('[data-next]') ?? anchor('[data-first]')
  const left = (row?.right ?? 320) + 8
  if (!row || row.bottom > window.innerHeight * 0.6) return { left, bottom: Math.max(12, window.innerHeight - (row?.bottom ?? 0)) }
  return { left, top: Math.max(52, row.bottom - 24) }
}

export function Palette() {
  const palette = useStore((s) => s.palette)
  if (!palette) return null
  return <Opened {...palette} />
}

function Opened({ after, find }: { after: string | null; find?: boolean }) {
  const kinds = useStore((s) => s.kinds)!
  const project = useStore((s) => s.project)!
  const selected = useStore((s) => s.selected)
  const viewer = useStore((s) => s.viewer)
  const [query, setQuery] = useState('')
  const [where] = useState(() => place({ after, find }))
  const close = () => useStore.setState({ palette: null })

  const entries = useMemo(() => {
    const chosen: Set<string> = new Set(selected.map((t) => t.type))
    const outlines = project.document.recipe!.filter((s) => s.kind === 'sketch').length
    const list: Entry[] = kinds.kinds.map((kind) => ({
      id: `step-${kind.kind}`, group: kind.group, word: kind.title, about: kind.about, more: kind.words, act: () => startDraft(kind, after),
      rank: kind.suits.some((s) => chosen.has(s)) && (!viewer || canTake(kind, selected, viewer)) ? -1 : ORDER.indexOf(kind.group),
      lacks: lacking(kind, project.document.parts!.length, outlines),
    }))
    const more = (entry: Omit<Entry, 'lacks'>) => list.push({ ...entry, lacks: '' })
    if (query.trim()) {
      project.document.recipe!.forEach((step, i) => {
        const kind = kinds.kinds.find((k) => k.kind === step.kind)!
        more({
          id: `go-${step.id}`, group: 'go to', word: step.name || project.steps[step.id]?.sentence || '', about: `step ${i + 1}`, rank: ORDER.indexOf('go to'),
          act: () => {
            useStore.setState({ desk: 'shape', focusStep: step.id })
            if (step.kind === 'sketch') openBoard(step.id)
            else openChip(step.id, shownChips(kind, step.fields as Fields)[0])
          },
        })
      })
      for (const [desk, name] of DESKS) more({ id: `desk-${desk}`, group: 'go to', word: `${name} desk`, about: '', rank: ORDER.indexOf('go to'), act: () => useStore.setState({ desk: desk as Desk }) })
      more({ id: 'undo', group: 'do', word: 'Take back', about: project.undo ?? 'nothing to take back', more: 'undo back', rank: 20, act: () => void travel('undo') })
      more({ id: 'redo', group: 'do', word: 'Do again', about: project.redo ?? 'nothing to do again', more: 'redo', rank: 20, act: () => void travel('redo') })
      more({ id: 'fit', group: 'do', word: 'Show everything', about: 'fit the model into the stage', more: 'zoom all', rank: 20, act: () => useStore.getState().viewer?.eye.fit() })
      const unit = project.document.unit === 'in' ? 'mm' : 'in'
      const does: [string, string, string, string, () => void][] = [
        ['save', 'Save files', 'of parts, at the Print desk', 'export download stl 3mf step', () => useStore.setState({ desk: 'print' })],
        ['point', 'Read a distance', 'point at one thing, with Shift at a second', 'measure distance angle size caliper', () => focusSoon('#stage')],
        ['cut', 'Cut the model open', 'look inside', 'section inside x-ray', startCut],
        ['apart', 'Pull the model apart', 'along its joints', 'explode exploded separate assembly inside', startApart],
        ['strands', 'Links between parts as strands', useStore.getState().strands ? 'hide them' : 'from sentence to sentence, and on the model', 'links rests on uses depends threads', () => useStore.setState({ desk: 'shape', strands: !useStore.getState().strands })],
        ['light', 'Light or dark colours', '', 'theme night', () => document.querySelector<HTMLElement>('[data-light]')?.click()],
        ['unit', `Lengths in ${unit === 'in' ? 'inches' : 'millimetres'}`, 'for the whole project', 'unit inch mm metric imperial', () => void send({ do: 'SetUnit', unit })],
        ['bring', 'Parts of another project', 'with the steps they need', 'copy bring import library example take over', () => useStore.setState({ bringing: true })],
        ['keys', 'All keys', 'what the keyboard does', 'help shortcuts', () => useStore.setState({ keys: true })],
        ['value', 'New value', 'a named figure for formulas', 'variable parameter', () => (useStore.setState({ desk: 'shape', folded: false }), requestAnimationFrame(() => document.querySelector<HTMLElement>('[data-new-value]')?.click()))],
      ]
      for (const [id, word, about, words, act] of does) more({ id, group: 'do', word, about, more: words, rank: 20, act })
      const last = [...project.document.recipe!].reverse().find((s) => s.kind === 'sketch')
      if (last) {
        const name = last.name || `the outline of step ${project.document.recipe!.indexOf(last) + 1}`
        more({
          id: 'board', group: 'do', word: 'Work on the board', about: name, rank: 20, act: () => openBoard(last.id),
          more: 'draw line arc circle rectangle slot polygon ellipse spline text trim split mirror offset copy repeat row ring dxf svg import outline dimension constraint',
        })
      }
    }
    const words = query.toLowerCase().split(/\s+/).filter(Boolean)
    return list
      .filter((e) => words.every((w) => `${e.word} ${e.about} ${e.group} ${e.more ?? ''}`.toLowerCase().includes(w)))
      .sort((a, b) => near(a, words) - near(b, words) || a.rank - b.rank || Number(!!a.lacks) - Number(!!b.lacks))
  }, [kinds, project, selected, viewer, query, after])

  const spot = after === null ? '' : after === '' ? ' at the beginning' : ` after step ${project.document.recipe!.findIndex((s) => s.id === after) + 1}`
  return (
    <Dialog open onClose={close} className="fixed inset-0 z-40">
      <DialogPanel style={where} className="absolute flex max-h-[74vh] w-[500px] flex-col border border-ink bg-card shadow-[5px_5px_0_var(--shade)]">
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
            placeholder={`What comes next${spot}?`}
            className="border-b border-ink bg-transparent px-4 py-3 text-[15px] outline-none"
            onChange={(e) => setQuery(e.target.value)}
            onKeyDown={(e) => {
              // one press is enough, though the list inside would take the first for itself
              if (e.key === 'Escape') close()
            }}
          />
          <ComboboxOptions static className="min-h-0 flex-1 overflow-y-auto py-1">
            {entries.map((entry, i) => (
              // other words, other rows: else the one that was first for less than what is typed now would be taken by Enter
              <div key={`${query} ${entry.id}`}>
                {entry.group !== entries[i - 1]?.group && <p className="px-4 pt-2 text-[12.5px] text-ink2">{entry.rank < 0 ? `${entry.group} (suits what is selected)` : entry.group}</p>}
                <ComboboxOption value={entry} className="flex cursor-pointer items-baseline gap-3 px-4 py-1 data-focus:bg-row">
                  <span className={`max-w-52 shrink-0 truncate font-semibold ${entry.lacks ? 'text-ink2' : ''}`}>{entry.word}</span>
                  <span className="min-w-0 text-[13px] leading-snug text-ink2">{entry.lacks || entry.about}</span>
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
