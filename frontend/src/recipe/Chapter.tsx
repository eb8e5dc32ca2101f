/** The head of a chapter in the recipe: its title and note, and whether it is folded away. */
import { useMemo, useState } from 'react'
import { create } from 'zustand'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { focusSoon } from '../widgets/focus'

/** Chapters that were folded or unfolded since, by project: the steps that they begin at. */
const useFolds = create<{ by: Record<string, ReadonlySet<string>>; begun: { project: string; step: string } | null }>(() => ({ by: {}, begun: null }))
const key = (project: string) => `folded chapters of ${project}`

/** What this browser keeps of a project's folds. */
function kept(project: string): ReadonlySet<string> {
  try {
    return new Set(JSON.parse(localStorage.getItem(key(project)) ?? '[]') as string[])
  } catch {
    // what cannot be read is not folded
    return new Set()
  }
}

export function fold(step: string, on: boolean): void {
  const project = useStore.getState().id
  const folded = new Set(useFolds.getState().by[project] ?? kept(project))
  if (on) folded.add(step)
  else folded.delete(step)
  useFolds.setState((s) => ({ by: { ...s.by, [project]: folded } }))
  localStorage.setItem(key(project), JSON.stringify([...folded]))
}

/** A chapter begins at a step once it is called something, or is taken away there. */
export function turnChapter(step: string, there: boolean): void {
  if (there) return void send({ do: 'SetChapter', step, title: '' })
  useFolds.setState({ begun: { project: useStore.getState().id, step } })
  focusSoon(`[data-chapter] input`)
}

/** The step before which a chapter is being written that is not there yet. */
export function useBegun(): string | null {
  const project = useStore((s) => s.id)
  return useFolds((s) => (s.begun?.project === project ? s.begun.step : null))
}

export function useFolded(): ReadonlySet<string> {
  const project = useStore((s) => s.id)
  const since = useFolds((s) => s.by[project])
  const before = useMemo(() => kept(project), [project])
  return since ?? before
}

interface Props { step: string; title: string; note: string; folded: boolean; count: number; wrong: number }

export function ChapterHead({ step, title, note, folded, count, wrong }: Props) {
  const [writing, setWriting] = useState(!title)
  const done = () => {
    useFolds.setState({ begun: null })
    setWriting(false)
    focusSoon(`[data-step="${step}"]`)
  }
  return (
    <li role="presentation" data-chapter={title} className="mt-2 border-y border-hair bg-sheet px-4 py-1.5">
      <div className="flex items-baseline gap-2">
        <button className={`w-5 shrink-0 text-left text-ink2 hover:text-accent ${title ? '' : 'invisible'}`} aria-expanded={!folded} aria-label={`${folded ? 'unfold' : 'fold'} the chapter ${title}`} onClick={() => fold(step, !folded)}>
          {folded ? '▸' : '▾'}
        </button>
        {writing ? (
          <form
            className="flex flex-1 flex-col gap-1"
            onSubmit={(e) => {
              e.preventDefault()
              const data = new FormData(e.currentTarget)
              done()
              void send({ do: 'SetChapter', step, title: String(data.get('title')).trim() || title || 'Chapter', note: String(data.get('note')) })
            }}
            onKeyDown={(e) => {
              e.stopPropagation()
              if (e.key === 'Escape') done()
            }}
          >
            <input name="title" className="field" autoFocus aria-label="title of the chapter" defaultValue={title || 'Chapter'} maxLength={80} onFocus={(e) => e.target.select()} />
            <textarea name="note" className="field text-[13px]" aria-label="note on the chapter" rows={2} placeholder="what it is for" defaultValue={note} maxLength={2000} />
            <span className="flex gap-2">
              <button className="strong" type="submit">
                keep
              </button>
              <button className="plain" type="button" onClick={() => (done(), title && turnChapter(step, true))}>
                take it away
              </button>
            </span>
          </form>
        ) : (
          <>
            <button className="min-w-0 flex-1 truncate text-left text-[15px] font-bold hover:text-accent" title="call it something else" onClick={() => setWriting(true)}>
              {title}
            </button>
            <span className="text-[12.5px] text-ink2">
              {wrong > 0 && <span className="mr-1 text-wrong">▲ {wrong}</span>}
              {folded && `${count} ${count === 1 ? 'step' : 'steps'}`}
            </span>
          </>
        )}
      </div>
      {note && !writing && <p className="pl-7 text-[13px] text-ink2">{note}</p>}
    </li>
  )
}
