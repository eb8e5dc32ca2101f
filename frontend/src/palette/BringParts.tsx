/** Choosing parts of another project, or of a worked example: they come with the steps and values that they need. */
import { useEffect, useState } from 'react'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { type OtherParts, type Sample, type Summary, api } from '../api/client'
import { record } from '../state/commands'
import { useStore } from '../state/store'

const counted = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`

export function BringParts() {
  const open = useStore((s) => s.bringing)
  return open ? <Opened /> : null
}

function Opened() {
  const here = useStore((s) => s.id)
  const close = () => useStore.setState({ bringing: false })
  const [sources, setSources] = useState<{ of: string; name: string; example: boolean }[]>([])
  const [of, setOf] = useState('')
  const [chosen, setChosen] = useState<string[]>([])
  const [found, setFound] = useState<OtherParts | null>(null)
  const [said, setSaid] = useState('')
  const [busy, setBusy] = useState(false)
  useEffect(() => {
    void Promise.all([api.projects(), api.samples()]).then(
      ([own, samples]: [Summary[], Sample[]]) => setSources([
        ...own.filter((p) => p.id !== here && p.parts > 0).map((p) => ({ of: p.id, name: p.name, example: false })),
        ...samples.map((s) => ({ of: `sample:${s.name}`, name: s.title, example: true })),
      ]),
      (e: Error) => setSaid(e.message),
    )
  }, [here])
  useEffect(() => {
    if (!of) return
    let wanted = true
    void api.otherParts(of, chosen).then(
      (answer) => wanted && (setFound(answer), setSaid('')),
      (e: Error) => wanted && setSaid(e.message),
    )
    return () => void (wanted = false)
  }, [of, chosen])
  const along = found && chosen.length ? found.parts.filter((p) => p.comes && !chosen.includes(p.id)) : []
  const bring = async () => {
    setBusy(true)
    const done = await record((id, seen) => api.bring(id, seen, of, chosen))
    setBusy(false)
    if (done) {
      close()
      useStore.setState({ desk: 'shape' })
      requestAnimationFrame(() => useStore.getState().viewer?.eye.fit())
    } else setSaid(useStore.getState().said?.text ?? 'They could not be brought in.')
  }
  return (
    <Dialog open onClose={close} className="fixed inset-0 z-40 flex items-center justify-center bg-[var(--shade)]">
      <DialogPanel className="flex max-h-[80vh] w-[720px] flex-col border border-ink bg-card">
        <div className="flex items-baseline justify-between border-b border-ink px-5 py-3">
          <DialogTitle className="text-[16px] font-semibold">Parts of another project</DialogTitle>
          <button className="plain" onClick={close}>
            close
          </button>
        </div>
        <div className="grid min-h-0 flex-1 grid-cols-[270px_1fr]">
          <ul aria-label="other projects" className="overflow-y-auto border-r border-hair py-2">
            {sources.map((s, i) => (
              <li key={s.of}>
                {s.example && !sources[i - 1]?.example && <p className="px-5 pt-2 text-[12.5px] text-ink2">worked examples</p>}
                <button aria-pressed={s.of === of} className={`w-full truncate px-5 py-0.5 text-left ${s.of === of ? 'bg-row font-semibold' : 'hover:bg-row'}`} onClick={() => (setOf(s.of), setChosen([]), setFound(null))}>
                  {s.name}
                </button>
              </li>
            ))}
          </ul>
          <div className="min-h-[260px] overflow-y-auto px-5 py-2">
            {!of && <p className="py-1 text-ink2">Choose a project; then which of its parts. They come with the steps and values that make them, under names of their own, and stand where they stand there.</p>}
            {found && (
              <ul aria-label="its parts">
                {found.parts.map((p) => (
                  <li key={p.id}>
                    <label className="flex items-center gap-2 py-0.5">
                      <input type="checkbox" className="box" checked={chosen.includes(p.id) || (chosen.length > 0 && p.comes)} disabled={p.comes && !chosen.includes(p.id)} onChange={() => setChosen(chosen.includes(p.id) ? chosen.filter((c) => c !== p.id) : [...chosen, p.id])} />
                      <span aria-hidden className="h-3.5 w-3.5 border border-ink" style={{ background: p.colour }} />
                      <span className={chosen.includes(p.id) ? 'font-semibold' : ''}>{p.name}</span>
                      {p.role !== 'printed' && <span className="text-ink2">· {p.role}</span>}
                    </label>
                  </li>
                ))}
              </ul>
            )}
          </div>
        </div>
        <div className="flex items-center gap-4 border-t border-ink px-5 py-3">
          <p className="flex-1 text-[13.5px]" role="status" data-comes>
            {said ? <span className="text-wrong">{said}</span> : found && chosen.length > 0 && (
              <>
                {counted(chosen.length + along.length, 'part')}, {counted(found.steps, 'step')}, {counted(found.values, 'value')}.
                {along.length > 0 && ` ${along.map((p) => p.name).join(', ')} ${along.length === 1 ? 'comes' : 'come'} along: what was chosen hangs on ${along.length === 1 ? 'it' : 'them'}.`}
              </>
            )}
          </p>
          <button className="strong" disabled={!chosen.length || busy} onClick={() => void bring()}>
            Bring in
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  )
}
