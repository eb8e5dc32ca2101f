/** All projects with their pictures, and the ways to begin one. */
import { useEffect, useRef, useState } from 'react'
import { Refusal, type Sample, type Summary, api } from '../api/client'
import { Stops } from '../widgets/Stops'

/** Few projects are found at a glance; more of them are searched and sorted. */
const MANY = 5

export function Start({ open }: { open: (id: string) => void }) {
  const [list, setList] = useState<Summary[] | null>(null)
  const [samples, setSamples] = useState<Sample[]>([])
  const [name, setName] = useState('')
  const [message, setMessage] = useState('')
  const [order, setOrder] = useState<'changed' | 'name'>('changed')
  const [wanted, setWanted] = useState('')
  const file = useRef<HTMLInputElement>(null)
  useEffect(() => {
    api.projects().then(setList, (e) => setMessage(e.message))
    api.samples().then(setSamples, () => {})
  }, [])
  const said = (e: unknown) => setMessage(e instanceof Refusal ? e.message : String(e))
  const go = (made: Promise<{ id: string }>) => made.then((p) => open(p.id), said)
  const copy = (id: string) => api.copy(id).then(() => api.projects()).then(setList, said)
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const shown = (list ?? []).filter((p) => words.every((w) => p.name.toLowerCase().includes(w)))
  if (order === 'name') shown.sort((a, b) => a.name.localeCompare(b.name))
  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto max-w-[1060px] px-6 pt-10 pb-14">
        <div className="flex items-center gap-4">
          <img src="/mark.svg" alt="" className="h-11" />
          <div>
            <h1 className="text-[26px] leading-tight font-bold">Dove Joint</h1>
            <p className="text-ink2">Parts for printing, and the joints between them.</p>
          </div>
        </div>
        <div className="mt-8 grid grid-cols-[1fr_396px] gap-10 max-[900px]:grid-cols-1">
          <div>
            <form className="flex items-end gap-3" onSubmit={(e) => (e.preventDefault(), void go(api.create(name)))}>
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
            <p className="mt-3 text-[13.5px] text-ink2">
              An empty ground, an outline, a part; or{' '}
              <button className="underline underline-offset-2 hover:text-accent" onClick={() => file.current?.click()}>
                bring in a project file
              </button>
              .
            </p>
          </div>
          {/* their room is kept until they are here, so that nothing moves away from under the pointer */}
          <ul className="flex min-h-[164px] gap-4" aria-label="samples">
            {samples.filter((s) => s.first).map((s) => (
              <li key={s.name}>
                <SampleCard sample={s} label={`begin from the sample: ${s.title}`} wide="w-[190px]" tall="h-[96px]" open={() => void go(api.create('', s.name))} />
              </li>
            ))}
          </ul>
        </div>
        <input
          ref={file}
          type="file"
          accept=".json,.zip,application/json,application/zip"
          aria-label="project file"
          className="hidden"
          onChange={(e) => {
            const picked = e.target.files?.[0]
            e.target.value = ''
            if (!picked) return
            if (picked.size > 32 * 1024 * 1024) return setMessage('The project file is larger than 32 MB.')
            void go(api.bringIn(picked))
          }}
        />
        <div className="mt-8 flex items-end gap-5 border-b border-ink pb-1.5">
          <h2 className="flex-1 font-semibold">Projects</h2>
          {(list?.length ?? 0) > MANY && (
            <>
              <input className="field w-52! py-0.5!" aria-label="search projects" placeholder="search by name" value={wanted} onChange={(e) => setWanted(e.target.value)} />
              <Stops name="order of the projects" value={order} options={[['changed', 'last changed'], ['name', 'by name']] as const} set={setOrder} small />
            </>
          )}
        </div>
        <ul aria-label="projects" className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(228px,1fr))] gap-4">
          {shown.map((p) => (
            <Card key={p.id} project={p} open={open} copy={copy} gone={() => setList(list!.filter((q) => q.id !== p.id))} said={setMessage} />
          ))}
        </ul>
        {list && !list.length && <p className="py-3 text-ink2">None yet. Give one a name above.</p>}
        {list && list.length > 0 && !shown.length && <p className="py-3 text-ink2">No project is called so.</p>}
        {samples.length > 0 && (
          <>
            <div className="mt-10 flex items-baseline gap-4 border-b border-ink pb-1.5">
              <h2 className="font-semibold">Worked examples</h2>
              <p className="text-[13px] text-ink2">Each opens as a copy of your own; read its recipe, change a value.</p>
            </div>
            <ul aria-label="worked examples" className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(168px,1fr))] gap-4">
              {samples.filter((s) => !s.first).map((s) => (
                <li key={s.name}>
                  <SampleCard sample={s} label={`open the example: ${s.title}`} wide="h-full w-full" tall="h-[110px]" open={() => void go(api.create('', s.name))} />
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
    </main>
  )
}

/** A sample with its picture: opens as a project of one's own. */
function SampleCard({ sample, label, wide, tall, open }: { sample: Sample; label: string; wide: string; tall: string; open: () => void }) {
  return (
    <button aria-label={label} className={`flex ${wide} flex-col border border-hair bg-card text-left hover:border-ink`} onClick={open}>
      <Picture of={`/api/samples/${sample.name}/picture`} tall={tall} />
      <span className="px-3 py-1.5 leading-tight">
        <span className="block font-semibold">{sample.title}</span>
        <span className="text-[12.5px] text-ink2">{sample.about}</span>
      </span>
    </button>
  )
}

/** A small picture of a model; an empty ground until it is there, and where there is none. */
function Picture({ of, tall }: { of: string; tall: string }) {
  const [state, setState] = useState<'none' | 'coming' | 'there'>(of ? 'coming' : 'none')
  return (
    <span className={`relative flex ${tall} w-full items-center justify-center border-b border-hair bg-sheet`}>
      {state !== 'there' && (
        <svg aria-hidden width="84" height="40" viewBox="0 0 84 40" className="absolute text-hair">
          <path d="M2 26L42 38L82 26L42 14Z" fill="none" stroke="currentColor" strokeDasharray="4 3" />
        </svg>
      )}
      {state !== 'none' && <img src={of} alt="" loading="lazy" className="h-full max-w-full object-contain p-1.5" onLoad={() => setState('there')} onError={() => setState('none')} />}
    </span>
  )
}

interface CardProps { project: Summary; open: (id: string) => void; copy: (id: string) => void; gone: () => void; said: (text: string) => void }

function Card({ project: p, open, copy, gone, said }: CardProps) {
  const [asking, setAsking] = useState(false)
  if (asking) {
    return (
      <li className="flex flex-col justify-between gap-3 border border-wrong bg-card p-3" role="alertdialog" aria-label={`remove ${p.name}?`}>
        <span>
          Remove <b>{p.name}</b> with its whole history, for good?
        </span>
        <span className="flex gap-2">
          <button className="plain text-wrong" onClick={() => api.remove(p.id).then(gone, (e) => said(e.message))}>
            remove
          </button>
          <button className="strong" autoFocus onClick={() => setAsking(false)}>
            keep it
          </button>
        </span>
      </li>
    )
  }
  const small = 'text-ink2 hover:text-ink'
  return (
    <li className="group relative border border-hair bg-card focus-within:border-ink hover:border-ink">
      <a
        href={`/p/${p.id}`}
        className="block"
        onClick={(e) => {
          if (e.ctrlKey || e.metaKey || e.shiftKey) return
          e.preventDefault()
          open(p.id)
        }}
      >
        <Picture of={p.parts ? `/api/projects/${p.id}/picture` : ''} tall="h-[132px]" />
        <span className="block px-3 pt-1.5 text-[15px] leading-tight font-semibold">
          <span className="line-clamp-2">{p.name}</span>
        </span>
      </a>
      <div className="flex items-baseline justify-between gap-2 px-3 pb-2 text-[12.5px] text-ink2">
        <span className="min-w-0 truncate">
          {p.parts} {p.parts === 1 ? 'part' : 'parts'} · {p.steps} {p.steps === 1 ? 'step' : 'steps'} ·{' '}
          {new Date(p.changed).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
        </span>
      </div>
      <div className="absolute top-1 right-1 flex gap-2 bg-card/90 px-2 text-[12.5px] opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
        <button className={small} aria-label={`copy ${p.name}`} onClick={() => copy(p.id)}>
          copy
        </button>
        <button className="text-ink2 hover:text-wrong" aria-label={`remove ${p.name}`} onClick={() => setAsking(true)}>
          remove
        </button>
      </div>
    </li>
  )
}
