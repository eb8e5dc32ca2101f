/** All state of an open project, and what one can do to it. */
import { create } from 'zustand'
import { Refusal, api, listen, windowId } from '../api/client'
import type { Command, FieldOut, Fields, Joint, Kind, Kinds, Limits, ProjectState, Report } from '../api/client'
import type { Viewer } from '../stage/viewer'
import { focusSoon, inStep } from '../widgets/focus'
import { type Pick, type Thing, isPickType } from './picks'

export type Desk = 'shape' | 'join' | 'check' | 'print' | 'learn'

/** A step that is being written: its sentence with the chips answered so far. */
export interface Draft {
  kind: Kind
  fields: Fields
  after: string | null
  newPart: string
}

/** A cut through the model: square to an axis, turned about the next one, at a distance; ``flip`` keeps the other side. */
export interface Cut { axis: 'across' | 'deep' | 'level'; at: number; turn: number; flip: boolean }

/** The chip that is open: a field of a step, or of the draft (``step: 'draft'``). */
export interface Open { step: string; field: string }

export interface Said { text: string; step?: string; field?: string }

interface State {
  id: string
  project: ProjectState | null
  report: Report | null
  reportFor: number
  kinds: Kinds | null
  desk: Desk
  folded: boolean
  hidden: Set<string>
  /** Parts that one looks through and points past. */
  sheer: Set<string>
  draft: Draft | null
  open: Open | null
  /** The picks of an open pick chip before they are taken. */
  picking: Pick | null
  /** What is tried but not recorded; once ``kept`` it only bridges the time until its own evaluation is there. */
  preview: { report: Report | null; joints: Joint[] | null; kept?: boolean } | null
  cut: Cut | null
  upto: string | null
  uptoReport: Report | null
  /** Toleranced dimensions taken at their limits, and the model that comes of it. */
  limits: Limits | null
  limitReport: Report | null
  /** Another model to look at instead: an old revision, or a coupon. */
  other: { title: string; report: Report } | null
  /** The part for which a face is to be pointed at, to lie on. */
  laying: string | null
  /** The model in which the open pick chip points. */
  base: { step: string; report: Report } | null
  selected: Thing[]
  hover: Thing | null
  focusStep: string | null
  focusJoint: string | null
  board: string | null
  /** The open list of steps: where a new one goes, or under the head's field to find anything. */
  palette: { after: string | null; find?: boolean } | null
  saved: 'kept' | 'keeping' | 'cut'
  busy: boolean
  /** The step that is being made now, and whether the work was stopped before its end. */
  working: string | null
  stopped: boolean
  said: Said | null
  viewer: Viewer | null
}

export const useStore = create<State>(() => ({
  id: '', project: null, report: null, reportFor: -1, kinds: null, desk: 'shape', folded: false, hidden: new Set(), sheer: new Set(),
  draft: null, open: null, picking: null, preview: null, cut: null, upto: null, uptoReport: null, limits: null, limitReport: null, other: null, laying: null, base: null, selected: [],
  hover: null, focusStep: null, focusJoint: null, board: null, palette: null, saved: 'kept', busy: false, working: null, stopped: false, said: null,
  viewer: null,
}))

const set = useStore.setState
const now = useStore.getState

let stopListening: (() => void) | null = null
let queue: Promise<unknown> = Promise.resolve()

// ---- opening ---------------------------------------------------------------------------------------------------

export async function openProject(id: string): Promise<void> {
  stopListening?.()
  set({
    id, project: null, report: null, reportFor: -1, draft: null, open: null, picking: null, preview: null, upto: null,
    uptoReport: null, limits: null, limitReport: null, other: null, laying: null, base: null, selected: [], board: null, focusStep: null, focusJoint: null, hidden: new Set(), sheer: new Set(), said: null, desk: 'shape',
  })
  const [project, kinds] = await Promise.all([api.project(id), now().kinds ?? api.kinds()])
  if (now().id !== id) return
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
  if (event === 'evaluation') await refreshReport()
  if (event === 'workshop') heardOfWorkshop()
  if (event === 'progress' && data.state === 'stopped') return set({ busy: false, working: null, stopped: true })
  if (event === 'progress') set({ working: data.state === 'step' ? (data.step as string) : null, stopped: false })
  if (event === 'progress') set((s) => ({ busy: data.state !== 'failed' && (s.busy || (data.version as number) > s.reportFor) }))
}

async function reload(): Promise<void> {
  const { id } = now()
  const project = await api.project(id).catch(() => null)
  if (project && now().id === id) {
    set({ project })
    forgetWhatIsGone()
    void refreshReport()
  }
}

function forgetWhatIsGone(): void {
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

async function refreshReport(): Promise<void> {
  const { id, project } = now()
  if (!project) return
  try {
    const { report, version } = await api.evaluation(id)
    // answers can pass each other on the way
    if (now().id !== id || version < now().reportFor || (version === now().reportFor && now().report?.measured)) return
    if (now().preview?.kept) void preview(null)
    set({ report, reportFor: version, working: null, stopped: false, busy: !report.measured || version < now().project!.version })
    const { upto, open } = now()
    if (upto) await lookAt(upto)
    if (open) await showBase()
    if (now().limits) await atLimits(now().limits)
  } catch (error) {
    // overtaken by a newer edit, whose own event will come
    if (error instanceof Refusal && error.status !== 409 && error.status !== 0) set({ busy: false, said: { text: error.message } })
  }
}

// ---- commands --------------------------------------------------------------------------------------------------

/** Sends a command after those before it. Returns the new state, or null when it was refused (and says why). */
export function send(command: Command, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  return record((id, seen) => api.command(id, seen, command), at)
}

/** The same for what a route of its own commits. */
export function record(work: (id: string, seen: number) => Promise<ProjectState>, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  const done = queue.then(async () => {
    const { id, project } = now()
    if (!project) return null
    set({ saved: 'keeping' })
    try {
      const next = await work(id, project.version)
      accept(next)
      return next
    } catch (error) {
      await refused(error, at)
      return null
    }
  })
  queue = done
  return done
}

function accept(next: ProjectState): void {
  set((s) => ({ project: next, saved: 'kept', said: null, other: null, busy: s.reportFor < next.version || !s.report?.measured }))
  forgetWhatIsGone()
}

async function refused(error: unknown, at: Omit<Said, 'text'>): Promise<void> {
  const refusal = error instanceof Refusal ? error : new Refusal(String(error), 0, '')
  set({ saved: refusal.status === 0 ? 'cut' : 'kept', said: { text: refusal.message, field: refusal.field || at.field, step: at.step } })
  if (refusal.status === 409) await reload()
}

export function travel(way: 'undo' | 'redo'): Promise<void> {
  const work = queue.then(async () => {
    const { id, project } = now()
    if (!project) return
    closeChip()
    void preview(null)
    set({ draft: null })
    try {
      accept(await api.travel(id, way, project.version))
    } catch (error) {
      await refused(error, {})
    }
  })
  queue = work
  return work
}

// ---- previews --------------------------------------------------------------------------------------------------

let previewAbort: AbortController | null = null

/** Ends the trying because it was recorded: what was shown stays until the evaluation of it is there. */
export function keepPreview(): void {
  previewAbort?.abort()
  set((s) => ({ preview: s.preview?.report && s.reportFor < (s.project?.version ?? 0) ? { ...s.preview, kept: true } : null }))
}

/** Shows what a command would do, on gauges at once and on the model as soon as it is there. */
export async function preview(command: Command | null, at?: Omit<Said, 'text'>): Promise<void> {
  previewAbort?.abort()
  if (!command) return set({ preview: null })
  const mine = (previewAbort = new AbortController())
  const { id } = now()
  try {
    const quick = await api.gauge(id, command, mine.signal)
    if (mine.signal.aborted) return
    set((s) => ({ preview: { report: s.preview?.report ?? null, joints: quick.joints }, said: null }))
    const full = await api.preview(id, command, mine.signal)
    if (mine.signal.aborted) return
    set({ preview: { report: full.report, joints: full.joints } })
  } catch (error) {
    if (mine.signal.aborted || (error instanceof DOMException && error.name === 'AbortError')) return
    const { open } = now()
    if (error instanceof Refusal && error.status !== 409) set({ said: { text: error.message, ...(at ?? { step: open?.step, field: open?.field }) } })
  }
}

// ---- writing a step --------------------------------------------------------------------------------------------

/** Starts the sentence of a new step; chips that suit the selection are answered from it. */
export function startDraft(kind: Kind, after: string | null): void {
  const { project, selected, viewer } = now()
  const fields: Fields = {}
  for (const field of kind.fields) if (field.default !== null) fields[field.name] = field.default
  const parts = project!.document.parts ?? []
  for (const field of kind.fields) {
    if (field.type === 'part' && field.newPart !== 'always' && parts.length) fields[field.name] = parts[parts.length - 1].id
    const from = isPickType(field.type) ? fromSelection(field, selected, viewer) : null
    if (from) fields[field.name] = from
  }
  // an outline that nothing uses yet is most likely the one that is meant
  const regionField = kind.fields.find((f) => f.type === 'regions')
  if (regionField && !fields[regionField.name]) {
    const recipe = project!.document.recipe ?? []
    const place = after === null ? recipe.length : recipe.findIndex((s) => s.id === after) + 1
    const last = recipe.slice(0, place).reverse().find((s) => s.kind === 'sketch')
    if (last) fields[regionField.name] = { rule: 'regions', step: last.id, names: null }
  }
  set({ draft: { kind, fields, after, newPart: nextPartName(parts.map((p) => p.name)) }, palette: null, selected: [], said: null, focusStep: 'draft' })
  const missing = firstMissing()
  if (missing) openChip('draft', missing)
  else void previewDraft()
  focusSoon(...inStep('draft'))
}

function nextPartName(taken: string[]): string {
  let n = taken.length + 1
  while (taken.includes(`Part ${n}`)) n++
  return `Part ${n}`
}

function fromSelection(field: FieldOut, selected: Thing[], viewer: Viewer | null): Pick | null {
  if (!selected.length || !viewer) return null
  return selected.reduce<Pick | null>((pick, thing) => pickWith(field.type, pick, thing, viewer) ?? pick, null)
}

/** A pick grown (or shrunk) by the thing pointed at, or null when it does not suit the field. */
export function pickWith(type: string, pick: Pick | null, thing: Thing, viewer: Viewer, at?: { x: number; y: number; z: number }): Pick | null {
  if (thing.type === 'region') {
    if (type !== 'regions') return null
    const old = pick?.rule === 'regions' && pick.step === thing.step && pick.names ? pick.names : []
    const names = old.includes(thing.name) ? old.filter((n) => n !== thing.name) : [...old, thing.name]
    return { rule: 'regions', step: thing.step, names: names.length ? names : null }
  }
  const header = viewer.header(thing.part)
  if (!header) return null
  if (thing.type === 'face') {
    const face = header.faces[thing.index]
    const seen = { name: face.name, seen: face.seen }
    if (type === 'plane' || type === 'face' || type === 'side') return { rule: 'flat', part: thing.part, face: seen }
    if (type === 'edges') return { rule: 'edges_of_face', part: thing.part, face: seen }
    if (type !== 'faces') return null
    const old = pick?.rule === 'faces' && pick.part === thing.part ? pick.faces : []
    const without = old.filter((f) => f.name !== face.name)
    const faces = without.length < old.length ? without : [...old, seen]
    return faces.length ? { rule: 'faces', part: thing.part, faces } : null
  }
  if (type === 'corners') return at ? withCorner(pick, thing.part, thing.index, viewer, at) : null
  if (type !== 'edges') return null
  const edge = header.edges[thing.index]
  const seen = { name: edge.name, seen: edge.seen }
  const old = pick?.rule === 'edges' && pick.part === thing.part ? pick.edges : []
  const without = old.filter((e) => e.name !== edge.name)
  const edges = without.length < old.length ? without : [...old, seen]
  return edges.length ? { rule: 'edges', part: thing.part, edges, chain: true } : null
}

/** A pick of corners with the end of an edge that lies nearer to a place, or without it when it was there. */
function withCorner(pick: Pick | null, part: string, index: number, viewer: Viewer, at: { x: number; y: number; z: number }): Pick | null {
  const edge = viewer.header(part)?.edges[index]
  const ends = viewer.edgeEnds(part, index)
  if (!edge || !ends) return null
  const away = (p: { x: number; y: number; z: number }) => Math.hypot(p.x - at.x, p.y - at.y, p.z - at.z)
  const end = away(ends[0]) <= away(ends[1]) ? ends[0] : ends[1]
  const [x, y, z] = edge.seen.at
  const toward: [number, number, number] = [end.x - x, end.y - y, end.z - z]
  const old = pick?.rule === 'corners' && pick.part === part ? pick.corners : []
  // one corner is the end of several edges: it counts once, whichever of them was pointed at
  const place = (c: (typeof old)[number]) => (c.seen ? c.toward.map((t, k) => t + c.seen!.at[k]) : [])
  const without = old.filter((c) => place(c).some((v, k) => Math.abs(v - [end.x, end.y, end.z][k]) > 1e-3))
  const corners = without.length < old.length ? without : [...old, { name: edge.name, seen: edge.seen, toward }]
  return corners.length ? { rule: 'corners', part, corners } : null
}

export const shownChips = (kind: Kind, fields: Fields): string[] =>
  kind.sentence.filter((p) => p.chip && Object.entries(p.when).every(([n, answers]) => answers.includes(String(fields[n])))).map((p) => p.chip)

const makesPart = (field: FieldOut, fields: Fields): boolean =>
  field.newPart === 'always' || (field.newPart !== '' && String(fields[field.newPart.split('=')[0]]) === field.newPart.split('=')[1])

export function fieldIsNewPart(kind: Kind, fields: Fields, name: string): boolean {
  const field = kind.fields.find((f) => f.name === name)
  return !!field && field.type === 'part' && makesPart(field, fields)
}

export function isMissing(field: FieldOut, fields: Fields, draft: Draft | null): boolean {
  const value = fields[field.name]
  if (field.type === 'part') return makesPart(field, fields) ? !(draft?.newPart.trim() || value) : !value
  if (isPickType(field.type)) return !value
  return value === undefined || value === ''
}

function firstMissing(): string | null {
  const { draft } = now()
  if (!draft) return null
  const chips = shownChips(draft.kind, draft.fields)
  return chips.find((c) => isMissing(draft.kind.fields.find((f) => f.name === c)!, draft.fields, draft)) ?? null
}

function draftCommand(): Command | null {
  const { draft } = now()
  if (!draft || firstMissing()) return null
  const fields = { ...draft.fields }
  const makes = draft.kind.fields.some((f) => f.type === 'part' && makesPart(f, fields))
  if (makes) delete fields.part
  return {
    do: 'AddStep', kind: draft.kind.kind, fields, after: draft.after, ...(makes ? { new_part: { name: draft.newPart } } : {}),
  }
}

async function previewDraft(): Promise<void> {
  const { draft } = now()
  await preview(draft && draft.kind.kind !== 'sketch' ? draftCommand() : null)
}

export async function keepDraft(): Promise<void> {
  const missing = firstMissing()
  if (missing) return openChip('draft', missing)
  const command = draftCommand()
  if (!command) return
  const sketch = now().draft!.kind.kind === 'sketch'
  const next = await send(command, { step: 'draft' })
  if (!next) return
  const step = next.created.find((c) => c.startsWith('s')) ?? null
  closeChip()
  keepPreview()
  set({ draft: null, focusStep: step })
  if (sketch && step) openBoard(step)
  else focusSoon(`[data-step="${step}"]`)
}

export function dropDraft(): void {
  closeChip()
  void preview(null)
  set({ draft: null, said: null })
  focusSoon('[data-next]')
}

/** Gives a field its answer: in the draft, or at once as a command on a step that is there. */
export async function answer(step: string, field: string, value: unknown): Promise<boolean> {
  const { draft, project, kinds } = now()
  if (step === 'draft' && draft) {
    set({ draft: { ...draft, fields: { ...draft.fields, [field]: value } }, said: null })
    closeChip()
    const missing = firstMissing()
    const spec = draft.kind.fields.find((f) => f.name === field)!
    // go on to the next open question, but only by itself where one was just answered
    if (missing && (isPickType(spec.type) || spec.type === 'choice')) openChip('draft', missing)
    focusSoon(...inStep('draft'))
    await previewDraft()
    return true
  }
  const old = project!.document.recipe!.find((s) => s.id === step)
  if (!old) return false
  const kind = kinds!.kinds.find((k) => k.kind === old.kind)!
  const fields = { ...(old.fields as Fields), [field]: value }
  const part = kind.fields.find((f) => f.type === 'part')
  const command: Command = { do: 'EditStep', step, fields: { [field]: value } }
  if (part && part.name !== field) {
    const [before, after] = [makesPart(part, old.fields as Fields), makesPart(part, fields)]
    if (after && !before) command.new_part = { name: nextPartName(project!.document.parts!.map((p) => p.name)) }
    if (before && !after) {
      const other = project!.document.parts!.find((p) => p.id !== (old.fields as Fields).part)
      if (!other) {
        set({ said: { text: 'There is no other part yet to do that to.', step, field } })
        return false
      }
      command.fields = { [field]: value, part: other.id }
    }
  }
  const done = await send(command, { step, field })
  if (done) {
    closeChip()
    keepPreview()
    focusSoon(`[data-step="${step}"] [data-chip="${field}"]`, `[data-step="${step}"]`)
  }
  return !!done
}

/** Tries an answer without recording it. */
export function tryAnswer(step: string, field: string, value: unknown): void {
  if (step === 'draft') {
    const { draft } = now()
    if (!draft) return
    const kept = draft.fields
    set({ draft: { ...draft, fields: { ...kept, [field]: value } } })
    const command = draftCommand()
    void preview(command)
    return
  }
  void preview({ do: 'EditStep', step, fields: { [field]: value } })
}

export function openChip(step: string, field: string): void {
  const { project, draft, kinds } = now()
  const fields = step === 'draft' ? draft?.fields : (project!.document.recipe!.find((s) => s.id === step)?.fields as Fields)
  const kind = step === 'draft' ? draft?.kind : kinds!.kinds.find((k) => k.kind === project!.document.recipe!.find((s) => s.id === step)?.kind)
  const spec = kind?.fields.find((f) => f.name === field)
  if (!spec || !fields) return
  if (spec.type === 'sketch') {
    if (step !== 'draft') openBoard(step)
    return
  }
  const value = fields[field]
  set({
    open: { step, field }, focusStep: step, selected: [], hover: null, said: null,
    picking: isPickType(spec.type) ? ((value as Pick | undefined) ?? null) : null,
    base: null,
  })
  void showBase()
}

export function openField(): FieldOut | null {
  const { open, draft, project, kinds } = now()
  if (!open) return null
  const kindName = open.step === 'draft' ? draft?.kind.kind : project?.document.recipe!.find((s) => s.id === open.step)?.kind
  return kinds?.kinds.find((k) => k.kind === kindName)?.fields.find((f) => f.name === open.field) ?? null
}

/** While a pick chip is open the stage shows what is there just before the step. */
async function showBase(): Promise<void> {
  const { open, project, id, draft } = now()
  const field = openField()
  if (!open || !field || !isPickType(field.type)) return
  const recipe = project!.document.recipe!
  const place = open.step === 'draft' ? (draft!.after === null ? recipe.length : recipe.findIndex((s) => s.id === draft!.after) + 1) : recipe.findIndex((s) => s.id === open.step)
  const before = place > 0 ? recipe[place - 1].id : ''
  void preview(null)
  if (place === recipe.length && now().report) {
    return set({ base: { step: open.step, report: now().report! } })
  }
  const report = before ? await lookUpTo(id, before) : emptyReport()
  if (report && now().open === open) set({ base: { step: open.step, report } })
}

const lookUpTo = (id: string, step: string): Promise<Report | null> =>
  api.evaluation(id, step).then((found) => found.report, () => null)

function emptyReport(): Report {
  return { project: '', ok: true, values: [], steps: [], parts: [], joints: [], dimensions: [], limits: {}, checks: [], readings: [], sketches: {}, planes: {}, computed: 0, measured: false }
}

export function closeChip(): void {
  set({ open: null, picking: null, base: null, hover: null })
}

/** Closes a chip without taking what was tried. */
export function leaveChip(): void {
  const { open } = now()
  closeChip()
  set({ said: null })
  if (open?.step === 'draft') void previewDraft()
  else void preview(null)
}

// ---- looking ---------------------------------------------------------------------------------------------------

export async function lookAt(step: string | null): Promise<void> {
  if (!step) return set({ upto: null, uptoReport: null })
  const report = await lookUpTo(now().id, step)
  if (report) set({ upto: step, uptoReport: report })
}

/** Takes toleranced dimensions at their limits, on model and gauges; ``null`` goes back to nominal. */
export async function atLimits(limits: Limits | null): Promise<void> {
  const plain = !limits || [limits.overall, ...Object.values(limits.parts), ...Object.values(limits.dimensions)].every((s) => s === 'nominal')
  if (plain) return set({ limits: null, limitReport: null })
  set({ limits })
  try {
    const { report } = await api.evaluation(now().id, undefined, limits)
    if (now().limits === limits) set({ limitReport: report })
  } catch (error) {
    if (error instanceof Refusal && error.status !== 409 && error.status !== 0) set({ limits: null, limitReport: null, said: { text: error.message } })
  }
}

export function openBoard(step: string): void {
  leaveChip()
  set({ board: step, desk: 'shape', selected: [], focusStep: step })
  focusSoon('[data-first-figure]', '[data-board]')
}

export function closeBoard(): void {
  focusSoon(`[data-step="${now().board}"]`)
  now().viewer?.release()
  set({ board: null, said: null })
}

/** The report that the stage shows now. */
export function shownReport(s: State): Report | null {
  if (s.base) return s.base.report
  if (s.other) return s.other.report
  if (s.preview?.report) return s.preview.report
  if (s.limits && s.limitReport) return s.limitReport
  if (s.upto && s.uptoReport) return s.uptoReport
  return s.report
}

/** Joints for the gauges: while a value is tried, by formula at once; else as measured on the solids. */
export function shownJoints(s: State): Joint[] {
  if (s.preview?.joints) return s.preview.joints
  if (s.limits && s.limitReport) return s.limitReport.joints
  return s.report && s.reportFor === s.project?.version ? s.report.joints : (s.project?.joints ?? [])
}
