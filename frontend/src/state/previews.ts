/** Trying a command without recording it. */
import { Refusal, api, type Command } from '../api/client'
import { now, set, type Said } from './store'

/** So often a trial is asked for again. */
const AGAIN = 6

let previewAbort: AbortController | null = null

/** Ends the trying because it was recorded: what was shown stays until the evaluation of it is there. */
export function keepPreview(): void {
  previewAbort?.abort()
  set((s) => ({ preview: s.preview?.report && s.reportFor < (s.project?.version ?? 0) ? { ...s.preview, kept: true } : null }))
}

/** An answer, asked for again where something else overtook the work for it, or a busy machine did not come to it. */
async function sure<T>(ask: () => Promise<T>, signal: AbortSignal): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await ask()
    } catch (error) {
      if (signal.aborted || tries >= AGAIN || !(error instanceof Refusal) || (error.status !== 409 && error.status !== 503)) throw error
      await new Promise((done) => window.setTimeout(done, 200 * (tries + 1)))
      if (signal.aborted) throw error
    }
  }
}

/** Shows what a command would do, on gauges at once and on the model as soon as it is there. */
export async function preview(command: Command | null, at?: Omit<Said, 'text'>): Promise<void> {
  previewAbort?.abort()
  if (!command) return set({ preview: null })
  const mine = (previewAbort = new AbortController())
  const { id, said } = now()
  try {
    const quick = await api.gauge(id, command, mine.signal)
    if (mine.signal.aborted) return
    // what was refused while this was on its way stays to be read
    set((s) => ({ preview: { report: s.preview?.report ?? null, joints: quick.joints }, said: s.said === said ? null : s.said }))
    // first what there is to see, then the same vouched for
    for (const shown of [true, false]) {
      const full = await sure(() => api.preview(id, command, shown, mine.signal), mine.signal)
      if (mine.signal.aborted) return
      set({ preview: { report: full.report, joints: full.joints } })
      if (full.report.stage === 'tried') break
    }
  } catch (error) {
    if (mine.signal.aborted || (error instanceof DOMException && error.name === 'AbortError')) return
    // nothing more comes of it: what was to be seen is not waited for
    set((s) => ({ preview: s.preview?.report ? s.preview : null }))
    const { open } = now()
    if (error instanceof Refusal && error.status !== 409) set({ said: { text: error.message, ...(at ?? { step: open?.step, field: open?.field }) } })
  }
}
