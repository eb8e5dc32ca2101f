/** Opening a project, hearing of what happens to it, and asking for its model. */
import { Refusal, api, listen, windowId, type ProjectAnswer, type ProjectState, type Report } from '../api/client'
import { fetchMeshes } from '../stage/meshes'
import { applyPatch } from './patch'
import { closeChip, showBase } from './chips'
import { atLimits, lookAt } from './looking'
import { preview } from './previews'
import { now, set, untouched } from './store'

let stopListening: (() => void) | null = null

export async function openProject(id: string): Promise<void> {
  stopListening?.()
  set({ ...untouched(), id })
  const [answer, kinds] = await Promise.all([api.project(id), now().kinds ?? api.kinds()])
  const project = whole(answer, null)
  if (now().id !== id || !project) return
  set({ project, kinds })
  void refreshReport()
  stopListening = listen(id, (event, data) => void heard(event, data))
}

export function closeProject(): void {
  stopListening?.()
  stopListening = null
  set({ id: '', project: null, report: null })
}

/** Told when prints, readings or revisions changed (set by the store that keeps them). */
let heardOfWorkshop = (): void => {}

export const onWorkshop = (told: () => void): void => {
  heardOfWorkshop = told
}

async function heard(event: string, data: Record<string, unknown>): Promise<void> {
  if (event === 'cut') return set({ saved: 'cut' })
  if (event === 'open') {
    if (now().saved === 'cut') {
      set({ saved: 'kept' })
      await reload()
    } else await refreshReport() // what finished before the stream was open was not heard
    return
  }
  if (event === 'removed') return set({ said: { text: 'This project was removed in another window.' }, saved: 'cut' })
  if (event === 'document' && data.window !== windowId && (data.version as number) > (now().project?.version ?? -1)) await reload()
  // the first of an edit was asked for when it was kept, and comes by itself
  if (event === 'evaluation' && !(data.stage === 'shown' && data.version === awaited)) await refreshReport()
  if (event === 'workshop') heardOfWorkshop()
  if (event === 'progress' && data.state === 'stopped') return set({ busy: false, working: null, stopped: true })
  if (event === 'progress') set({ working: data.state === 'step' ? (data.step as string) : null, stopped: false })
  if (event === 'progress') set((s) => ({ busy: data.state !== 'failed' && (s.busy || (data.version as number) > s.reportFor) }))
}

/** A project from an answer: whole, or by its patch on the one that is here; null when that one is another version. */
export function whole(answer: ProjectAnswer, have: ProjectState | null): ProjectState | null {
  const { document, patch, since, steps, ...rest } = answer
  if (document) return { ...rest, steps, document }
  if (!have || have.version !== since) return null
  const next = applyPatch(have.document, patch as unknown as Parameters<typeof applyPatch>[1])
  const ids = new Set(next.recipe!.map((s) => s.id))
  const kept = Object.fromEntries(Object.entries(have.steps).filter(([id]) => ids.has(id)))
  return { ...rest, document: next, steps: { ...kept, ...steps } }
}

export async function reload(): Promise<void> {
  const { id } = now()
  const project = await api.project(id).then((answer) => whole(answer, null), () => null)
  if (project && now().id === id) {
    set({ project })
    forgetWhatIsGone()
    void refreshReport()
  }
}

export function forgetWhatIsGone(): void {
  const { project, board, focusStep, open, upto } = now()
  const has = (step: string | null) => project!.document.recipe!.some((s) => s.id === step)
  if (board && !has(board)) set({ board: null })
  if (focusStep && !has(focusStep)) set({ focusStep: null })
  if (open && open.step !== 'draft' && !has(open.step)) closeChip()
  if (upto && !has(upto)) set({ upto: null, uptoReport: null })
}

/** Stops working out the model, and takes it up again. */
export const halt = (): Promise<unknown> => api.halt(now().id)

export function resume(): void {
  set({ stopped: false, busy: true })
  void refreshReport()
}

/** A report whose steps are the very ones of the report before where they say the same, so that their sentences are not drawn again. */
function sharing(report: Report, before: Report | null): Report {
  const known = new Map(before?.steps.map((s) => [s.id, s]))
  const steps = report.steps.map((s) => {
    const was = known.get(s.id)
    return was && JSON.stringify(was) === JSON.stringify(s) ? was : s
  })
  return { ...report, steps }
}

/** How far a model is worked out: to be seen, vouched for, measured. */
const STAGES = ['shown', 'tried', 'made', 'measured']

/** The version whose first model was asked for before it was there, and has not come yet. */
let awaited: number | null = null

/** Asks for the model; ``early`` before anybody told that it is there: the answer comes as soon as there is something to see. */
export async function refreshReport(early = false): Promise<void> {
  const { id, project } = now()
  if (!project) return
  if (early) awaited = project.version
  try {
    const { report, version } = await api.evaluation(id)
    // on their way while the page says what changed; the stage asks for them too, and says nothing either where they cannot be had
    void fetchMeshes(report.parts).catch(() => {})
    // answers can pass each other on the way
    const later = (r: Report | null) => (r ? STAGES.indexOf(r.stage) : -1)
    if (now().id !== id || version < now().reportFor || (version === now().reportFor && later(now().report) >= later(report))) return
    if (now().preview?.kept) void preview(null)
    set({ report: sharing(report, now().report), reportFor: version, working: null, stopped: false, busy: !report.measured || version < now().project!.version })
    const { upto, open } = now()
    if (upto) await lookAt(upto)
    if (open) await showBase()
    if (now().limits) await atLimits(now().limits)
  } catch (error) {
    // overtaken by a newer edit, whose own event will come
    if (!early && error instanceof Refusal && error.status !== 409 && error.status !== 0) set({ busy: false, said: { text: error.message } })
  } finally {
    if (early && awaited === project.version) awaited = null
  }
}
