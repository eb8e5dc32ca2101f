/** The chip that is open: what it asks for, what it holds, what that stands for on the stage. */
import { api, type FieldOut, type Fields, type Kind, type Report } from '../api/client'
import type { Viewer } from '../stage/viewer'
import { pointingFor, thingsOf, type Pick, type PickKind, type Thing } from './picks'
import { defaultsOf, makesPart, placeOf, shownChips, specAt, valueAt } from './fields'
import { lookUpTo } from './looking'
import { preview } from './previews'
import { now, set, type Draft } from './store'

/** The kind of pick that a field asks for, if it asks for one. */
export const pickKind = (type: string): PickKind | undefined => now().kinds?.picks.find((p) => p.kind === type)

export const isPickType = (type: string): boolean => !!pickKind(type)

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
  const begin = defaultsOf(kind.fields)
  return shownChips(kind, begin).some((chip) => {
    const pick = pickKind(specAt(kind, chip)?.type ?? '')
    return !!pick && things.every((thing) => pointingFor(pick, thing, viewer) !== null)
  })
}

export function isMissing(field: FieldOut, fields: Fields, draft: Draft | null, path = field.name): boolean {
  const value = valueAt(fields, path)
  if (field.type === 'part') return makesPart(field, fields) ? !(draft?.newPart.trim() || value) : !value
  if (isPickType(field.type)) return !value
  return value === undefined || value === ''
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
export async function showBase(): Promise<void> {
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

function emptyReport(): Report {
  return { project: '', ok: true, values: [], steps: [], parts: [], gone: {}, joints: [], dimensions: [], limits: {}, checks: [], readings: [], sketches: {}, planes: {}, axes: {}, points: {}, pictures: {}, works: [], grips: {}, links: [], computed: 0, stage: 'measured', measured: false }
}

export function closeChip(): void {
  set({ open: null, picking: null, lit: [], base: null, hover: null })
}
