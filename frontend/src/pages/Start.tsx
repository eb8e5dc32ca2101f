/** All projects, and the ways to begin one. */
import { useEffect, useRef, useState } from 'react'
import { Refusal, type Summary, api } from '../api/client'

export function Start({ open }: { open: (id: string) => void }) {
  const [list, setList] = useState<Summary[] | null>(null)
  const [name, setName] = useState('')
  const [message, setMessage] = useState('')
  const file = useRef<HTMLInputElement>(null)
  useEffect(() => {
    api.projects().then(setList, (e) => setMessage(e.message))
  }, [])
  const go = (made: Promise<{ id: string }>) =>
    made.then((p) => open(p.id), (e) => setMessage(e instanceof Refusal ? e.message : String(e)))
  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto max-w-3xl px-6 py-14">
        <div className="flex items-center gap-4">
          <img src="/mark.svg" alt="" className="h-11" />
          <div>
            <h1 className="text-[26px] leading-tight font-bold">Dove Joint</h1>
            <p className="text-ink2">Parts for printing, and the joints between them.</p>
          </div>
        </div>
        <form className="mt-10 flex items-end gap-3" onSubmit={(e) => (e.preventDefault(), void go(api.create(name)))}>
          <label className="flex-1">
            New project
            <input autoFocus className="field text-[16px]" placeholder="Bird feeder" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <button className="strong py-1.5!" type="submit">
            Begin
          </button>
        </form>
        {message && (
          <p role="alert" className="mt-2 text-wrong">
            {message}
          </p>
        )}
        <div className="mt-3 flex gap-5 text-[13.5px] text-ink2">
          <button className="underline underline-offset-2 hover:text-accent" onClick={() => void go(api.create('', 'feeder'))}>
            begin from the sample, a window bird feeder
          </button>
          <button className="underline underline-offset-2 hover:text-accent" onClick={() => file.current?.click()}>
            bring in a project file
          </button>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            aria-label="project file"
            className="hidden"
            onChange={async (e) => {
              const picked = e.target.files?.[0]
              e.target.value = ''
              if (!picked) return
              if (picked.size > 8 * 1024 * 1024) return setMessage('The project file is larger than 8 MB.')
              void go(api.bringIn(await picked.text()))
            }}
          />
        </div>
        <h2 className="mt-10 border-b border-ink pb-1 font-semibold">Projects</h2>
        <ul>
          {list?.map((p) => (
            <li key={p.id} className="border-b border-hair">
              <a
                href={`/p/${p.id}`}
                className="flex items-baseline gap-4 px-1 py-2.5 hover:bg-row"
                onClick={(e) => {
                  if (e.ctrlKey || e.metaKey || e.shiftKey) return
                  e.preventDefault()
                  open(p.id)
                }}
              >
                <span className="flex-1 text-[16px] font-semibold">{p.name}</span>
                <span className="text-ink2">
                  {p.parts} {p.parts === 1 ? 'part' : 'parts'}, {p.steps} {p.steps === 1 ? 'step' : 'steps'}
                </span>
                <span className="fig text-ink2">{new Date(p.changed).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}</span>
              </a>
            </li>
          ))}
        </ul>
        {list && !list.length && <p className="py-3 text-ink2">None yet. Give one a name above.</p>}
      </div>
    </main>
  )
}
