/** Requests to our own server. Every refusal becomes a Refusal with a sentence fit to show. */
import type { Things } from '../stage/blob'
import type { components } from './schema'

type S = components['schemas']
/** A project as the page keeps it: the server's answers may hold a patch instead of the whole document. */
export type ProjectAnswer = S['ProjectState']
export type ProjectState = Omit<ProjectAnswer, 'document' | 'patch' | 'since'> & { document: S['Project'] }
export type Pick = S['Pick']
export type ThingOut = S['ThingOut']
export type Segment = S['SegmentOut']
export type SaidStep = S['SaidStepOut']
export type Report = S['Report']
export type Joint = S['JointOut']
export type PartOut = S['PartOut']
export type StepOut = S['StepOut']
export type ValueOut = S['ValueOut']
export type SketchOut = S['SketchOut']
export type FrameOut = S['FrameOut']
export type AxisOut = S['AxisOut']
export type PictureOut = S['PictureOut']
export type Check = S['CheckOut']
export type Finding = S['FindingOut']
export type ReadingRow = S['RowOut']
export type Pinned = S['ReadingOut']
export type Kinds = S['Kinds']
export type Kind = S['KindOut']
export type FieldOut = S['FieldOut']
export type Summary = S['SummaryOut']
export type Sample = S['SampleOut']
export type OtherParts = S['OtherPartsOut']
export type BroughtFile = S['BroughtFileOut']
export type Dimension = S['DimensionOut']
export type WorkshopOut = S['WorkshopOut']
export type Trial = S['TrialOut']
export type TrialFeature = S['TrialFeatureOut']
export type Lesson = S['LessonOut']
export type LineOut = S['LineOut']
export type PrintsOut = S['PrintsOut']
export type PrintPart = S['PrintPartOut']
export type LayerOut = S['LayerOut']
export type CouponOut = S['CouponOut']
export type CompareOut = S['CompareOut']
export type CatalogueOut = S['CatalogueOut']
export type OutlineOut = S['OutlineOut']
export type BroughtOut = S['BroughtIn']
export type Profile = ProjectState['document']['profiles'] extends (infer P)[] | undefined ? P : never
/** Which end of the tolerances is taken: overall, by part, by dimension. */
export interface Limits { overall: string; parts: Record<string, string>; dimensions: Record<string, string>; own?: Record<string, Record<string, string>> }
export type Command = S['Command']

/** The fields of a step as they travel: formulas, choices and picks by name. */
export type Fields = { [name: string]: FieldValue | undefined }
/** A formula or text, an answer, a pick, a file, or clauses of them. */
export type FieldValue = string | number | boolean | null | Pick | FieldValue[] | { [name: string]: FieldValue | undefined }

export class Refusal extends Error {
  constructor(message: string, readonly status: number, readonly field: string, readonly things: string[] = []) {
    super(message)
  }
}

/** Tells this window's edits from those of other windows. */
export const windowId = Math.random().toString(36).slice(2)

async function answer(response: Response): Promise<Response> {
  if (response.ok) return response
  const body = await response.json().catch(() => ({ detail: 'The server gave no answer that can be read.' }))
  throw new Refusal(body.detail ?? 'The server refused.', response.status, body.field ?? '', body.things ?? [])
}

async function request(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      ...init,
      headers: { 'Content-Type': 'application/json', 'X-Window': windowId, ...(init?.headers ?? {}) },
    })
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Refusal('The server cannot be reached; it may be starting again.', 0, '')
  }
  return answer(response)
}

const post = async <T>(path: string, body: unknown, signal?: AbortSignal): Promise<T> =>
  (await request(path, { method: 'POST', body: JSON.stringify(body), signal })).json()
const get = async <T>(path: string): Promise<T> => (await request(path)).json()

export const api = {
  kinds: () => get<Kinds>('/kinds'),
  projects: () => get<Summary[]>('/projects'),
  create: (name: string, sample = '') => post<ProjectAnswer>('/projects', { name, sample }),
  image: async (id: string, file: string) => (await request(`/projects/${id}/files/${file}`)).blob(),
  /** Keeps a STEP, STL or 3MF file, and says what solids it holds; or an image. */
  addFile: async (id: string, file: File, unit: string, image = false) =>
    (await request(`/projects/${id}/files?name=${encodeURIComponent(file.name)}&unit=${unit}${image ? '&what=image' : ''}`, { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } })).json() as Promise<BroughtFile>,
  samples: () => get<Sample[]>('/samples'),
  copy: (id: string) => post<ProjectAnswer>('/projects', { copy_of: id }),
  bringIn: async (file: File) =>
    (await request('/projects/import', { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } })).json() as Promise<ProjectAnswer>,
  project: (id: string) => get<ProjectAnswer>(`/projects/${id}`),
  remove: async (id: string) => void (await request(`/projects/${id}`, { method: 'DELETE' })),
  command: (id: string, seen: number, command: Command) => post<ProjectAnswer>(`/projects/${id}/commands`, { seen, command }),
  /** Parts of another project (its id, or “sample:” and a name), and what comes with those asked for. */
  otherParts: (of: string, parts: string[]) => post<OtherParts>('/parts', { of, parts }),
  bring: (id: string, seen: number, of: string, parts: string[]) => post<ProjectAnswer>(`/projects/${id}/bring`, { seen, of, parts }),
  travel: (id: string, way: 'undo' | 'redo', seen: number) => post<ProjectAnswer>(`/projects/${id}/${way}`, { seen }),
  /** The model, and the version of the project that it is of. */
  evaluation: async (id: string, upto?: string, limits?: Limits): Promise<{ report: Report; version: number }> => {
    // the first that there is to look at; events tell of what follows
    const query = upto ? `?upto=${upto}` : limits ? `?limits=${encodeURIComponent(JSON.stringify(limits))}` : '?shown'
    const response = await request(`/projects/${id}/evaluation${query}`)
    return { report: await response.json(), version: Number(response.headers.get('X-Project-Version')) }
  },
  measure: (id: string, first: object, second: object | null) => post<ReadingRow[]>(`/projects/${id}/measure`, { first, second }),
  /** The value that brings a reading to a figure, or why none does. */
  apart: (id: string) => get<components['schemas']['ApartOut']>(`/projects/${id}/apart`),
  gapMap: (id: string, joint: string) => get<components['schemas']['MapOut']>(`/projects/${id}/joints/${joint}/map`),
  drawing: (id: string, joint: string) => get<components['schemas']['DrawingOut']>(`/projects/${id}/joints/${joint}/drawing`),
  hold: (id: string, joint: string, chance: number) => post<components['schemas']['HoldOut']>(`/projects/${id}/hold`, { joint, chance }),
  solveFor: (id: string, first: object, second: object | null, what: string, target: string, value: string) =>
    post<{ formula: string; reached: number | null; message: string }>(`/projects/${id}/solve-for`, { first, second, what, target, value }),
  halt: (id: string) => post<object>(`/projects/${id}/halt`, {}),
  preview: (id: string, command: Command, shown: boolean, signal?: AbortSignal) =>
    post<{ report: Report; joints: Joint[]; created: string[] }>(`/projects/${id}/preview`, { command, shown }, signal),
  gauge: (id: string, command: Command, signal?: AbortSignal) =>
    post<{ joints: Joint[]; values: ValueOut[] }>(`/projects/${id}/gauge`, { command }, signal),
  begin: (id: string, kind: string, fields: Fields, answered: string, after: string | null) => post<{ fields: Fields }>(`/projects/${id}/begin`, { kind, fields, answered, after }).then((out) => out.fields),
  say: (id: string, kind: string, fields: Fields) => post<Segment[]>(`/projects/${id}/say`, { kind, fields }),
  lights: (id: string, pick: Pick, before: string) => post<ThingOut[]>(`/projects/${id}/lights`, { pick, before }),
  drag: (id: string, step: string, thing: string, to: [number, number]) =>
    post<{ points: Record<string, [number, number]>; radii: Record<string, number> }>(`/projects/${id}/drag`, { step, id: thing, to }),
  figures: (id: string, formulas: string[]) => post<S['FiguresOut']>(`/projects/${id}/figures`, { formulas }).then((out) => out.figures),
  keep: (id: string, seen: number, step: string, path: string) => post<ProjectAnswer>(`/projects/${id}/keep`, { seen, step, path }),
  look: (id: string, body: { step: string; pick: object; what: string }) => post<BroughtOut[]>(`/projects/${id}/look`, body),
  readOutline: (id: string, body: { name: string; text: string; unit: string; scale: number }) => post<OutlineOut>(`/projects/${id}/outline`, body),
  outlineFile: async (id: string, body: { step: string; format: string; unit: string }) => file(await request(`/projects/${id}/outline/export`, { method: 'POST', body: JSON.stringify(body) })),
  mesh: async (hash: string) => (await request(`/mesh/${hash}`)).arrayBuffer(),
  things: (hash: string) => get<Things>(`/mesh/${hash}`),
  export: async (id: string, body: { parts: string[]; format: string; unit: string; pattern: string; laid: boolean; together: boolean }) =>
    file(await request(`/projects/${id}/export`, { method: 'POST', body: JSON.stringify(body) })),

  // ---- the measured world
  catalogue: () => get<CatalogueOut>('/catalogue'),
  workshop: (id: string) => get<WorkshopOut>(`/projects/${id}/workshop`),
  setProfile: (id: string, seen: number, body: object) => post<ProjectAnswer>(`/projects/${id}/profile`, { seen, ...body }),
  prints: (id: string) => get<PrintsOut>(`/projects/${id}/prints`),
  places: (id: string) => get<PrintsOut>(`/projects/${id}/prints?places=1`),
  layer: (id: string, part: string, layer: number) => get<LayerOut>(`/projects/${id}/layer?part=${part}&layer=${layer}`),
  coupon: (id: string, kind: string) => get<CouponOut>(`/projects/${id}/coupons/${kind}`),
  couponFile: async (id: string, kind: string, format: string) => file(await request(`/projects/${id}/coupons/${kind}/export?format=${format}`)),
  print: (id: string, body: { parts?: string[]; coupon?: string; device: string; note: string }) => post<Trial>(`/projects/${id}/trials`, body),
  stopPrint: (trial: string) => post<object>(`/trials/${trial}/stop`, {}),
  trial: (trial: string) => get<Trial>(`/trials/${trial}`),
  noteTrial: (trial: string, note: string) => post<Trial>(`/trials/${trial}/note`, { note }),
  removeTrial: async (trial: string) => void (await request(`/trials/${trial}`, { method: 'DELETE' })),
  read: (trial: string, body: { feature: string; text?: string; caliper?: boolean; sure?: boolean }) => post<Trial>(`/trials/${trial}/readings`, body),
  readAll: (trial: string) => post<Trial>(`/trials/${trial}/caliper`, {}),
  exclude: (reading: number, excluded: boolean) => post<Trial>(`/readings/${reading}`, { excluded }),
  dropReading: async (reading: number) => void (await request(`/readings/${reading}`, { method: 'DELETE' })),
  judge: (id: string, body: { joint?: string; verdict?: string; trial?: string; went_in?: number | null }) => post<Trial>(`/projects/${id}/verdicts`, body),
  bestGap: (trial: string) => get<S['BestGapOut']>(`/trials/${trial}/best`),
  drawGap: (id: string, joint: string, seen: number, drawn_mm: number) => post<ProjectAnswer>(`/projects/${id}/joints/${joint}/drawn`, { seen, drawn_mm }),
  dropVerdict: async (verdict: number) => void (await request(`/verdicts/${verdict}`, { method: 'DELETE' })),
  acceptProposal: (id: string, seen: number) => post<ProjectAnswer>(`/projects/${id}/proposal/accept`, { seen }),
  dismissProposal: (id: string) => post<object>(`/projects/${id}/proposal/dismiss`, {}),
  freeze: (id: string, note: string) => post<object[]>(`/projects/${id}/revisions`, { note }),
  compare: (id: string, from: string, to: string) => get<CompareOut>(`/projects/${id}/compare?from=${from}&to=${to}`),
  revision: (id: string, number: number) => get<Report>(`/projects/${id}/revisions/${number}/evaluation`),
  restore: (id: string, number: number, seen: number) => post<ProjectAnswer>(`/projects/${id}/revisions/${number}/restore`, { seen }),
}

async function file(response: Response): Promise<{ name: string; blob: Blob }> {
  const header = response.headers.get('Content-Disposition') ?? ''
  const full = /filename\*=UTF-8''([^;]+)/.exec(header)?.[1]
  const plain = /filename="([^"]+)"/.exec(header)?.[1]
  return { name: full ? decodeURIComponent(full) : (plain ?? 'parts'), blob: await response.blob() }
}

export { listen } from './events'
