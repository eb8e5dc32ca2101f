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
          <label className="flex flex-1 flex-col gap-1.5">
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
          <button className="underline underline-offset-2 hover:text-accent" onClick={() => void go(api.create('', 'mast'))}>
            or from outlines of a weather mast
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
            <Row key={p.id} project={p} open={open} gone={() => setList(list.filter((q) => q.id !== p.id))} said={setMessage} />
          ))}
        </ul>
        {list && !list.length && <p className="py-3 text-ink2">None yet. Give one a name above.</p>}
      </div>
    </main>
  )
}

function Row({ project: p, open, gone, said }: { project: Summary; open: (id: string) => void; gone: () => void; said: (text: string) => void }) {
  const [asking, setAsking] = useState(false)
  if (asking) {
    return (
      <li className="flex items-center gap-3 border-b border-hair bg-card px-1 py-2" role="alertdialog" aria-label={`remove ${p.name}?`}>
        <span className="flex-1">
          Remove <b>{p.name}</b> with its whole history, for good?
        </span>
        <button className="plain text-wrong" onClick={() => api.remove(p.id).then(gone, (e) => said(e.message))}>
          remove
        </button>
        <button className="strong" autoFocus onClick={() => setAsking(false)}>
          keep it
        </button>
      </li>
    )
  }
  return (
    <li className="group flex items-baseline border-b border-hair hover:bg-row">
      <a
        href={`/p/${p.id}`}
        className="flex flex-1 items-baseline gap-4 px-1 py-2.5"
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
      <button className="px-2 text-[13px] text-ink2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-wrong" onClick={() => setAsking(true)}>
        remove …
      </button>
    </li>
  )
}
