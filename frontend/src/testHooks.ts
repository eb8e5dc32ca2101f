/** Lets browser tests find named geometry on the screen and wait for states instead of times. */
import { Vector3 } from 'three'
import { api } from './api/client'
import { send } from './state/commands'
import { shownReport, useStore } from './state/store'

let pending = 0
const fetched = window.fetch
window.fetch = async (...args) => {
  // asking for events goes on for ever
  if (String(args[0]).startsWith('/api/events')) return fetched(...args)
  pending++
  try {
    return await fetched(...args)
  } finally {
    pending--
  }
}

const MADE = ['made', 'measured']

const frames = (n: number) => new Promise<void>((done) => (n ? requestAnimationFrame(() => frames(n - 1).then(done)) : done()))

/** Whether what is on the screen is all there is: nothing asked for, nothing being worked out, nothing to draw; or, until it is ``made``, but for what is still being measured on it. */
function settled(made: boolean): boolean {
  const { viewer, project, report, reportFor, busy, saved, preview } = useStore.getState()
  if (pending || saved === 'keeping') return false
  // a page that was loaded a moment ago has not asked for its project yet
  if (!project) return !location.pathname.startsWith('/p/')
  return (!viewer || viewer.quiet) && !!report && reportFor === project.version && (made ? MADE.includes(report.stage) : !busy) && (!preview || (!!preview.report && !preview.kept))
}

const offset = (place: { x: number; y: number } | null) => {
  const box = useStore.getState().viewer!.canvas.getBoundingClientRect()
  return place && { x: place.x + box.left, y: place.y + box.top }
}

const partId = (name: string) => useStore.getState().project!.document.parts!.find((p) => p.name === name)?.id ?? name

const hooks = {
  viewer: () => useStore.getState().viewer,
  async idle(timeout = 30000, made = false): Promise<boolean> {
    const end = performance.now() + timeout
    let calm = 0
    while (calm < 3) {
      await frames(1)
      calm = settled(made) ? calm + 1 : 0
      if (performance.now() > end) return false
    }
    useStore.getState().viewer?.finish()
    return true
  },
  project: (x: number, y: number, z: number) => offset(useStore.getState().viewer!.eye.toScreen(new Vector3(x, y, z))),
  faces: (part: string) => useStore.getState().viewer!.header(partId(part))?.faces.map((f) => f.name) ?? [],
  labels: (part: string) => useStore.getState().viewer!.header(partId(part))?.faces.map((f) => f.label) ?? [],
  facePoint(part: string, test: string) {
    const viewer = useStore.getState().viewer!
    const id = partId(part)
    const header = viewer.header(id)
    const found = header?.faces.flatMap((f, i) => (f.name === test || f.label.startsWith(test) ? [i] : [])) ?? []
    for (const index of found) {
      const place = viewer.facePlace(id, index)
      if (place) return offset(place)
    }
    return null
  },
  edgePoint(part: string, index: number) {
    const viewer = useStore.getState().viewer!
    return offset(viewer.edgePlace(partId(part), index))
  },
  edges: (part: string) => useStore.getState().viewer!.header(partId(part))?.edges ?? [],
  /** For bench/: records a value and times its way to the screen, in ms. */
  async timedEdit(name: string, formula: string) {
    const { id, project } = useStore.getState()
    const value = project!.document.values!.find((v) => v.name === name)!
    const meshes = () => useStore.getState().report!.parts.map((p) => p.mesh).join()
    const old = meshes()
    const viewer = useStore.getState().viewer!
    const framesBefore = viewer.frames
    const start = performance.now()
    const done = await send({ do: 'SetValue', value: value.id, formula })
    const recorded = performance.now()
    while (useStore.getState().reportFor < done!.version || meshes() === old) await new Promise((r) => setTimeout(r, 1))
    const told = performance.now()
    const shown = () => document.querySelector<HTMLElement>('#stage')!.dataset.loaded === meshes()
    while (!shown()) await new Promise((r) => setTimeout(r, 1))
    const fetchedAt = performance.now()
    await frames(1)
    viewer.finish()
    const drawn = performance.now()
    await hooks.idle()
    return { id, command: recorded - start, evaluation: told - recorded, transfer: fetchedAt - told, drawing: drawn - fetchedAt, all: drawn - start, frames: viewer.frames - framesBefore }
  },
  /** For bench/: how long gauges by formula take to answer for a value that is tried. */
  async timedGauge(name: string, formula: string) {
    const { id, project } = useStore.getState()
    const value = project!.document.values!.find((v) => v.name === name)!
    const start = performance.now()
    await api.gauge(id, { do: 'SetValue', value: value.id, formula })
    return performance.now() - start
  },
  /** What keeps the page from being settled, for a failing test's message. */
  unsettled: () => {
    const { viewer, project, report, reportFor, busy, saved, preview } = useStore.getState()
    return {
      pending, saved, busy, quiet: viewer?.quiet, version: project?.version, reportFor, measured: report?.measured,
      preview: preview && !!preview.report,
    }
  },
  /** What the stage shows now: the present model, one at its limits, an old one, a coupon. */
  shown: () => shownReport(useStore.getState()),
  state: () => {
    const { project, report, selected, draft, open, board } = useStore.getState()
    return { project, report, selected, draft: draft && { kind: draft.kind.kind, fields: draft.fields }, open, board }
  },
}

declare global {
  interface Window { __test: typeof hooks }
}
window.__test = hooks
