/** Writing: a new step's sentence, answers to chips, clauses, the board; and taking back. */
import { api, type Command, type FieldValue, type Fields, type Kind } from '../api/client'
import { focusSoon, inStep } from '../widgets/focus'
import { pickWith, type Pick, type PickKind, type Thing } from './picks'
import { closeChip, isMissing, isPickType, light, pickKind, setPicking, showBase, stepFields, stepKind } from './chips'
import { accept, inTurn, refused, send } from './commands'
import { defaultsOf, makesPart, nextPartName, placeAfter, shownChips, specAt, valueAt, withAnswer } from './fields'
import { toBegin } from '../widgets/figures'
import { keepPreview, preview } from './previews'
import { now, set, type Draft, type State } from './store'

export function travel(way: 'undo' | 'redo'): Promise<void> {
  // while a sentence is being written, taking back is about its answers, not about what was kept before
  if (now().draft) {
    if (way === 'undo') takeBackAnswer()
    return Promise.resolve()
  }
  return inTurn(async () => {
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
}

/** Answers to begin with, their lengths as one would write them in the project's unit. */
function begun(specs: Kind['fields'], unit: string, fields: Fields): Fields {
  const lengths = specs.filter((f) => f.type === 'length' && typeof f.default === 'string')
  return { ...fields, ...Object.fromEntries(lengths.map((f) => [f.name, toBegin(f.default as string, unit)])) }
}

/** The parts that the steps before a place worked at, the last first. */
export function workedAt(place: number): string[] {
  const { project } = now()
  const touched = ({ id }: { id: string }) => [...project!.steps[id].changes, ...project!.steps[id].makes]
  return [...new Set(project!.document.recipe!.slice(0, place).flatMap(touched).reverse())]
}

/** The part in sight that was worked at last; what was bought is not worked at. */
function inHand(after: string | null): string | undefined {
  const { project, hidden, report } = now()
  const { recipe, parts } = project!.document
  const there = (part: string) => !report?.gone[part] && !hidden.has(part) && parts!.some((p) => p.id === part && p.role !== 'bought' && p.role !== 'reference')
  return workedAt(placeAfter(after, recipe!)).find(there)
}

/** What is selected on the stage, as the answer to a pick. */
function selectedAs(kind: PickKind): Pick | null {
  const { selected, viewer } = now()
  return viewer && selected.reduce<Pick | null>((was, thing) => pickWith(kind, was, thing, viewer) ?? was, null)
}

/** Starts the sentence of a new step; chips that suit the selection are answered from it, unless they are answered already. */
export function startDraft(kind: Kind, after: string | null, answered: Fields = {}): void {
  if (now().board) closeBoard()
  const { project } = now()
  const unit = project!.document.unit ?? 'mm'
  // what a sentence only asks for when it is wanted is told by being other than its default
  const wanted = new Set(kind.sentence.flatMap((p) => (p.want && p.chip ? [p.chip] : [])))
  const fields = begun(kind.fields.filter((f) => !wanted.has(f.name)), unit, defaultsOf(kind.fields))
  const parts = project!.document.parts ?? []
  for (const field of kind.fields) {
    if (field.type === 'part' && field.newPart !== 'always' && parts.length) fields[field.name] = inHand(after) ?? parts[parts.length - 1].id
    const pick = pickKind(field.type)
    const from = pick && selectedAs(pick)
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
  Object.assign(fields, answered)
  set({ draft: { kind, fields, after, newPart: nextPartName(parts.map((p) => p.name)), said: [], answers: [fields], told: [] }, wants: { ...now().wants, draft: [] }, palette: null, selected: [], said: null, focusStep: 'draft' })
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
  const more = await api.begin(id, draft.kind.kind, draft.fields, answered, draft.after).catch((): Fields => ({}))
  const still = now().draft
  // what is only tried again leaves an equal copy
  for (const field of draft.told) delete more[field]
  if (!Object.keys(more).length || !still || JSON.stringify(still.fields) !== JSON.stringify(draft.fields)) return
  const fields = { ...draft.fields, ...more }
  set({ draft: { ...still, fields, answers: [...still.answers.slice(0, -1), fields] } })
  void sayDraft()
  if (!firstMissing()) void previewDraft()
}

/** Goes on with a sentence that was being written before. */
export function resumeDraft({ kind, fields, after, newPart }: Omit<Draft, 'said' | 'answers' | 'told'>): void {
  set({ draft: { kind, fields, after, newPart, said: [], answers: [fields], told: [] }, focusStep: 'draft' })
  void sayDraft()
  void previewDraft()
}

/** Has the draft said anew; an answer that comes late does not undo a newer one. */
async function sayDraft(): Promise<void> {
  const { id, draft } = now()
  if (!draft) return
  const said = await api.say(id, draft.kind.kind, draft.fields).catch(() => null)
  if (said) set((s) => ({ draft: s.draft && s.draft.kind === draft.kind && s.draft.fields === draft.fields ? { ...s.draft, said } : s.draft }))
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

/** Things pointed at for a chip of the draft count when one goes on without a word: to another chip, or to keep the sentence. */
function takePicked(): void {
  const { open, picking, draft } = now()
  const spec = open?.step === 'draft' && draft ? specAt(draft.kind, open.field) : undefined
  if (!open || !draft || !picking || !spec || !pickKind(spec.type)?.many || valueAt(draft.fields, open.field) === picking) return
  const fields = { ...draft.fields, ...withAnswer(draft.fields, open.field, picking) }
  set({ draft: { ...draft, fields, answers: [...draft.answers, fields], told: [...draft.told, open.field] } })
  void sayDraft()
}

export async function keepDraft(): Promise<void> {
  takePicked()
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
  set({ draft: { ...draft, fields: answers[answers.length - 1], answers, told: draft.told.slice(0, answers.length - 1) }, said: null })
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

/** A clause that is on its way to be kept with its step. */
let beingKept: Promise<unknown> | null = null

/** Gives a field its answer: in the draft, or at once as a command on a step that is there. An answer that comes late (`behind`) leaves alone what is open by then. */
export async function answer(step: string, field: string, value: FieldValue | undefined, behind = false): Promise<boolean> {
  const { draft } = now()
  if (step === 'draft' && draft) {
    const fields = { ...draft.fields, ...withAnswer(draft.fields, field, value) }
    set({ draft: { ...draft, fields, answers: [...draft.answers, fields], told: [...draft.told, field] }, said: null })
    void sayDraft()
    if (!behind) {
      closeChip()
      const missing = firstMissing()
      const spec = specAt(draft.kind, field)!
      // go on to the next open question, but only by itself where one was just answered
      if (missing && (isPickType(spec.type) || spec.type === 'choice')) openChip('draft', missing)
      focusSoon(...inStep('draft'))
    }
    await Promise.all([previewDraft(), meant(field)])
    return true
  }
  await beingKept
  const { adding, project, kinds } = now()
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
    // the clause stays where it is until it is kept: who goes on to another of its chips meanwhile loses nothing
    beingKept = send({ do: 'EditStep', step, fields: { [adding.field]: whole } }, { step, field })
    const kept = await beingKept
    beingKept = null
    set({ adding: null })
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
    keepPreview()
    // whoever has opened another chip meanwhile is not taken away from it
    const { open } = now()
    if (!open || (open.step === step && open.field === field)) {
      closeChip()
      focusSoon(`[data-step="${step}"] [data-chip="${field}"]`, `[data-step="${step}"]`)
    }
  }
  return !!done
}

/** Tries an answer without recording it. */
export function tryAnswer(step: string, field: string, value: FieldValue | undefined): void {
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

/** Whether a face or an edge in sight is one that the draft makes: its name goes through a step that is not kept. */
function madeByDraft(thing: Thing): boolean {
  const { viewer, preview: tried, project } = now()
  if (thing.type !== 'face' && thing.type !== 'edge') return false
  const kept = new Set(project?.document.recipe?.map((s) => s.id))
  const drafts = tried?.report?.steps.map((s) => s.id).filter((id) => !kept.has(id)) ?? []
  const shown = viewer?.header(thing.part)
  const name = (thing.type === 'face' ? shown?.faces : shown?.edges)?.[thing.index]?.name ?? ''
  return name.split(/\W+/).some((word) => drafts.includes(word))
}

/** What is pointed at while the draft asks for nothing answers the first of its chips that nobody answered yet; what it makes itself is no answer to it. */
export function pointedFor(thing: Thing, at?: { x: number; y: number; z: number }): boolean {
  const { draft, open, viewer } = now()
  if (!draft || open || !viewer || madeByDraft(thing)) return false
  const begins = defaultsOf(draft.kind.fields)
  for (const path of shownChips(draft.kind, draft.fields)) {
    const pick = pickKind(specAt(draft.kind, path)?.type ?? '')
    const value = valueAt(draft.fields, path)
    if (!pick || (value && JSON.stringify(value) !== JSON.stringify(begins[path]))) continue
    const next = pickWith(pick, null, thing, viewer, at)
    if (!next) continue
    if (!pick.many) void answer('draft', path, next)
    else {
      openChip('draft', path)
      setPicking(next)
    }
    return true
  }
  return false
}

export function openChip(step: string, field: string): void {
  takePicked()
  const fields = stepFields(step)
  const kind = stepKind(step)
  const spec = kind && specAt(kind, field)
  if (!spec || !fields) return
  if (spec.type === 'sketch') {
    if (step !== 'draft') openBoard(step)
    return
  }
  const value = valueAt(fields, field)
  const pick = pickKind(spec.type)
  const picking = pick ? ((value as Pick | undefined) ?? selectedAs(pick)) : null
  set({ open: { step, field }, focusStep: step, selected: [], hover: null, said: null, picking, lit: [], base: null })
  void showBase()
  if (picking) void light(picking)
}

/** Adds a clause to a step's sentence, and opens its first question. On a step that is there nothing is kept before all are answered. */
export async function addClause(step: string, field: string): Promise<void> {
  takePicked()
  const { draft } = now()
  const kind = stepKind(step)
  const spec = kind && specAt(kind, field)
  const fields = stepFields(step)
  if (!spec || !fields) return
  const clause = begun(spec.fields, now().project?.document.unit ?? 'mm', defaultsOf(spec.fields))
  const first = spec.fields.find((f) => f.default === null) ?? spec.fields[0]
  const clauses = (fields[field] ?? []) as Fields[]
  closeChip()
  if (step === 'draft') {
    const more = { ...fields, [field]: [...clauses, clause] }
    set({ draft: { ...draft!, fields: more, answers: [...draft!.answers, more], told: [...draft!.told, field] } })
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
