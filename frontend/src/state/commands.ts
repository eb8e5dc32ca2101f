/** Commands, one after the other. */
import { Refusal, api, type Command, type ProjectAnswer, type ProjectState } from '../api/client'
import { forgetWhatIsGone, refreshReport, reload, whole } from './project'
import { now, set, type Said } from './store'

let queue: Promise<unknown> = Promise.resolve()

/** Does something after all that was asked for before it. */
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = queue.then(work)
  queue = done
  return done
}

/** Sends a command after those before it. Returns the new state, or null when it was refused (and says why). */
export function send(command: Command, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  return record((id, seen) => api.command(id, seen, command), at)
}

/** The same for what a route of its own commits. */
export function record(work: (id: string, seen: number) => Promise<ProjectAnswer>, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  return inTurn(async () => {
    const { id, project } = now()
    if (!project) return null
    set({ saved: 'keeping' })
    try {
      return await accept(await work(id, project.version))
    } catch (error) {
      await refused(error, at)
      return null
    }
  })
}

export async function accept(answer: ProjectAnswer): Promise<ProjectState | null> {
  const next = whole(answer, now().project)
  if (!next) {
    await reload()
    set({ saved: 'kept' })
    return now().project && { ...now().project!, created: answer.created }
  }
  set((s) => ({ project: next, saved: 'kept', said: null, other: null, busy: s.reportFor < next.version || !s.report?.measured }))
  forgetWhatIsGone()
  void refreshReport(true)
  return next
}

export async function refused(error: unknown, at: Omit<Said, 'text'>): Promise<void> {
  const refusal = error instanceof Refusal ? error : new Refusal(String(error), 0, '')
  set({ saved: refusal.status === 0 ? 'cut' : 'kept', said: { text: refusal.message, field: refusal.field || at.field, step: at.step, things: refusal.things } })
  if (refusal.status === 409) await reload()
}
