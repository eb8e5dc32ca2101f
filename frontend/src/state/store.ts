/** The state of an open project, and what of it is shown. */
import { create } from 'zustand'
import type { Fields, Joint, Kind, Kinds, Limits, ProjectState, Report, Segment } from '../api/client'
import type { Band, GapMap } from '../stage/gapmap'
import type { Viewer } from '../stage/viewer'
import type { Pick, Thing } from './picks'

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
  /** The fields that were answered, in order: what a person said is not taken over by what is likely meant. */
  told: string[]
}

/** A cut through the model: square to an axis, turned about the next one, at a distance; ``flip`` keeps the other side. */
export interface Cut { axis: 'across' | 'deep' | 'level'; at: number; turn: number; flip: boolean }

/** The chip that is open: a field of a step, or of the draft (``step: 'draft'``). */
export interface Open { step: string; field: string }

/** What was refused or is to be told, where, and what of the board it speaks of. */
export interface Said { text: string; step?: string; field?: string; things?: string[] }

export interface State {
  id: string
  project: ProjectState | null
  report: Report | null
  reportFor: number
  kinds: Kinds | null
  desk: Desk
  folded: boolean
  /** Whether the list of keys is shown. */
  keys: boolean
  /** Whether parts of another project are being chosen. */
  bringing: boolean
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
  /** A second cut, and whether only what lies beyond both goes. */
  cut2: Cut | null
  corner: boolean
  /** Whether links between parts are shown as strands. */
  strands: boolean
  /** How far the model is pulled apart, 0 to 1. */
  apart: number | null
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

/** What a project begins with on the screen: nothing of how another one was looked at or worked at. */
export const untouched = () =>
  ({
    project: null, report: null, reportFor: -1, desk: 'shape', hidden: new Set(), sheer: new Set(), gapMap: null, draft: null, open: null, picking: null, lit: [], adding: null,
    wants: {}, preview: null, cut: null, cut2: null, corner: false, strands: false, apart: null, upto: null, uptoReport: null, limits: null, limitReport: null, other: null,
    laying: null, base: null, selected: [], hover: null, focusStep: null, focusJoint: null, board: null, palette: null, bringing: false, said: null,
  }) satisfies Partial<State>

export const useStore = create<State>(() => ({
  ...untouched(), id: '', kinds: null, folded: false, keys: false, saved: 'kept', busy: false, working: null, stopped: false, viewer: null, told: '',
}))

export const set = useStore.setState

export const now = useStore.getState

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
