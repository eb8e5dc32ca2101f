/** All state of an open project, and what one can do to it. */
import { create } from 'zustand'
import { Refusal, api, listen, windowId } from '../api/client'
import type { Command, FieldOut, Fields, Joint, Kind, Kinds, Limits, ProjectAnswer, ProjectState, Report, Segment } from '../api/client'
import type { Band, GapMap } from '../stage/gapmap'
import type { Viewer } from '../stage/viewer'
import { focusSoon, inStep } from '../widgets/focus'
import { applyPatch } from './patch'
import { type Pick, type PickKind, type Thing, pickWith, pointingFor, thingsOf } from './picks'

export type Desk = 'shape' | 'join' | 'check' | 'print' | 'learn'

/** A step that is being written: its sentence with the chips answered so far. */
export interface Draft {
  kind: Kind
  fields: Fields
  after: string | null
  newPart: string
  /** Its sentence as the server says it. */
  said: Segment[]
  /** Its fields after each answer, the last as they are now: what a take-back goes through. */
  answers: Fields[]
}

/** A cut through the model: square to an axis, turned about the next one, at a distance; ``flip`` keeps the other side. */
export interface Cut { axis: 'across' | 'deep' | 'level'; at: number; turn: number; flip: boolean }

/** The chip that is open: a field of a step, or of the draft (``step: 'draft'``). */
export interface Open { step: string; field: string }

/** What was refused or is to be told, where, and what of the board it speaks of. */
export interface Said { text: string; step?: string; field?: string; things?: string[] }

interface State {
  id: string
  project: ProjectState | null
  report: Report | null
  reportFor: number
  kinds: Kinds | null
  desk: Desk
  folded: boolean
  /** Whether the list of keys is shown. */
  keys: boolean
  hidden: Set<string>
  /** Parts that one looks through and points past. */
  sheer: Set<string>
  /** A joint's gap shown as colours on its halves, with the wanted band as it is drawn. */
  gapMap: (GapMap & { band: Band }) | null
  draft: Draft | null
  open: Open | null
  /** The picks of an open pick chip before they are taken, and what they stand for on the stage. */
  picking: Pick | null
  lit: Thing[]
  /** A clause that is being added to a step that is there, until its questions are answered. */
  adding: { step: string; field: string; clause: Fields; said: Segment[] } | null
  /** What of a step's sentence is wanted although it says nothing yet, by the step. */
  wants: Record<string, string[]>
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
  /** Of which parts the stage knows what may be pointed at; it comes a moment after what they look like. */
  told: string
}

export const useStore = create<State>(() => ({
  id: '', project: null, report: null, reportFor: -1, kinds: null, desk: 'shape', folded: false, keys: false, hidden: new Set(), sheer: new Set(), gapMap: null,
  draft: null, open: null, picking: null, lit: [], adding: null, wants: {}, preview: null, cut: null, upto: null, uptoReport: null, limits: null, limitReport: null, other: null, laying: null, base: null, selected: [],
  hover: null, focusStep: null, focusJoint: null, board: null, palette: null, saved: 'kept', busy: false, working: null, stopped: false, said: null,
  viewer: null, told: '',
}))

const set = useStore.setState
const now = useStore.getState

let stopListening: (() => void) | null = null
let queue: Promise<unknown> = Promise.resolve()

// ---- opening ---------------------------------------------------------------------------------------------------

export async function openProject(id: string): Promise<void> {
  stopListening?.()
  set({
    id, project: null, report: null, reportFor: -1, draft: null, open: null, picking: null, lit: [], adding: null, wants: {}, preview: null, upto: null,
    uptoReport: null, limits: null, limitReport: null, other: null, laying: null, base: null, selected: [], board: null, focusStep: null, focusJoint: null, hidden: new Set(), sheer: new Set(), gapMap: null, said: null, desk: 'shape',
  })
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
  if (event === 'evaluation') await refreshReport()
  if (event === 'workshop') heardOfWorkshop()
  if (event === 'progress' && data.state === 'stopped') return set({ busy: false, working: null, stopped: true })
  if (event === 'progress') set({ working: data.state === 'step' ? (data.step as string) : null, stopped: false })
  if (event === 'progress') set((s) => ({ busy: data.state !== 'failed' && (s.busy || (data.version as number) > s.reportFor) }))
}

/** A project from an answer: whole, or by its patch on the one that is here; null when that one is another version. */
function whole(answer: ProjectAnswer, have: ProjectState | null): ProjectState | null {
  const { document, patch, since, steps, ...rest } = answer
  if (document) return { ...rest, steps, document }
  if (!have || have.version !== since) return null
  const next = applyPatch(have.document, patch as unknown as Parameters<typeof applyPatch>[1])
  const ids = new Set(next.recipe!.map((s) => s.id))
  const kept = Object.fromEntries(Object.entries(have.steps).filter(([id]) => ids.has(id)))
  return { ...rest, document: next, steps: { ...kept, ...steps } }
}

async function reload(): Promise<void> {
  const { id } = now()
  const project = await api.project(id).then((answer) => whole(answer, null), () => null)
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

/** Asks for the model; ``early`` before anybody told that it is there: the answer comes as soon as there is something to see. */
async function refreshReport(early = false): Promise<void> {
  const { id, project } = now()
  if (!project) return
  try {
    const { report, version } = await api.evaluation(id)
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
  }
}

// ---- commands --------------------------------------------------------------------------------------------------

/** Sends a command after those before it. Returns the new state, or null when it was refused (and says why). */
export function send(command: Command, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  return record((id, seen) => api.command(id, seen, command), at)
}

/** The same for what a route of its own commits. */
export function record(work: (id: string, seen: number) => Promise<ProjectAnswer>, at: Omit<Said, 'text'> = {}): Promise<ProjectState | null> {
  const done = queue.then(async () => {
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
  queue = done
  return done
}

async function accept(answer: ProjectAnswer): Promise<ProjectState | null> {
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

async function refused(error: unknown, at: Omit<Said, 'text'>): Promise<void> {
  const refusal = error instanceof Refusal ? error : new Refusal(String(error), 0, '')
  set({ saved: refusal.status === 0 ? 'cut' : 'kept', said: { text: refusal.message, field: refusal.field || at.field, step: at.step, things: refusal.things } })
  if (refusal.status === 409) await reload()
}

export function travel(way: 'undo' | 'redo'): Promise<void> {
  // while a sentence is being written, taking back is about its answers, not about what was kept before
  if (now().draft) {
    if (way === 'undo') takeBackAnswer()
    return Promise.resolve()
  }
  const work = queue.then(async () => {
    const { id, project } = now()
    if (!project) return
    closeChip()
    void preview(null)
    try {
      await accept(await api.travel(id, way, project.version))
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
  const { id, said } = now()
  try {
    const quick = await api.gauge(id, command, mine.signal)
    if (mine.signal.aborted) return
    // what was refused while this was on its way stays to be read
    set((s) => ({ preview: { report: s.preview?.report ?? null, joints: quick.joints }, said: s.said === said ? null : s.said }))
    // first what there is to see, then the same vouched for
    for (const shown of [true, false]) {
      const full = await api.preview(id, command, shown, mine.signal)
      if (mine.signal.aborted) return
      set({ preview: { report: full.report, joints: full.joints } })
      if (full.report.stage === 'tried') break
    }
  } catch (error) {
    if (mine.signal.aborted || (error instanceof DOMException && error.name === 'AbortError')) return
    const { open } = now()
    if (error instanceof Refusal && error.status !== 409) set({ said: { text: error.message, ...(at ?? { step: open?.step, field: open?.field }) } })
  }
}

// ---- writing a step --------------------------------------------------------------------------------------------

/** Starts the sentence of a new step; chips that suit the selection are answered from it. */
export function startDraft(kind: Kind, after: string | null): void {
  if (now().board) closeBoard()
  const { project, selected, viewer } = now()
  const fields: Fields = {}
  for (const field of kind.fields) if (field.default !== null) fields[field.name] = field.default
  const parts = project!.document.parts ?? []
  for (const field of kind.fields) {
    if (field.type === 'part' && field.newPart !== 'always' && parts.length) fields[field.name] = parts[parts.length - 1].id
    const pick = pickKind(field.type)
    const from = pick && viewer ? selected.reduce<Pick | null>((was, thing) => pickWith(pick, was, thing, viewer) ?? was, null) : null
    if (from) fields[field.name] = from
  }
  // an outline that nothing uses yet is most likely the one that is meant
  const regionField = kind.fields.find((f) => pickKind(f.type)?.points.some((p) => p.rule === 'regions'))
  if (regionField && !fields[regionField.name]) {
    const recipe = project!.document.recipe ?? []
    const place = placeAfter(after, recipe)
    const last = recipe.slice(0, place).reverse().find((s) => s.kind === 'sketch')
    if (last) fields[regionField.name] = { rule: 'regions', step: last.id, names: null }
  }
  set({ draft: { kind, fields, after, newPart: nextPartName(parts.map((p) => p.name)), said: [], answers: [fields] }, palette: null, selected: [], said: null, focusStep: 'draft' })
  void sayDraft()
  const missing = firstMissing()
  if (missing) openChip('draft', missing)
  else void previewDraft()
  focusSoon(...inStep('draft'))
  void meant('')
}

/** Takes over what is most likely meant with the draft as it stands, unless it was answered on in the meantime. */
async function meant(answered: string): Promise<void> {
  const { id, draft } = now()
  if (!draft) return
  const more = await api.begin(id, draft.kind.kind, draft.fields, answered).catch((): Fields => ({}))
  const still = now().draft
  // what is only tried again leaves an equal copy
  if (!Object.keys(more).length || !still || JSON.stringify(still.fields) !== JSON.stringify(draft.fields)) return
  const fields = { ...draft.fields, ...more }
  set({ draft: { ...still, fields, answers: [...still.answers.slice(0, -1), fields] } })
  void sayDraft()
  if (!firstMissing()) void previewDraft()
}

/** Goes on with a sentence that was being written before. */
export function resumeDraft({ kind, fields, after, newPart }: Omit<Draft, 'said' | 'answers'>): void {
  set({ draft: { kind, fields, after, newPart, said: [], answers: [fields] }, focusStep: 'draft' })
  void sayDraft()
  void previewDraft()
}

function nextPartName(taken: string[]): string {
  let n = taken.length + 1
  while (taken.includes(`Part ${n}`)) n++
  return `Part ${n}`
}

/** The kind of pick that a field asks for, if it asks for one. */
export const pickKind = (type: string): PickKind | undefined => now().kinds?.picks.find((p) => p.kind === type)
const isPickType = (type: string): boolean => !!pickKind(type)

/** The kind of a step by its id, or of the draft. */
export function stepKind(step: string): Kind | undefined {
  const { draft, project, kinds } = now()
  if (step === 'draft') return draft?.kind
  const kind = project?.document.recipe!.find((s) => s.id === step)?.kind
  return kinds?.kinds.find((k) => k.kind === kind)
}

/** The fields of a step by its id, or of the draft; with the clause that is being added to it. */
export function stepFields(step: string): Fields | null {
  const { draft, project, adding } = now()
  const fields = step === 'draft' ? draft?.fields : (project?.document.recipe!.find((s) => s.id === step)?.fields as Fields | undefined)
  if (!fields) return null
  if (adding?.step !== step) return fields
  return { ...fields, [adding.field]: [...((fields[adding.field] ?? []) as Fields[]), adding.clause] }
}

/** Whether a new step of a kind has a question that all of these things answer. */
export function canTake(kind: Kind, things: Thing[], viewer: Viewer): boolean {
  const begin = Object.fromEntries(kind.fields.filter((f) => f.default !== null).map((f) => [f.name, f.default]))
  return shownChips(kind, begin).some((chip) => {
    const pick = pickKind(specAt(kind, chip)?.type ?? '')
    return !!pick && things.every((thing) => pointingFor(pick, thing, viewer) !== null)
  })
}

/** Has the draft said anew; an answer that comes late does not undo a newer one. */
async function sayDraft(): Promise<void> {
  const { id, draft } = now()
  if (!draft) return
  const said = await api.say(id, draft.kind.kind, draft.fields).catch(() => null)
  if (said) set((s) => ({ draft: s.draft && s.draft.kind === draft.kind && s.draft.fields === draft.fields ? { ...s.draft, said } : s.draft }))
}

/** A field by its path: ``radius``, or ``more.0.radius`` for one of a clause. */
export function specAt(kind: Kind, path: string): FieldOut | undefined {
  let specs = kind.fields
  let found: FieldOut | undefined
  for (const name of path.split('.')) {
    if (/^\d+$/.test(name)) continue
    found = specs.find((f) => f.name === name)
    if (!found) return undefined
    specs = found.fields
  }
  return found
}

export const valueAt = (fields: Fields, path: string): unknown =>
  path.split('.').reduce<unknown>((v, key) => (v && typeof v === 'object' ? (v as Record<string, unknown>)[key] : undefined), fields)

/** The top field of a path with another answer at the path's end, as a command changes it. */
export function withAnswer(fields: Fields, path: string, value: unknown): Fields {
  const [top, ...rest] = path.split('.')
  const into = (old: unknown, keys: string[]): unknown => {
    if (!keys.length) return value
    const copy = (Array.isArray(old) ? [...(old as unknown[])] : { ...(old as object) }) as Record<string, unknown>
    copy[keys[0]] = into(copy[keys[0]], keys.slice(1))
    return copy
  }
  return { [top]: into(fields[top], rest) }
}

/** The chips that a sentence shows for some answers, by their paths and in order. */
export function shownChips(kind: Kind, fields: Fields, wants: string[] = []): string[] {
  const told = (when: Record<string, string[]>, of: Fields) => Object.entries(when).every(([n, answers]) => answers.includes(String(of[n])))
  const wanted = (want: string) =>
    !want || wants.includes(want) || kind.sentence.some((p) => p.want === want && p.chip && fields[p.chip] !== undefined && fields[p.chip] !== kind.fields.find((f) => f.name === p.chip)?.default)
  return kind.sentence.flatMap((p) => {
    if (p.each) return ((fields[p.each] ?? []) as Fields[]).flatMap((clause, i) => p.pieces.filter((q) => q.chip && told(q.when, clause)).map((q) => `${p.each}.${i}.${q.chip}`))
    return p.chip && told(p.when, fields) && wanted(p.want) ? [p.chip] : []
  })
}

function makesPart(field: FieldOut, fields: Fields): boolean {
  if (field.newPart === '' || field.newPart === 'always') return field.newPart === 'always'
  const [name, answers] = field.newPart.split('=')
  return answers.split(',').includes(String(fields[name]))
}

/** Whether the chip at a path takes a part that the step makes; one in a clause never does. */
export function fieldIsNewPart(kind: Kind, fields: Fields, path: string): boolean {
  const field = kind.fields.find((f) => f.name === path)
  return !!field && field.type === 'part' && makesPart(field, fields)
}

export function isMissing(field: FieldOut, fields: Fields, draft: Draft | null, path = field.name): boolean {
  const value = valueAt(fields, path)
  if (field.type === 'part') return makesPart(field, fields) ? !(draft?.newPart.trim() || value) : !value
  if (isPickType(field.type)) return !value
  return value === undefined || value === ''
}

function firstMissing(): string | null {
  const { draft } = now()
  if (!draft) return null
  return shownChips(draft.kind, draft.fields).find((c) => isMissing(specAt(draft.kind, c)!, draft.fields, draft, c)) ?? null
}

function draftCommand(): Command | null {
  const { draft } = now()
  if (!draft || firstMissing()) return null
  const fields = { ...draft.fields }
  const made = draft.kind.fields.find((f) => f.type === 'part' && makesPart(f, fields))
  if (made) delete fields[made.name]
  // answers that the sentence does not ask for with the present ones are not sent along
  const asked = new Set([...shownChips(draft.kind, fields), ...draft.kind.sentence.flatMap((p) => (p.each ? [p.each] : []))])
  for (const field of draft.kind.fields) if (field.default === null && pickKind(field.type) && !asked.has(field.name)) delete fields[field.name]
  return {
    do: 'AddStep', kind: draft.kind.kind, fields, after: draft.after, ...(made ? { new_part: { name: draft.newPart } } : {}),
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

/** Takes the last answer of the draft back; without one the draft is dropped. */
function takeBackAnswer(): void {
  const { draft, open } = now()
  if (!draft) return
  // what was only tried is let go first; trying and giving up leaves an equal copy
  const same = (one: Fields | undefined) => JSON.stringify(one) === JSON.stringify(draft.fields)
  const answers = [...draft.answers]
  while (answers.length && same(answers[answers.length - 1])) answers.pop()
  if (!answers.length) return dropDraft()
  closeChip()
  set({ draft: { ...draft, fields: answers[answers.length - 1], answers }, said: null })
  void sayDraft()
  if (open) focusSoon(`[data-step="draft"] [data-chip="${open.field}"]`, ...inStep('draft'))
  void previewDraft()
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
    const fields = { ...draft.fields, ...withAnswer(draft.fields, field, value) }
    set({ draft: { ...draft, fields, answers: [...draft.answers, fields] }, said: null })
    void sayDraft()
    closeChip()
    const missing = firstMissing()
    const spec = specAt(draft.kind, field)!
    // go on to the next open question, but only by itself where one was just answered
    if (missing && (isPickType(spec.type) || spec.type === 'choice')) openChip('draft', missing)
    focusSoon(...inStep('draft'))
    await Promise.all([previewDraft(), meant(field)])
    return true
  }
  const { adding } = now()
  const own = adding && adding.step === step ? `${adding.field}.${((stepFields(step)![adding.field] as Fields[]).length - 1).toString()}.` : ''
  if (adding && own && field.startsWith(own)) {
    const clause = { ...adding.clause, [field.slice(own.length)]: value }
    const spec = specAt(stepKind(step)!, adding.field)!
    const open = spec.fields.find((f) => clause[f.name] === undefined || clause[f.name] === null || clause[f.name] === '')
    closeChip()
    await sayAdding({ ...adding, clause })
    if (open) {
      openChip(step, own + open.name)
      return true
    }
    const whole = stepFields(step)![adding.field]
    set({ adding: null })
    const kept = await send({ do: 'EditStep', step, fields: { [adding.field]: whole } }, { step, field })
    focusSoon(`[data-step="${step}"] [data-chip="${own}${spec.fields[spec.fields.length - 1].name}"]`, `[data-step="${step}"]`)
    return !!kept
  }
  const old = project!.document.recipe!.find((s) => s.id === step)
  if (!old) return false
  const kind = kinds!.kinds.find((k) => k.kind === old.kind)!
  const changed = withAnswer(old.fields as Fields, field, value)
  const fields = { ...(old.fields as Fields), ...changed }
  const part = kind.fields.find((f) => f.type === 'part' && f.newPart && f.newPart !== 'always')
  const command: Command = { do: 'EditStep', step, fields: changed }
  if (part && part.name !== field) {
    const [before, after] = [makesPart(part, old.fields as Fields), makesPart(part, fields)]
    if (after && !before) command.new_part = { name: nextPartName(project!.document.parts!.map((p) => p.name)) }
    if (before && !after) {
      const other = project!.document.parts!.find((p) => p.id !== (old.fields as Fields)[part.name])
      if (!other) {
        set({ said: { text: 'There is no other part yet to do that to.', step, field } })
        return false
      }
      command.fields = { ...changed, [part.name]: other.id }
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
    set({ draft: { ...draft, fields: { ...draft.fields, ...withAnswer(draft.fields, field, value) } } })
    void sayDraft()
    const command = draftCommand()
    void preview(command)
    return
  }
  const fields = stepFields(step)
  if (fields && now().adding?.step !== step) void preview({ do: 'EditStep', step, fields: withAnswer(fields, field, value) })
}

export function openChip(step: string, field: string): void {
  const fields = stepFields(step)
  const kind = stepKind(step)
  const spec = kind && specAt(kind, field)
  if (!spec || !fields) return
  if (spec.type === 'sketch') {
    if (step !== 'draft') openBoard(step)
    return
  }
  const value = valueAt(fields, field)
  const picking = isPickType(spec.type) ? ((value as Pick | undefined) ?? null) : null
  set({ open: { step, field }, focusStep: step, selected: [], hover: null, said: null, picking, lit: [], base: null })
  void showBase()
  if (picking) void light(picking)
}

export function openField(): FieldOut | null {
  const { open } = now()
  const kind = open && stepKind(open.step)
  return (kind && specAt(kind, open.field)) ?? null
}

/** Sets what an open pick chip holds, and lights up what that stands for. */
export function setPicking(picking: Pick | null): void {
  set(picking ? { picking } : { picking: null, lit: [] })
  if (picking) void light(picking)
}

type Steps = { id: string }[]

/** Where a new step after another would stand in the recipe; at its end after ``null``. */
const placeAfter = (after: string | null, recipe: Steps): number => (after === null ? recipe.length : recipe.findIndex((s) => s.id === after) + 1)

/** Where a step stands in the recipe, or where the draft would. */
export const placeOf = (step: string, recipe: Steps, draft: Draft | null): number =>
  step === 'draft' && draft ? placeAfter(draft.after, recipe) : recipe.findIndex((s) => s.id === step)

/** Lights up what a pick stands for, as the server finds it on the model just before the step. */
export async function light(pick: Pick, only = false): Promise<void> {
  const { id, open, draft, project } = now()
  if (!open) return
  const recipe = project!.document.recipe!
  const place = placeOf(open.step, recipe, draft)
  const found = await api.lights(id, pick, recipe[place]?.id ?? '').catch(() => [])
  const { open: still, picking } = now()
  if (still === open && (only || picking === pick)) set({ lit: thingsOf(found) })
}

/** While a pick chip is open the stage shows what is there just before the step. */
async function showBase(): Promise<void> {
  const { open, project, id, draft } = now()
  const field = openField()
  if (!open || !field || !isPickType(field.type)) return
  const recipe = project!.document.recipe!
  const place = placeOf(open.step, recipe, draft)
  const before = place > 0 ? recipe[place - 1].id : ''
  void preview(null)
  if (place === recipe.length && now().report?.parts.every((p) => p.things)) {
    return set({ base: { step: open.step, report: now().report! } })
  }
  const report = before ? await lookUpTo(id, before) : emptyReport()
  if (report && now().open === open) set({ base: { step: open.step, report } })
}

const lookUpTo = (id: string, step: string): Promise<Report | null> =>
  api.evaluation(id, step).then((found) => found.report, () => null)

function emptyReport(): Report {
  return { project: '', ok: true, values: [], steps: [], parts: [], joints: [], dimensions: [], limits: {}, checks: [], readings: [], sketches: {}, planes: {}, works: [], grips: {}, links: [], computed: 0, stage: 'measured', measured: false }
}

export function closeChip(): void {
  set({ open: null, picking: null, lit: [], base: null, hover: null })
}

/** Adds a clause to a step's sentence, and opens its first question. On a step that is there nothing is kept before all are answered. */
export async function addClause(step: string, field: string): Promise<void> {
  const { draft } = now()
  const kind = stepKind(step)
  const spec = kind && specAt(kind, field)
  const fields = stepFields(step)
  if (!spec || !fields) return
  const clause: Fields = Object.fromEntries(spec.fields.filter((f) => f.default !== null).map((f) => [f.name, f.default]))
  const first = spec.fields.find((f) => f.default === null) ?? spec.fields[0]
  const clauses = (fields[field] ?? []) as Fields[]
  closeChip()
  if (step === 'draft') {
    const more = { ...fields, [field]: [...clauses, clause] }
    set({ draft: { ...draft!, fields: more, answers: [...draft!.answers, more] } })
    await sayDraft()
  } else await sayAdding({ step, field, clause, said: [] })
  openChip(step, `${field}.${clauses.length}.${first.name}`)
}

async function sayAdding(adding: NonNullable<State['adding']>): Promise<void> {
  set({ adding })
  const kind = stepKind(adding.step)!
  const said = await api.say(now().id, kind.kind, stepFields(adding.step)!).catch(() => [])
  if (now().adding === adding) set({ adding: { ...adding, said } })
}

export async function dropClause(step: string, field: string, place: number): Promise<void> {
  const clauses = ((stepFields(step)?.[field] ?? []) as Fields[]).filter((_, i) => i !== place)
  if (now().adding?.step === step && place === clauses.length) {
    leaveChip()
    return set({ adding: null })
  }
  await answer(step, field, clauses)
}

/** Shows a part of a step's sentence that says nothing yet, and opens its first chip. */
export function want(step: string, what: string): void {
  const kind = stepKind(step)
  set((s) => ({ wants: { ...s.wants, [step]: [...(s.wants[step] ?? []), what] } }))
  const chip = kind?.sentence.find((p) => p.want === what && p.chip)?.chip
  if (chip) openChip(step, chip)
}

/** Closes a chip without taking what was tried. */
export function leaveChip(): void {
  const { open } = now()
  closeChip()
  set({ said: null, adding: null })
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
  const plain = !limits || [limits.overall, ...Object.values(limits.parts), ...Object.values(limits.dimensions), ...Object.values(limits.own ?? {}).flatMap((o) => Object.values(o))].every((s) => s === 'nominal')
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
  now().viewer?.eye.release()
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
