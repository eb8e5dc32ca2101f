/** The stage: the model in the middle of every desk, with what is drawn over it. */
import { useEffect, useMemo, useRef, useState } from 'react'
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react'
import { Vector3 } from 'three'
import { type Kind, api } from '../api/client'
import { Board } from '../board/Board'
import { type Thing, pickWith, pickWithAll, sameThing } from '../state/picks'
import { canTake, openField, pickKind, setPicking, stepFields, stepKind } from '../state/chips'
import { fieldIsNewPart } from '../state/fields'
import { atLimits } from '../state/looking'
import { halt, resume } from '../state/project'
import { shownReport, useStore } from '../state/store'
import { answer, pointedFor, startDraft } from '../state/writing'
import { layOn } from '../desks/LieSheet'
import { useProfile } from '../desks/OnPrinter'
import { useWorkshop } from '../state/workshop'
import { ApartBar, startApart } from './ApartBar'
import type { Box } from './boxed'
import { CutBar, startCut } from './CutBar'
import { Grip } from './Grip'
import { KeptViews } from './KeptViews'
import { blobs, fetchMeshes, told } from './meshes'
import { Notes } from './Notes'
import { StageStrands } from './Strands'
import { Plate } from './Plate'
import { PointList } from './PointList'
import { ReadingCard } from './ReadingCard'
import { inInches, length } from '../widgets/figures'
import { ScaleBar } from './ScaleBar'
import type { ViewName } from './eye'
import { type Hit, Viewer } from './viewer'

const STOPS: ViewName[] = ['top', 'front', 'left', 'back', 'right', 'below', 'corner']

export function Stage() {
  const host = useRef<HTMLDivElement>(null)
  const [viewer, setViewer] = useState<Viewer | null>(null)
  const [frame, setFrame] = useState(0)
  const [view, setView] = useState<ViewName | 'square' | null>('corner')
  const [pointer, setPointer] = useState<{ hit: Hit; x: number; y: number } | null>(null)
  const [verbs, setVerbs] = useState<{ x: number; y: number } | null>(null)
  const [loaded, setLoaded] = useState('')
  const toldNow = useStore((s) => s.told)
  const [pointAt, setPointAt] = useState('anything')
  const [pointing, setPointing] = useState(false)
  const [box, setBox] = useState<Box | null>(null)
  const report = useStore(shownReport)
  const hidden = useStore((s) => s.hidden)
  const board = useStore((s) => s.board)
  const open = useStore((s) => s.open)
  const litUp = useStore((s) => s.lit)
  const selected = useStore((s) => s.selected)
  const hover = useStore((s) => s.hover)
  const project = useStore((s) => s.project)!
  const bed = useProfile().bed_mm
  const upto = useStore((s) => s.upto)
  const cutting = useStore((s) => !!s.cut)
  const apart = useStore((s) => s.apart !== null)
  const desk = useStore((s) => s.desk)
  const other = useStore((s) => s.other)
  const limits = useStore((s) => s.limits)
  const laying = useStore((s) => s.laying)
  const sheer = useStore((s) => s.sheer)
  const gapMap = useStore((s) => s.gapMap)
  const left = useWorkshop((s) => s.left)
  const printed = useWorkshop((s) => s.prints?.parts)
  const onBed = desk === 'print' && !board && !other
  const previewing = useStore((s) => !!s.preview && !s.preview.kept)
  // what parts look like, as one text: an edit that leaves it alone must not cost a frame
  const looks = useStore((s) => s.project!.document.parts!.map((p) => `${p.id} ${p.colour}`).join())
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const hasReport = useStore((s) => !!s.report)

  useEffect(() => {
    const made = new Viewer(host.current!)
    made.onFrame = () => setFrame((n) => n + 1)
    made.onView = setView
    made.start()
    const watcher = new ResizeObserver(() => made.resize())
    watcher.observe(host.current!)
    setViewer(made)
    useStore.setState({ viewer: made })
    return () => {
      watcher.disconnect()
      made.dispose()
      useStore.setState({ viewer: null })
    }
  }, [])
  useEffect(() => viewer?.setBed([bed[0], bed[1]]), [viewer, bed])

  // fetch meshes that are not here yet, then show exactly what the report says
  useEffect(() => {
    if (!viewer || !report) return
    let stale = false
    const parts = report.parts
    void fetchMeshes(parts).then(
      () => {
        if (stale) return
        const first = viewer.empty && parts.length > 0
        viewer.setParts(
          parts.map((p) => ({
            id: p.id, name: p.name, unit, hash: p.mesh, things: told.get(p.things) ?? null, ghost: !!board || !!gapMap || sheer.has(p.id), hidden: onBed ? left.has(p.id) || !printed?.some((o) => o.id === p.id && o.place_mm) : hidden.has(p.id),
            colour: looks.split(',').find((l) => l.startsWith(`${p.id} `))?.split(' ')[1] ?? p.colour,
          })),
          blobs,
        )
        if (first && !board) viewer.eye.fit()
        setLoaded(parts.map((p) => p.mesh).join())
        useStore.setState({ told: parts.map((p) => p.things).join() })
        // what was pointed at may be another thing now
        setPointer(null)
      },
      () => {},
    )
    return () => {
      stale = true
    }
  }, [viewer, report, hidden, sheer, !!gapMap, board, looks, unit, onBed, left, printed]) // eslint-disable-line react-hooks/exhaustive-deps

  // outlines show while they are picked, while there is nothing else, and for a sketch that has the focus
  const focusStep = useStore((s) => s.focusStep)
  const field = open ? openField() : null
  const pick = field ? pickKind(field.type) : undefined
  /** Whether the open chip takes a part that is there: any face or edge of it will do. */
  const wantsPart = useStore((s) => {
    const kind = s.open && stepKind(s.open.step)
    const fields = s.open && stepFields(s.open.step)
    return !!kind && !!fields && field?.type === 'part' && !fieldIsNewPart(kind, fields, s.open!.field)
  })
  const points = useMemo(() => new Set<string>(pick?.points.map((p) => p.thing)), [pick])
  const sketches = useMemo(() => {
    if (!report || board) return []
    return Object.entries(report.sketches)
      .filter(([id]) => points.has('region') || points.has('line') || report.parts.length === 0 || id === focusStep)
      .map(([step, sketch]) => ({ step, sketch }))
  }, [report, board, points, focusStep])
  useEffect(() => viewer?.setSketches(sketches, points.has('line')), [viewer, sketches, points])
  // planes show while one is picked, for the step that has the focus, and while a new one is tried
  const kept = useStore((s) => s.report?.planes)
  const planes = useMemo(() => {
    if (!report || board || onBed) return []
    return Object.entries(report.planes)
      .filter(([id]) => points.has('plane') || id === focusStep || !kept || !(id in kept))
      .map(([, frame]) => frame)
  }, [report, board, onBed, points, focusStep, kept])
  useEffect(() => viewer?.setPlanes(planes), [viewer, planes])
  const id = useStore((s) => s.id)
  const pictures = report?.pictures
  useEffect(() => {
    if (viewer) viewer.setPictures(board ? {} : (pictures ?? {}), (file) => api.image(id, file))
  }, [viewer, pictures, board, id, loaded])
  // so do axes and points
  const keptLines = useStore((s) => s.report?.axes)
  const keptPoints = useStore((s) => s.report?.points)
  const wanted = useMemo(() => new Set<string>(pick?.ready.map((r) => r.each)), [pick])
  const refers = useMemo(() => {
    if (!report || board || onBed) return { axes: [], points: [] }
    const shown = <T,>(made: Record<string, T>, kind: string, before?: Record<string, T>) =>
      Object.entries(made).filter(([id]) => wanted.has(kind) || id === focusStep || !before || !(id in before)).map(([, found]) => found)
    return { axes: shown(report.axes, 'axis', keptLines), points: shown(report.points, 'point', keptPoints) }
  }, [report, board, onBed, wanted, focusStep, keptLines, keptPoints])
  useEffect(() => viewer?.setLines(refers.axes, refers.points), [viewer, refers])
  useEffect(() => {
    // where there is only an outline, bring that into view
    if (!viewer || !report || report.parts.length || !sketches.length || board) return
    const points = sketches.flatMap(({ sketch }) =>
      sketch.regions.flatMap((r) => r.loops[0].map(([u, v]) => {
        const f = sketch.frame
        return new Vector3(...[0, 1, 2].map((k) => f.origin[k] + u * f.x[k] + v * f.y[k]) as [number, number, number])
      })),
    )
    if (points.length) viewer.eye.fit(points)
  }, [viewer, report, sketches, board])

  // another model comes and goes whole
  const otherTitle = other?.title
  useEffect(() => {
    if (viewer && otherTitle && loaded === other?.report.parts.map((p) => p.mesh).join()) viewer.eye.fit()
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [viewer, otherTitle, loaded])

  const marks = useMemo(() => {
    // what is lit up is looked for among the parts and the outlines on show
    void loaded
    void sketches
    return litUp.length ? [...litUp, ...selected] : selected.slice()
  }, [litUp, selected, loaded, sketches])
  useEffect(() => viewer?.setMarks(marks, hover ?? pointer?.hit.thing ?? null), [viewer, marks, hover, pointer, loaded])

  const [probed, setProbed] = useState<{ gap: number; part: string; x: number; y: number } | null>(null)
  useEffect(() => {
    if (!viewer) return
    viewer.setGapMap(gapMap, gapMap?.band ?? null)
    viewer.onProbe = (found, x, y) => setProbed(found && { ...found, x, y })
    setProbed(null)
  }, [viewer, gapMap])

  useEffect(() => {
    if (!viewer) return
    viewer.filter = field
      ? wantsPart
        ? { face: true, edge: false, region: false, line: false }
        : { face: points.has('face'), edge: points.has('edge') || points.has('corner'), region: points.has('region'), line: points.has('line') }
      : { face: pointAt !== 'edges', edge: pointAt !== 'faces', region: pointAt === 'anything' && sketches.length > 0, line: false }
    viewer.onHover = (hit, x, y) => setPointer(hit ? { hit, x, y } : null)
    viewer.onClick = (hit, event) => {
      const box = viewer.canvas.getBoundingClientRect()
      const at = { x: event.clientX - box.left, y: event.clientY - box.top }
      const { open: chip, picking: was } = useStore.getState()
      if (chip && wantsPart) {
        if (hit && 'part' in hit.thing) void answer(chip.step, chip.field, hit.thing.part)
        return
      }
      if (chip && field) {
        if (!hit || !pick) return
        const next = pickWith(pick, was, hit.thing, viewer, hit.point)
        if (next === undefined) return
        if (!pick.many && next) void answer(chip.step, chip.field, next)
        else setPicking(next)
        return
      }
      const { laying: lain } = useStore.getState()
      if (lain && hit?.thing.type === 'face' && hit.thing.part === lain) {
        if (viewer.header(lain)?.faces[hit.thing.index].kind === 'plane') void layOn(lain, hit.thing.index)
        return
      }
      if (hit && pointedFor(hit.thing, hit.point)) return
      const old = useStore.getState().selected
      const things: Thing[] = hit ? (event.shiftKey || event.ctrlKey ? toggled(old, hit.thing) : [hit.thing]) : []
      useStore.setState({ selected: things })
      setVerbs(things.length ? at : null)
    }
  }, [viewer, field, pick, points, sketches.length, pointAt, wantsPart])

  useEffect(() => {
    if (!viewer) return
    viewer.onBox = (drawn, done) => {
      setBox(done ? null : drawn)
      if (!drawn || !done) return
      const many = new Set(pick?.points.filter((p) => p.many).map((p) => p.thing))
      const edges = field ? many.has('edge') : pointAt === 'edges'
      if (field && !edges && !many.has('face')) return
      const things = viewer.boxed(drawn, edges ? 'edge' : 'face')
      const { picking: was, selected: old } = useStore.getState()
      if (field && pick) return setPicking(pickWithAll(pick, was, things, viewer))
      const more = things.filter((t) => !old.some((o) => sameThing(o, t)))
      const next = more.length ? [...old, ...more] : old.filter((o) => !things.some((t) => sameThing(o, t)))
      useStore.setState({ selected: next })
      setVerbs(next.length && things.length ? { x: drawn.to.x, y: drawn.to.y } : null)
    }
  }, [viewer, field, pick, pointAt])

  useEffect(() => {
    if (open || board) setVerbs(null)
  }, [open, board])

  const keys = (e: React.KeyboardEvent) => {
    if (!viewer || e.ctrlKey || e.metaKey) return
    const step = 24
    const act: Record<string, () => void> = {
      ArrowLeft: () => (e.shiftKey ? viewer.eye.pan(step, 0) : viewer.eye.orbit(-step, 0)),
      ArrowRight: () => (e.shiftKey ? viewer.eye.pan(-step, 0) : viewer.eye.orbit(step, 0)),
      ArrowUp: () => (e.shiftKey ? viewer.eye.pan(0, step) : viewer.eye.orbit(0, step)),
      ArrowDown: () => (e.shiftKey ? viewer.eye.pan(0, -step) : viewer.eye.orbit(0, -step)),
      '+': () => viewer.eye.zoom(0.85), '-': () => viewer.eye.zoom(1 / 0.85), a: () => viewer.eye.fit(), f: () => viewer.eye.fit(viewer.pointsOf(selected)), b: () => viewer.eye.back(),
      s: () => squareOn(viewer), p: () => setPointing(true), w: () => document.getElementById('kept-views')?.click(),
    }
    if (act[e.key]) {
      e.preventDefault()
      e.stopPropagation()
      act[e.key]()
    }
  }

  const drafting = useStore((s) => !!s.draft)
  const empty = hasReport && !project.document.recipe!.length && !report?.parts.length && !board && !drafting
  return (
    <div className="relative min-h-0 min-w-0 flex-1 overflow-clip bg-paper">
      <div
        ref={host}
        id="stage"
        tabIndex={0}
        role="application"
        aria-label={`model: ${report?.parts.map((p) => p.name).join(', ') || 'empty'}`}
        onKeyDown={keys}
        className="absolute inset-0 -outline-offset-2"
        data-loaded={loaded}
        data-told={toldNow}
      />
      {viewer && board && <Board viewer={viewer} frameCount={frame} />}
      {viewer && !board && !onBed && !other && !apart && !upto && <StageStrands viewer={viewer} frameCount={frame} />}
      {viewer && !board && !onBed && !other && !apart && <Notes viewer={viewer} frameCount={frame} />}
      {viewer && !board && !onBed && !other && desk === 'shape' && !upto && !apart && <Grip viewer={viewer} frameCount={frame} />}
      {viewer && onBed && <Plate viewer={viewer} loaded={loaded} />}
      {viewer && probed && (
        <div data-probe className="pointer-events-none absolute z-10 border border-ink bg-card px-2 text-[13px]" style={{ left: Math.min(probed.x + 14, viewer.size.width - 230), top: probed.y + 16 }}>
          <b className="fig">{length(probed.gap, 'mm', 3)}</b> a side, on {report?.parts.find((p) => p.id === probed.part)?.name}
        </div>
      )}
      {box && (
        <div data-box className={`pointer-events-none absolute z-10 border ${box.touching ? 'border-dashed' : ''} border-ink bg-ink/5`} style={{ left: Math.min(box.from.x, box.to.x), top: Math.min(box.from.y, box.to.y), width: Math.abs(box.to.x - box.from.x), height: Math.abs(box.to.y - box.from.y) }}>
          <span className="absolute bottom-full left-0 bg-card px-1 text-[12px] whitespace-nowrap">{box.touching ? 'what it touches' : 'what lies in it'}</span>
        </div>
      )}
      {viewer && !board && pointer && !verbs && !box && (
        <div className="pointer-events-none absolute z-10 border border-ink bg-card px-2 text-[13px]" style={{ left: Math.min(pointer.x + 14, viewer.size.width - 230), top: pointer.y + 16 }}>
          {unit === 'in' ? inInches(pointer.hit.label) : pointer.hit.label}
        </div>
      )}
      {viewer && !board && !open && !onBed && !other && !apart && <ReadingCard viewer={viewer} />}
      {viewer && !board && !open && pointing && <PointList viewer={viewer} close={() => setPointing(false)} />}
      {viewer && !board && !onBed && <CutBar viewer={viewer} frameCount={frame} />}
      {viewer && !board && !onBed && !other && !upto && !limits && <ApartBar viewer={viewer} />}
      {viewer && verbs && selected.length > 0 && !board && <Verbs at={verbs} viewer={viewer} onBed={onBed} done={() => setVerbs(null)} />}
      {empty && (
        <div className="pointer-events-none absolute inset-0 flex items-center justify-center">
          <div className="max-w-96 bg-paper/90 px-6 text-center text-ink2">
            <p className="text-[17px] font-semibold text-ink">An empty ground.</p>
            <p>
              Press <span className="key">n</span> and sketch an outline on it. What you make here appears as you write it.
            </p>
          </div>
        </div>
      )}
      {upto && (
        <Banner>
          as it stood after step {project.document.recipe!.findIndex((s) => s.id === upto) + 1}{' '}
          <button className="ml-2 underline" onClick={() => useStore.setState({ upto: null, uptoReport: null })}>
            see all
          </button>
        </Banner>
      )}
      {other && (
        <Banner>
          {other.title}{' '}
          <button className="ml-2 underline" onClick={() => useStore.setState({ other: null })}>
            back to the present
          </button>
        </Banner>
      )}
      {limits && !other && !upto && !board && (
        <Banner>
          dimensions at their limits{limits.overall !== 'nominal' ? `: ${limits.overall}` : ''}{' '}
          <button className="ml-2 underline" onClick={() => void atLimits(null)}>
            nominal again
          </button>
        </Banner>
      )}
      {laying && <Banner>point at the flat face that lies down</Banner>}
      {previewing && !board && <p className="absolute top-14 right-4 text-[13px] text-warn">tried, not kept yet</p>}
      {viewer && <ScaleBar viewer={viewer} frameCount={frame} />}
      {!board && (
        <div role="toolbar" aria-label="views" className="absolute right-3 bottom-2 z-[5] flex border-b border-ink2 bg-paper/90 text-[13px]">
          {!onBed && (
          <button className={`mr-3 px-1 ${cutting ? 'font-semibold' : 'text-ink2 hover:text-ink'}`} aria-pressed={cutting} onClick={startCut}>
            cut open
          </button>
          )}
          {!onBed && !other && !upto && !limits && (report?.parts.length ?? 0) > 1 && (
            <button className={`mr-3 px-1 ${apart ? 'font-semibold' : 'text-ink2 hover:text-ink'}`} aria-pressed={apart} onClick={startApart}>
              pull apart
            </button>
          )}
          <Listbox value={pointAt} onChange={setPointAt}>
            <ListboxButton className="mr-4 px-1 text-ink2 hover:text-ink" aria-label={`point at ${pointAt}`}>
              point at <span className="font-semibold">{pointAt}</span>
            </ListboxButton>
            <ListboxOptions anchor="top" className="z-30 border border-ink bg-card outline-none">
              {['anything', 'faces', 'edges'].map((kind) => (
                <ListboxOption key={kind} value={kind} className="cursor-pointer px-3 py-0.5 text-[13px] data-focus:bg-row data-selected:font-semibold">
                  {kind}
                </ListboxOption>
              ))}
            </ListboxOptions>
          </Listbox>
          {STOPS.map((s) => (
            <button key={s} className={`px-2.5 py-0.5 ${view === s ? 'border-b-2 border-ink font-semibold' : 'text-ink2 hover:text-ink'}`} aria-pressed={view === s} onClick={() => viewer?.eye.setView(s)}>
              {s}
            </button>
          ))}
          <button className="px-2.5 text-ink2 hover:text-ink" title={selected.length ? 'bring what is selected into view' : 'bring everything into view'} onClick={() => (onBed && !selected.length ? viewer?.fitBed() : viewer?.eye.fit(viewer.pointsOf(selected)))}>
            {selected.length ? 'chosen' : 'all'}
          </button>
          {viewer && !onBed && !other && <KeptViews viewer={viewer} />}
        </div>
      )}
      <Working />
    </div>
  )
}

/** Says over the stage that something else than the present model is seen. */
function Banner({ children }: { children: React.ReactNode }) {
  return <div className="absolute top-[104px] left-1/2 z-10 -translate-x-1/2 border border-warn bg-card px-3 py-1 text-[13.5px] whitespace-nowrap">{children}</div>
}

/** What is being worked out, once it takes longer than a blink, with a way to stop it. */
function Working() {
  const busy = useStore((s) => s.busy)
  const stopped = useStore((s) => s.stopped)
  const working = useStore((s) => s.working)
  const recipe = useStore((s) => s.project!.document.recipe!)
  const steps = useStore((s) => s.project!.steps)
  const [long, setLong] = useState(false)
  useEffect(() => {
    setLong(false)
    if (!busy) return
    const timer = window.setTimeout(() => setLong(true), 700)
    return () => window.clearTimeout(timer)
  }, [busy])
  const at = recipe.findIndex((s) => s.id === working)
  return (
    <div role="status" aria-live="polite" data-busy={busy ? 'yes' : 'no'} className="absolute bottom-11 left-4 max-w-[60%] text-[13px] text-ink2">
      {long && (
        <div className="flex items-center gap-3 border border-hair bg-card px-2.5 py-1">
          <svg width="120" height="8" aria-hidden>
            <rect width="120" height="8" fill="none" stroke="var(--hair)" />
            <rect width={at < 0 ? 118 : (120 * (at + 0.5)) / recipe.length} height="8" fill="var(--accent)" opacity={at < 0 ? 0.35 : 1} />
          </svg>
          <span className="truncate">{at < 0 ? 'measuring the gaps' : `making step ${at + 1}: ${recipe[at].name || steps[recipe[at].id]?.sentence}`}</span>
          <button className="underline underline-offset-2" onClick={() => void halt()}>
            stop
          </button>
        </div>
      )}
      {stopped && !busy && (
        <div className="flex items-center gap-3 border border-warn bg-card px-2.5 py-1">
          Stopped; the model shows what was there before.
          <button className="underline underline-offset-2" onClick={resume}>
            go on
          </button>
        </div>
      )}
    </div>
  )
}

/** Turns square to the flat face that is selected. */
function squareOn(viewer: Viewer): void {
  const face = useStore.getState().selected.find((t) => t.type === 'face')
  const found = face?.type === 'face' ? viewer.facing(face.part, face.index) : null
  if (found) viewer.eye.squareOn(found.normal, found.points)
  else useStore.setState({ said: { text: 'Point at a flat face first; then the view turns square to it.' } })
}

const toggled = (things: Thing[], thing: Thing): Thing[] => {
  const same = (t: Thing) => JSON.stringify(t) === JSON.stringify(thing)
  return things.some(same) ? things.filter((t) => !same(t)) : [...things, thing]
}

/** The few steps that suit what is selected, beside the pointer. */
function Verbs({ at, viewer, onBed, done }: { at: { x: number; y: number }; viewer: Viewer; onBed: boolean; done: () => void }) {
  const parts = useStore((s) => s.project!.document.parts!)
  const kinds = useStore((s) => s.kinds)!
  const selected = useStore((s) => s.selected)
  const types = new Set(selected.map((t) => t.type))
  // what is made for just this kind of thing comes before what takes it as well
  const place = (k: Kind) => k.suits.findIndex((s) => types.has(s as Thing['type']))
  const fitting = kinds.kinds.filter((k) => place(k) >= 0 && canTake(k, selected, viewer)).sort((a, b) => place(a) - place(b)).slice(0, 4)
  const only = selected.length === 1 && selected[0].type === 'face' ? selected[0] : null
  const flat = only && viewer.facing(only.part, only.index)
  const part = only && parts.find((p) => p.id === only.part)
  const item = 'px-3 py-0.5 text-left hover:bg-row'
  return (
    <div className="absolute z-10 flex flex-col border border-ink bg-card py-1 text-[13.5px]" style={{ left: Math.min(at.x + 14, viewer.size.width - 190), top: Math.min(at.y + 8, viewer.size.height - 235) }}>
      {flat && part?.role === 'printed' && onBed && (
        <button className={item} onClick={() => (done(), void layOn(part.id, only.index))}>
          Lay {part.name} on it
        </button>
      )}
      {!onBed && fitting.map((k) => (
        <button key={k.kind} className="px-3 py-0.5 text-left hover:bg-row" onClick={() => (done(), startDraft(k, null))}>
          {k.title} …
        </button>
      ))}
      {!onBed && (
        <button className={`${item} text-ink2`} onClick={() => (done(), useStore.setState({ palette: { after: null } }))}>
          more …
        </button>
      )}
      {flat && (
        <button className={`${item} border-t border-hair`} onClick={() => (done(), squareOn(viewer))}>
          Look square at it
        </button>
      )}
      {flat && part?.role === 'printed' && !onBed && (
        <button className={item} onClick={() => (done(), void layOn(part.id, only.index))}>
          Print {part.name} lying on it
        </button>
      )}
    </div>
  )
}
