/** The measured world of the open project: prints, readings, revisions, what they teach, and what printing would take. */
import { useMemo } from 'react'
import { create } from 'zustand'
import { type CatalogueOut, type CompareOut, type CouponOut, type LayerOut, type PrintPart, type PrintsOut, Refusal, type Trial, type WorkshopOut, api } from '../api/client'
import { record } from './commands'
import { onWorkshop } from './project'
import { useStore } from './store'

/** What the Learn desk shows on its page: the printer, one print, a coupon, or two states side by side. */
export type Page = { show: 'printer' } | { show: 'trial'; id: string } | { show: 'coupon'; kind: string } | { show: 'compare'; from: string; to: string }

interface WorkshopState {
  project: string
  kept: WorkshopOut | null
  /** The version of the project that it was asked for. */
  keptFor: number
  catalogue: CatalogueOut | null
  prints: PrintsOut | null
  printsFor: number
  /** Printed parts that are left off the plate. */
  left: Set<string>
  /** The layer that is looked at, or null for whole parts. */
  layer: number | null
  layers: Record<string, LayerOut>
  page: Page
  coupon: CouponOut | null
  compared: CompareOut | null
  /** What was refused, and where: a feature, a joint, or a place on a desk. */
  refused: { at: string; text: string } | null
  busy: string
}

/** What is known of a project at first. */
const fresh = (project: string): Omit<WorkshopState, 'catalogue'> => ({
  project, kept: null, keptFor: -1, prints: null, printsFor: -1, left: new Set(), layer: null, layers: {}, page: { show: 'printer' }, coupon: null, compared: null, refused: null,
  busy: '',
})
export const useWorkshop = create<WorkshopState>(() => ({ ...fresh(''), catalogue: null }))
const set = useWorkshop.setState
const now = useWorkshop.getState
const projectId = (): string => useStore.getState().id

/** Forgets another project's world. */
function settle(): void {
  if (now().project !== projectId()) set(fresh(projectId()))
}

/** Does something that may be refused; the sentence then stands at its place. */
export async function attempt<T>(at: string, work: () => Promise<T>): Promise<T | null> {
  set({ busy: at, refused: null })
  try {
    return await work()
  } catch (error) {
    set({ refused: { at, text: error instanceof Refusal ? error.message : String(error) } })
    return null
  } finally {
    set({ busy: '' })
  }
}

let asked = 0
export async function refreshWorkshop(): Promise<void> {
  settle()
  const mine = ++asked
  const id = projectId()
  const version = useStore.getState().project?.version ?? -1
  const kept = await api.workshop(id).catch(() => null)
  if (kept && mine === asked && projectId() === id) set({ kept, keptFor: version })
  await knowCatalogue()
}

/** Asks once what printers and materials there are to choose from. */
export async function knowCatalogue(): Promise<void> {
  if (!now().catalogue) set({ catalogue: await api.catalogue().catch(() => null) })
}
onWorkshop(() => void refreshWorkshop())

/** While something prints, its share of the work is asked for. */
export async function watchPrint(trial: string): Promise<void> {
  const found = await api.trial(trial).catch(() => null)
  if (found) putTrial(found)
}

function putTrial(trial: Trial): void {
  set((s) => (s.kept ? { kept: { ...s.kept, trials: s.kept.trials.map((t) => (t.id === trial.id ? trial : t)) } } : {}))
}

export async function refreshPrints(): Promise<void> {
  settle()
  const { id, project } = useStore.getState()
  if (!project) return
  const version = project.version
  try {
    // where parts lie is known long before all their layers are
    const places = now().prints ? null : await api.places(id)
    if (places && projectId() === id && !now().prints) set({ prints: places })
    const prints = await api.prints(id)
    if (projectId() === id && version >= now().printsFor) set({ prints, printsFor: version, layers: {} })
    if (now().layer !== null) await showLayer(now().layer)
  } catch (error) {
    if (error instanceof Refusal && error.status !== 0) set({ prints: null, printsFor: version, refused: { at: 'plate', text: error.message } })
  }
}

/** The parts that are on the plate: printed, made, and not left off. */
const onPlate = (s: Pick<WorkshopState, 'prints' | 'left'>): PrintPart[] => (s.prints?.parts ?? []).filter((p) => !s.left.has(p.id))
export function useOnPlate(): PrintPart[] {
  const prints = useWorkshop((s) => s.prints)
  const left = useWorkshop((s) => s.left)
  return useMemo(() => onPlate({ prints, left }), [prints, left])
}

/** How many plates parts lie on: one at least. Of all parts that is how many beds there are, of those that are ticked how many are used. */
export const platesOf = (parts: PrintPart[]): number => Math.max(1, new Set(parts.map((p) => p.plate ?? 0)).size)

let layerAsked = 0
export async function showLayer(layer: number | null): Promise<void> {
  set({ layer })
  if (layer === null) return
  const mine = ++layerAsked
  const id = projectId()
  const parts = onPlate(now()).filter((p) => p.estimate && layer > p.up_layers && layer - p.up_layers <= p.estimate.layers)
  const found = await Promise.all(parts.map((p) => api.layer(id, p.id, layer - p.up_layers).then((l) => [p.id, l] as const, () => null)))
  if (mine === layerAsked && projectId() === id) set({ layers: Object.fromEntries(found.filter((f) => f !== null)) })
}

export const setProfile = (body: object): Promise<unknown> => record((id, seen) => api.setProfile(id, seen, body))

export async function startPrint(body: { parts?: string[]; coupon?: string; device: string; note: string }): Promise<void> {
  const trial = await attempt('print', () => api.print(projectId(), body))
  if (!trial) return
  await refreshWorkshop()
  set({ page: { show: 'trial', id: trial.id } })
  if (body.device === 'own') useStore.setState({ desk: 'learn' })
}

/** Which coupon was asked for last, and of which version of the project. */
let couponAsked = ''
const couponNow = (kind: string) => `${projectId()} ${kind} ${useStore.getState().project?.version}`

/** A coupon made of a joint follows the project. */
export const followCoupon = (kind: string): void => void (couponAsked !== couponNow(kind) && lookAtCoupon(kind))

export async function lookAtCoupon(kind: string): Promise<void> {
  couponAsked = couponNow(kind)
  const mine = couponAsked
  set({ page: { show: 'coupon', kind }, coupon: null })
  const coupon = await attempt('coupon', () => api.coupon(projectId(), kind))
  if (coupon && now().page.show === 'coupon' && mine === couponAsked) set({ coupon })
}

export async function compareStates(from: string, to: string): Promise<void> {
  set({ page: { show: 'compare', from, to }, compared: null })
  const compared = await attempt('compare', () => api.compare(projectId(), from, to))
  if (compared) set({ compared })
}

export async function lookAtRevision(number: number, note: string): Promise<void> {
  const report = await attempt('revisions', () => api.revision(projectId(), number))
  if (report) useStore.setState({ other: { title: `revision ${number}${note ? `, ${note}` : ''}`, report }, desk: 'shape' })
}

export async function restoreRevision(number: number): Promise<void> {
  useStore.setState({ other: null, limits: null, limitReport: null })
  await record((id, seen) => api.restore(id, number, seen))
  await refreshWorkshop()
}

export const acceptProposal = async (): Promise<void> => {
  await record((id, seen) => api.acceptProposal(id, seen))
  await refreshWorkshop()
}

/** Draws the gap (mm a side) at which a joint went well. */
export const drawGap = async (joint: string, drawnMm: number): Promise<void> => {
  const done = await record((id, seen) => api.drawGap(id, joint, seen, drawnMm))
  if (done) useStore.setState({ desk: 'join', focusJoint: joint })
  await refreshWorkshop()
}

/** Saves a file that the server made. */
export function keepFile({ name, blob }: { name: string; blob: Blob }): string {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10000)
  return name
}
