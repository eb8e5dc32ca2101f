/** Parts out as files. Plates, layers and estimates are not here yet, and it says so. */
import { useState } from 'react'
import { Refusal, api } from '../api/client'
import { useStore } from '../state/store'

export function PrintDesk() {
  const id = useStore((s) => s.id)
  const project = useStore((s) => s.project)!
  const parts = project.document.parts!
  const [chosen, setChosen] = useState<Set<string>>(() => new Set(parts.filter((p) => p.role === 'printed').map((p) => p.id)))
  const [format, setFormat] = useState('stl')
  const [unit, setUnit] = useState('mm')
  const [pattern, setPattern] = useState('{project} {part}')
  const [busy, setBusy] = useState(false)
  const [message, setMessage] = useState<{ text: string; bad: boolean } | null>(null)
  const save = async () => {
    setBusy(true)
    setMessage(null)
    try {
      const names: string[] = []
      // one file a part, each saved by itself
      for (const part of parts.filter((p) => chosen.has(p.id))) {
        const { name, blob } = await api.export(id, { parts: [part.id], format, unit, pattern })
        const link = document.createElement('a')
        link.href = URL.createObjectURL(blob)
        link.download = name
        link.click()
        setTimeout(() => URL.revokeObjectURL(link.href), 10000)
        names.push(name)
      }
      setMessage({ text: `Saved: ${names.join(', ')}`, bad: false })
    } catch (error) {
      setMessage({ text: error instanceof Refusal ? error.message : String(error), bad: true })
    }
    setBusy(false)
  }
  const flip = (part: string) => {
    const next = new Set(chosen)
    if (!next.delete(part)) next.add(part)
    setChosen(next)
  }
  if (!parts.length) {
    return (
      <div className="px-4 py-4">
        <p className="mb-1 text-[16px] font-semibold">Parts to print</p>
        <p className="text-ink2">There is no part yet. What you make on the Shape desk can be saved from here as STL or STEP.</p>
      </div>
    )
  }
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
      <h2 className="text-[16px] font-semibold">Parts as files</h2>
      <p className="text-[13px] text-ink2">One file a part, drawn gaps and all; finer than a tenth of the part's tightest gap.</p>
      <ul className="mt-3">
        {parts.map((p) => (
          <li key={p.id} className="border-b border-hair py-1.5">
            <label className="flex cursor-pointer items-center gap-2">
              <input type="checkbox" className="h-4 w-4 accent-(--accent)" checked={chosen.has(p.id)} onChange={() => flip(p.id)} />
              <span aria-hidden className="h-3.5 w-3.5 border border-ink" style={{ background: p.colour }} />
              <span className="flex-1 font-semibold">{p.name}</span>
              <span className="text-[13px] text-ink2">{p.role}</span>
            </label>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex items-center gap-3">
        <span className="w-16">Format</span>
        <Choose name="format" value={format} options={[['stl', 'STL'], ['step', 'STEP']]} set={setFormat} />
      </div>
      {format === 'stl' && (
        <div className="mt-2 flex items-center gap-3">
          <span className="w-16">Unit</span>
          <Choose name="unit of the file" value={unit} options={[['mm', 'mm'], ['in', 'in']]} set={setUnit} />
        </div>
      )}
      <label className="mt-3 block">
        File names
        <input className="field fig" value={pattern} onChange={(e) => setPattern(e.target.value)} />
      </label>
      <button className="strong mt-4" disabled={busy || !chosen.size} onClick={() => void save()}>
        {busy ? 'writing …' : `Save ${chosen.size} ${chosen.size === 1 ? 'file' : 'files'}`}
      </button>
      {message && (
        <p role={message.bad ? 'alert' : 'status'} className={`mt-2 text-[13.5px] ${message.bad ? 'text-wrong' : 'text-accent'}`}>
          {message.text}
        </p>
      )}
      <p className="mt-6 border-t border-hair pt-2 text-[13px] text-ink2">Plates, layers, time and material are not part of this desk yet.</p>
    </div>
  )
}

function Choose({ name, value, options, set }: { name: string; value: string; options: [string, string][]; set: (v: string) => void }) {
  return (
    <div role="group" aria-label={name} className="flex">
      {options.map(([v, word]) => (
        <button key={v} aria-pressed={value === v} onClick={() => set(v)} className={`-ml-px border border-ink px-3 first:ml-0 ${value === v ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}>
          {word}
        </button>
      ))}
    </div>
  )
}
