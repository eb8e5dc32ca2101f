/** The sketch board: the stage turned square to a sketch's plane, with the sketch drawn over it. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { type BroughtOut, type Command, type FrameOut, Refusal, api } from '../api/client'
import type { SeenThing } from '../stage/blob'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import type { Hit, Viewer } from '../stage/viewer'
import type { Vector3 } from 'three'
import { BoardHead } from './BoardHead'
import { Curves, Points, hiddenHandles, lettersOf } from './Curves'
import { CLICKS, type Making, type Meant, ON_CURVES, type Spot, type Tool, commandFor, meantArc, meantLine } from './drawing'
import { type SketchCurve, type SketchDoc, BoardMap, type Vec2, between, middle, nearestOn, places, runsOf } from './geometry'
import { FreedomMeter } from './FreedomMeter'
import { Lens } from './Lens'
import { OpenMarks } from './OpenEnds'
import { Rubber } from './Rubber'
import { type Box, boxAbout } from './layout'
import { type Ahead, type Editing, Sizes, layoutSizes } from './Sizes'
import { Ties } from './Ties'
import { type Settings, TOOLS, ToolTray } from './ToolTray'
import { Grid, Origin, Typed, defaultFrame, onFrame } from './Sheet'
import { type SizeWay, sizeOf } from './sizing'
import { Work } from './Work'
import { wordsFor } from './words'

const SNAP_PX = 10
/** Places on curves catch the pointer a little later than points do. */
const LIE_PX = 7
const PANS: Record<string, [number, number]> = { ArrowLeft: [30, 0], ArrowRight: [-30, 0], ArrowUp: [0, 30], ArrowDown: [0, -30] }

/** Opposite corners of what parts cover on the board, and half as much again on all sides; nothing where there are none, or that is more than a hand's breadth. */
function aroundParts(places: Vec2[]): [Vec2, Vec2] | null {
  if (!places.length) return null
  const [low, high] = [Math.min, Math.max].map((of) => [0, 1].map((k) => of(...places.map((p) => p[k])))) as [Vec2, Vec2]
  const room = Math.max(high[0] - low[0], high[1] - low[1]) / 2
  return room > 30 ? null : [[low[0] - room, low[1] - room], [high[0] + room, high[1] + room]]
}

export function Board({ viewer, frameCount }: { viewer: Viewer; frameCount: number }) {
  const project = useStore((s) => s.project)!
  const step = useStore((s) => s.board)!
  const report = useStore((s) => s.report)
  const said = useStore((s) => s.said)
  const doc = project.document.recipe!.find((s) => s.id === step)
  const sketch = (doc?.fields as { sketch: SketchDoc } | undefined)?.sketch
  const out = report?.sketches[step]
  const failed = report?.steps.find((s) => s.id === step && (s.state === 'failed' || s.state === 'asks'))
  const plane = (doc?.fields as { plane?: { rule: string; plane?: string; part?: string; face?: SeenThing } })?.plane
  // where a face or a made plane lies is known only once the engine has been there
  const known = !!out || plane?.rule === 'base'
  const frame = out?.frame ?? defaultFrame(plane?.plane)
  // on an empty board there is nothing to move yet
  const [tool, setTool] = useState<Tool>(sketch?.curves.length ? 'move' : 'centre')
  const [chosen, setChosen] = useState<string[]>([])
  const [lit, setLit] = useState<string[]>([])
  const [spots, setSpots] = useState<Spot[]>([])
  const [pointer, setPointer] = useState<Spot | null>(null)
  /** Alt held: nothing is inferred. */
  const [loose, setLoose] = useState(false)
  const [settings, setSettings] = useState<Settings>({ sides: 6, construction: false, words: '', height: '10 mm', what: 'edge' })
  const set = (next: Partial<Settings>) => setSettings((was) => ({ ...was, ...next }))
  const [marks, setMarks] = useState(true)
  const [lens, setLens] = useState(false)
  /** What went with something that was taken away. */
  const [told, setTold] = useState('')
  /** A box being dragged, in places of the screen. */
  const [box, setBox] = useState<{ from: Vec2; to: Vec2 } | null>(null)
  /** What of the model is under the pointer while one brings in, and a curve that is aimed anew. */
  const [under, setUnder] = useState<Hit | null>(null)
  const [aiming, setAiming] = useState<string | null>(null)
  /** A size that was refused, to keep it as a reading. */
  const [refused, setRefused] = useState<{ kind: string; of: string[] } | null>(null)
  /** A length typed while a line is being drawn. */
  const [typed, setTyped] = useState<string | null>(null)
  const [dragged, setDragged] = useState<Record<string, Vec2> | null>(null)
  const [draggedRadii, setDraggedRadii] = useState<Record<string, number> | null>(null)
  const [editing, setEditing] = useState<Editing | null>(null)
  /** What is typed between asking for a size and its label: the label takes it over when it stands. */
  const ahead = useRef<Ahead | null>(null)
  const svg = useRef<SVGSVGElement>(null)
  const drag = useRef<{ id: string; busy: boolean; to: Vec2 | null; moved: boolean } | null>(null)
  const squared = useRef('')
  /** Counts the tools taken: what was begun with one does not go on with the next. */
  const taken = useRef(0)

  // what the engine solved counts as long as nothing was drawn since (a value may have changed after the drawing)
  const solvedNow = useStore((s) => s.reportFor === s.project?.version)
  const at = useMemo(() => (sketch ? places(sketch, solvedNow ? (out?.points as Record<string, Vec2>) : undefined, dragged) : {}), [sketch, out, solvedNow, dragged])
  const radius = useCallback(
    (id: string) => {
      const curve = sketch?.curves.find((c) => c.id === id)
      if (curve?.kind === 'arc') return between(at[curve.points[0]], at[curve.points[1]])
      return draggedRadii?.[id] ?? (solvedNow ? out?.radii[id] : undefined) ?? curve?.radius ?? 0
    },
    [draggedRadii, sketch, out, solvedNow, at],
  )

  /** All that is drawn; on an empty board the face that it lies on, what small parts are in sight and as much again around them, or a hand's breadth. */
  const extent = (): [Vec2, Vec2] => {
    const on: FrameOut = JSON.parse(frameKey)
    const all: Vec2[] = Object.values(at)
    for (const c of sketch?.curves ?? []) for (const run of runsOf(c, at, radius(c.id), lettersOf(c, out))) all.push(...run)
    if (!curves) {
      const faces = (plane?.part && viewer.header(plane.part)?.faces) || []
      const index = faces.findIndex((f) => f.name === plane?.face?.name)
      const face: Vector3[] = index < 0 ? [] : (viewer.pointsOf([{ type: 'face', part: plane!.part!, index }]) ?? [])
      const near = plane?.face?.seen ? onFrame(on, plane.face.seen.at) : [0, 0]
      if (face.length) all.push(...face.map((p) => onFrame(on, [p.x, p.y, p.z])))
      else all.push(...(aroundParts(viewer.corners().map((p) => onFrame(on, [p.x, p.y, p.z]))) ?? [[near[0] - 60, near[1] - 60], [near[0] + 60, near[1] + 60]]))
    }
    return [0, 1].map((end) => [0, 1].map((k) => Math[end ? 'max' : 'min'](...all.map((p) => p[k])))) as [Vec2, Vec2]
  }
  const showAll = () => viewer.eye.square(JSON.parse(frameKey), ...extent(), curves ? 2 : 40)
  // turn square when the board opens or its plane is known, and again when something was drawn out of sight
  const frameKey = JSON.stringify(frame)
  const curves = sketch?.curves.length ?? 0
  useEffect(() => {
    if (!known) return
    const key = `${step} ${frameKey}`
    const [low, high] = extent()
    if (squared.current === key && viewer.eye.boardHolds(JSON.parse(frameKey), low, high)) return
    // a small outline that is opened fills the board; one that is begun leaves room around it, as much as was in sight
    viewer.eye.square(JSON.parse(frameKey), low, high, curves > 1 && squared.current !== key ? 8 : Math.min(40, viewer.eye.span * 0.6))
    squared.current = key
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [step, frameKey, known, viewer, curves])
  useEffect(() => () => viewer.eye.release(), [viewer])

  const map = useMemo(() => {
    void frameCount
    return new BoardMap(viewer, frame)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [viewer, frameKey, frameCount])

  /** Where the pointer is on the board, in pixels. */
  const here = useCallback((e: { clientX: number; clientY: number }): Vec2 => {
    const frame = svg.current!.getBoundingClientRect()
    return [e.clientX - frame.left, e.clientY - frame.top]
  }, [])
  /** The place on a curve that is near enough to be meant: its middle, or any. */
  const onCurve = useCallback(
    (p: Vec2): Spot | null => {
      const near = LIE_PX / map.scale
      let best: Spot | null = null
      for (const c of sketch?.curves ?? []) {
        if (c.kind === 'text') continue
        const [run] = runsOf(c, at, radius(c.id))
        const place = nearestOn(run, p)
        if (between(place, p) > near || (best && between(place, p) > between(best.at, p))) continue
        const half = c.kind === 'line' ? middle(run[0], run[1]) : null
        best = half && between(half, p) < 1.4 * near ? { at: half, on: null, lies: 'midpoint', curve: c.id } : { at: place, on: null, lies: 'point_on', curve: c.id }
      }
      return best
    },
    [sketch, at, radius, map],
  )
  const snap = useCallback(
    (e: { clientX: number; clientY: number }): Spot => {
      const [x, y] = here(e)
      const hidden = sketch ? hiddenHandles(sketch, (id) => chosen.includes(id)) : new Set()
      for (const [id, p] of Object.entries(at)) {
        if (hidden.has(id)) continue
        const [px, py] = map.screen(p)
        if (Math.hypot(px - x, py - y) < (lens ? SNAP_PX / 3 : SNAP_PX)) return { at: p, on: id }
      }
      const [u, v] = map.sketch(x, y)
      const lying = loose ? null : onCurve([u, v])
      if (lying) return lying
      const grid = map.scale > 8 ? 0.5 : map.scale > 2.5 ? 1 : 5
      return { at: [Math.round(u / grid) * grid, Math.round(v / grid) * grid], on: null }
    },
    [at, map, onCurve, here, loose, lens, sketch, chosen],
  )

  const choose = (id: string, more: boolean) => {
    setChosen((was) => (more ? (was.includes(id) ? was.filter((c) => c !== id) : [...was, id]) : [id]))
    svg.current?.focus()
  }
  const take = useCallback(
    (ids: string[]) => {
      setChosen([])
      void send({ do: 'RemoveFromSketch', step, ids }, { step: 'board' }).then((next) => setTold(next?.sentence.includes('hung on it') ? next.sentence.replace(/ in step .*$/, '') : ''))
    },
    [step],
  )
  const size = useCallback(
    async (how: SizeWay = 'drive') => {
      const command = sizeOf(chosen, sketch!, how)
      if (!command) {
        useStore.setState({ said: { text: 'Select a line, a circle, two points, two lines, or a point and a line, to give a size.', step: 'board' } })
        return
      }
      const there = how === 'drive' && sketch!.dimensions.find((d) => d.kind === command.kind && !d.follows && [...d.of].sort().join() === [...command.of].sort().join())
      if (there) return setEditing({ id: there.id, typed: '' })
      // whoever goes on typing means the new size, whose label is not there yet
      const mine: Ahead | null = how === 'read' ? null : { id: null, typed: '', taken: false }
      ahead.current = mine
      const next = await send({ do: 'SizeSketch', step, ...command, reading: how === 'read' }, { step: 'board' })
      setRefused(next || how === 'read' ? null : command)
      const made = next?.created.find((c) => c.startsWith('d'))
      if (!mine || ahead.current !== mine) return
      if (!made) ahead.current = null
      else {
        mine.id = made
        setEditing({ id: made, typed: '' })
      }
    },
    [chosen, sketch, step],
  )
  const keepReading = async () => {
    if (refused && (await send({ do: 'SizeSketch', step, ...refused, reading: true }, { step: 'board' }))) setRefused(null)
  }

  const takeTool = (next: Tool) => {
    taken.current++
    setTool(next)
    setSpots([])
    setTyped(null)
    setUnder(null)
    useStore.setState({ hover: null })
    if (next !== 'bring') setAiming(null)
    if (next === 'text') return
    svg.current?.focus()
  }
  /** What a line or an arc over these places is meant to be. */
  const meaning = useCallback(
    (all: Spot[]): Meant | null => {
      if (!sketch) return null
      if (tool === 'line' && all.length === 2) return meantLine(sketch, at, all[0], all[1], loose)
      if (tool !== 'arc' || all.length < 3) return null
      const arc = meantArc(sketch, at, all[0], all[1], all[2], loose)
      return { at: arc.through, tie: arc.to ? 'tangent' : '', to: arc.to }
    },
    [sketch, at, tool, loose],
  )
  const meant = useMemo(() => (pointer && spots.length ? meaning([...spots, pointer]) : null), [meaning, spots, pointer])

  const making = (more: Partial<Making> = {}): Making => ({ ...settings, ...more })
  const finish = async (all: Spot[], more: Partial<Making> = {}) => {
    const line = tool === 'line'
    const mine = taken.current
    const now = meaning(all)
    const command = commandFor(tool, step, all, making({ meant: line ? (now ?? undefined) : undefined, tangent: tool === 'arc' ? (now?.to ?? '') : '', ...more }))
    setSpots([])
    setTyped(null)
    // at once, so that the next tool can be taken before this is kept
    if (!line) setTool('move')
    const next = await send(command, { step: 'board' })
    if (!line || taken.current !== mine) return
    // a line goes on from its end, unless it closed on what was drawn; the origin and help lines close nothing
    const drawn = next?.document.recipe!.find((s) => s.id === step)?.fields as { sketch: SketchDoc } | undefined
    const made = drawn?.sketch.curves.find((c) => c.kind === 'line' && next!.created.includes(c.id))
    const end = made?.points[1]
    const there = end === 'origin' ? { id: end, x: 0, y: 0 } : drawn?.sketch.points.find((p) => p.id === end)
    if (there && !drawn!.sketch.curves.some((c) => c.id !== made!.id && !c.construction && c.points.includes(there.id))) setSpots([{ at: [there.x, there.y], on: there.id }])
  }
  /** Draws by places that were written; only what is exactly level or upright is meant so. */
  const make = (all: Spot[]) => {
    const [a, b] = all
    const tie = tool !== 'line' ? '' : a.at[1] === b.at[1] ? 'horizontal' : a.at[0] === b.at[0] ? 'vertical' : ''
    return send(commandFor(tool, step, all, making({ meant: { at: b?.at ?? [0, 0], tie, to: '' } })), { step: 'places' })
  }
  /** A click on the board with a tool that draws. */
  const clicked = (spot: Spot) => {
    const all = [...spots, spot]
    if (tool === 'spline') {
      const [first, last] = [spots[0], spots[spots.length - 1]]
      if (spots.length > 2 && between(first.at, spot.at) < SNAP_PX / map.scale) void finish(spots, { closed: true })
      else if (last && between(last.at, spot.at) < 1e-9) endSpline()
      else setSpots(all)
    } else if (tool === 'text' && !settings.words.trim()) useStore.setState({ said: { text: 'Write the words in the tray first, then click where they begin.', step: 'board' } })
    else if (all.length < CLICKS[tool].length) setSpots(all)
    else void finish(all)
  }
  const endSpline = () => spots.length > 1 && void finish(spots)

  // what comes from parts has moved since the sketch was last drawn on: that is written down, so that drawing goes on from there
  const brought = useMemo(() => new Set(sketch?.curves.filter((c) => c.brought).flatMap((c) => [c.id, ...c.points]) ?? []), [sketch])
  const rested = useRef(-1)
  useEffect(() => {
    if (!solvedNow || !out || !sketch || rested.current === project.version) return
    const moved = sketch.points.some((p) => brought.has(p.id) && out.points[p.id] && between([p.x, p.y], out.points[p.id] as Vec2) > 1e-6)
    if (!moved) return
    rested.current = project.version
    void send({ do: 'RestSketch', step, points: out.points, radii: out.radii }, { step: 'board' })
  }, [solvedNow, out, sketch, brought, project.version, step])

  /** The thing of the model under the pointer that can be brought in. */
  const modelAt = (e: { clientX: number; clientY: number }): Hit | null => {
    const hit = viewer.hitAt(...here(e), true)
    return hit && 'part' in hit.thing ? hit : null
  }
  const bring = async (hit: Hit | null) => {
    if (hit?.thing.type !== 'face' && hit?.thing.type !== 'edge') return
    const { type, part, index } = hit.thing
    const header = viewer.header(part)
    const found = (type === 'face' ? header?.faces : header?.edges)?.[index]
    if (!found) return
    const pick = { part, kind: type, thing: { name: found.name, seen: found.seen } } as const
    try {
      const things: BroughtOut[] = await api.look(project.id, { step, pick, what: settings.what })
      const command: Command = aiming ? { do: 'AimSource', step, curve: aiming, thing: things[0] } : { do: 'BringIn', step, things }
      if ((await send(command, { step: 'board' })) && aiming) takeTool('move')
    } catch (error) {
      useStore.setState({ said: { text: error instanceof Refusal ? error.message : 'It could not be brought in.', step: 'board' } })
    }
  }
  const chooseWithin = (from: Vec2, to: Vec2, touched: boolean, more: boolean) => {
    const [low, high] = [[Math.min(from[0], to[0]), Math.min(from[1], to[1])], [Math.max(from[0], to[0]), Math.max(from[1], to[1])]]
    const inside = (p: Vec2) => {
      const [x, y] = map.screen(p)
      return x >= low[0] && x <= high[0] && y >= low[1] && y <= high[1]
    }
    const test = (c: SketchCurve) => {
      const all = runsOf(c, at, radius(c.id), lettersOf(c, out)).flatMap((run) => (c.kind === 'line' ? Array.from({ length: 33 }, (_, k) => [0, 1].map((i) => run[0][i] + (run[1][i] - run[0][i]) * (k / 32)) as Vec2) : run))
      return touched ? all.some(inside) : all.every(inside)
    }
    const curves = sketch!.curves.filter(test).map((c) => c.id)
    const found = curves.length ? curves : sketch!.points.filter((p) => inside(at[p.id])).map((p) => p.id)
    setChosen((was) => (more ? [...new Set([...was, ...found])] : found))
  }

  // what is gone (undone, or taken away elsewhere) is selected no more, nor when another comes in its place
  const there = sketch ? [...sketch.curves, ...sketch.points].map((c) => c.id).join() : ''
  useEffect(() => {
    const ids = new Set([...there.split(','), 'origin'])
    setChosen((was) => (was.every((id) => ids.has(id)) ? was : was.filter((id) => ids.has(id))))
  }, [there])

  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const target = e.target as HTMLInputElement
      // a box that was ticked keeps the keyboard, and wants Space alone
      const field = /^(INPUT|TEXTAREA)$/.test(target.tagName) && (target.type !== 'checkbox' || e.key === ' ')
      // from the figures of a tool back to its keys
      if (field && e.key === 'Escape' && target.closest('[role=toolbar]')) svg.current?.focus()
      if (field || e.ctrlKey || e.metaKey) return
      const typing = ahead.current
      if (typing && (e.key.length === 1 || ['Enter', 'Escape', 'Backspace'].includes(e.key))) {
        if (e.key === 'Escape') {
          ahead.current = null
          setEditing(null)
        } else if (e.key === 'Enter') typing.taken = true
        else typing.typed = e.key === 'Backspace' ? typing.typed.slice(0, -1) : typing.typed + e.key
      } else if (e.key === 'Alt') setLoose(true)
      else if (tool === 'line' && spots.length === 1 && /^[0-9.]$/.test(e.key)) setTyped(e.key)
      else if (e.key === 'Backspace' && spots.length) setSpots(spots.slice(0, -1))
      else if (e.key === 'm') setLens((was) => !was)
      else if ('.,'.includes(e.key) || (e.key === ' ' && (e.target as HTMLElement).tagName !== 'BUTTON')) {
        // from thing to thing: the last one selected gives way to the next, or with Space stays selected too
        const things = [...(sketch?.curves ?? []).map((c) => c.id), ...(sketch?.points ?? []).map((p) => p.id), 'origin']
        const k = things.indexOf(chosen[chosen.length - 1]) + (e.key === ',' ? -1 : 1)
        const next = things[(k + things.length) % things.length]
        setChosen([...(e.key === ' ' ? chosen : chosen.slice(0, -1)), next])
        svg.current?.focus()
      }
      else if (TOOLS.some((g) => g.key === e.key)) {
        // the same key again takes the next way of it
        const { ways } = TOOLS.find((g) => g.key === e.key)!
        const k = ways.findIndex(([t]) => t === tool)
        takeTool(ways[(k + 1) % ways.length][0])
      }
      else if (e.key === 'c') {
        const curves = chosen.filter((c) => sketch?.curves.some((k) => k.id === c))
        const on = curves.some((c) => !sketch!.curves.find((k) => k.id === c)!.construction)
        if (curves.length) void send({ do: 'ConstructSketch', step, ids: curves, on }, { step: 'board' })
        else set({ construction: !settings.construction })
      } else if (e.key === 'Delete' && chosen.length) take(chosen)
      else if (e.key === 'd' && chosen.length) void size()
      else if (e.key === 'f') showAll()
      else if (PANS[e.key]) viewer.eye.pan(...PANS[e.key])
      else if (e.key === '+') viewer.eye.zoom(0.85)
      else if (e.key === '-') viewer.eye.zoom(1 / 0.85)
      else if (e.key === 'Escape') {
        if (spots.length) setSpots([])
        else if (tool !== 'move') takeTool('move')
        else if (chosen.length) setChosen([])
        // leaving is one more key, so that nobody leaves by dropping things
        else document.querySelector<HTMLElement>('[data-leave-board]')?.focus()
      } else return
      e.preventDefault()
    }
    const lifted = (e: KeyboardEvent) => e.key === 'Alt' && setLoose(false)
    const pointed = () => {
      ahead.current = null
    }
    window.addEventListener('pointerdown', pointed)
    window.addEventListener('keydown', pressed)
    window.addEventListener('keyup', lifted)
    return () => {
      window.removeEventListener('pointerdown', pointed)
      window.removeEventListener('keydown', pressed)
      window.removeEventListener('keyup', lifted)
    }
  })

  if (!sketch || !doc) return null

  const dragTo = async (to: Vec2) => {
    const mine = drag.current!
    mine.to = to
    if (mine.busy) return
    mine.busy = true
    while (mine.to) {
      const next: Vec2 = mine.to
      mine.to = null
      const moved = await api.drag(project.id, step, mine.id, next).catch(() => null)
      if (moved && drag.current === mine) {
        setDragged(moved.points as Record<string, Vec2>)
        setDraggedRadii(moved.radii)
      }
    }
    mine.busy = false
  }

  const nearest = (id: string, e: { clientX: number; clientY: number }) => {
    const p = map.sketch(...here(e))
    const away = (c: SketchCurve) => Math.min(...runsOf(c, at, radius(c.id), lettersOf(c, out)).map((run) => between(nearestOn(run, p), p))) * map.scale
    // of those that lie over each other the one that was pressed
    const far = sketch.curves.filter((c) => c.kind !== 'text' || c.id === id).map((c) => ({ id: c.id, far: away(c) - (c.id === id ? 1 : 0) }))
    return far.sort((a, b) => a.far - b.far)[0].id
  }
  const grip = (id: string) => ({
    onPointerDown: (e: React.PointerEvent) => {
      if (tool !== 'move' || e.button !== 0) return
      e.stopPropagation()
      e.currentTarget.setPointerCapture(e.pointerId)
      drag.current = { id, busy: false, to: null, moved: false }
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (drag.current?.id !== id) return
      drag.current.moved = true
      void dragTo(map.sketch(...here(e)))
    },
    onPointerUp: async (e: React.PointerEvent) => {
      const mine = drag.current
      if (mine?.id !== id) return
      e.stopPropagation()
      drag.current = null
      if (!mine.moved) return choose(id, e.shiftKey)
      await send({ do: 'DragSketch', step, id, to: map.sketch(...here(e)) }, { step: 'board' })
      setDragged(null)
      setDraggedRadii(null)
    },
  })

  const words = wordsFor(sketch, out)
  // what a refusal or a failure speaks of, and what ties and sizes of it tie and measure
  const spoken = said?.step === 'board' ? (said.things ?? []) : (failed?.things ?? [])
  const meantBy = new Set([...spoken, ...[...sketch.constraints, ...sketch.dimensions].filter((k) => spoken.includes(k.id)).flatMap((k) => k.of)])
  const on = (id: string) => chosen.includes(id) || lit.includes(id) || meantBy.has(id)
  const busy = (id: string) => chosen.includes(id) || drag.current?.id === id
  const working = tool in ON_CURVES
  // labels leave the origin free, which is clicked too, and do not hide behind the tray and the meter
  const labels: Box[] = [boxAbout(map.screen([0, 0]), 9), [16, 60, 228, 220], [viewer.size.width - 248, 60, viewer.size.width, 220]]
  const sizes = layoutSizes(sketch, at, radius, map, viewer.size.width, labels)
  const { width, height } = viewer.size
  const square = known && map.square
  const message = said?.step === 'board' ? said.text : failed?.message
  return (
    <div data-home="[data-board]" className="contents select-none">
      {square && (
      <>
      <svg
        ref={svg}
        width={width}
        height={height}
        tabIndex={0}
        aria-label="sketch board"
        className={`absolute inset-0 outline-none ${tool === 'move' ? '' : 'cursor-crosshair'}`}
        data-board={step}
        onPointerMove={(e) => {
          // any other button than the first moves the sheet under the pen
          if (e.buttons & ~1) viewer.eye.pan(e.movementX, e.movementY)
          else if (box) setBox({ ...box, to: here(e) })
          else if (tool === 'bring') {
            const hit = modelAt(e)
            setUnder(hit)
            useStore.setState({ hover: hit?.thing ?? null })
          }
          else setPointer(tool === 'move' || working ? null : snap(e))
        }}
        onContextMenu={(e) => e.preventDefault()}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return
          if (tool === 'spline' && spots.length) endSpline()
          // from the board into the figures of the tool, or to what can be done with what is selected
          else document.querySelector<HTMLElement>(tool === 'move' && chosen.length ? '[data-verbs] button' : '[data-first-figure]')?.focus()
          e.preventDefault()
        }}
        onPointerDown={(e) => {
          setTold('')
          if (e.button !== 0) e.currentTarget.setPointerCapture(e.pointerId)
          else if (tool === 'bring') void bring(modelAt(e))
          else if (tool === 'move') {
            e.currentTarget.setPointerCapture(e.pointerId)
            setBox({ from: here(e), to: here(e) })
          } else if (!working) clicked(snap(e))
        }}
        onPointerUp={(e) => {
          if (!box) return
          setBox(null)
          if (between(box.from, box.to) > 4) chooseWithin(box.from, box.to, e.altKey, e.shiftKey)
          else if (!e.shiftKey) setChosen([])
        }}
        onWheel={(e) => {
          viewer.eye.zoom(Math.exp(Math.max(-0.5, Math.min(0.5, e.deltaY * 0.0014))), ...here(e))
        }}
      >
        <Grid map={map} width={width} height={height} />
        {out?.regions.map((r) => (
          <path
            key={r.name}
            d={r.loops.map((l) => `M${l.map((p) => map.screen(p as Vec2).join(' ')).join('L')}Z`).join('')}
            fill="var(--accent)"
            fillOpacity={r.depth % 2 ? 0 : 0.09}
            fillRule="evenodd"
          />
        ))}
        <g id="board-things">
          <Curves {...{ tool, sketch, out, at, radius, map, on, choose, grip, nearest }} work={(id, e) => void send({ do: ON_CURVES[tool]!, step, id, near: map.sketch(...here(e)) }, { step: 'board' })} />
          <Origin map={map} chosen={chosen.includes('origin')} choose={tool === 'move' ? (more) => choose('origin', more) : null} />
          <OpenMarks out={solvedNow ? out : undefined} map={map} />
          <Points {...{ tool, sketch, out, at, radius, map, on, busy, grip }} />
        </g>
        {tool !== 'move' && !working && tool !== 'bring' && pointer && <Rubber {...{ tool, spots, pointer, meant, map }} sides={settings.sides} />}
        {box && between(box.from, box.to) > 4 && (
          <path d={`M${box.from.join(' ')}H${box.to[0]}V${box.to[1]}H${box.from[0]}Z`} fill="var(--accent)" fillOpacity="0.08" stroke="var(--accent)" strokeDasharray="5 3" pointerEvents="none" />
        )}
        {lens && <Lens board={svg.current} />}
      </svg>
      {typed !== null && spots.length === 1 && pointer && (
        <Typed
          text={typed}
          at={map.screen(meant?.at ?? pointer.at)}
          leave={() => (setTyped(null), svg.current?.focus())}
          take={(length, degrees) => {
            const start = spots[0].at
            const end = meant?.at ?? pointer.at
            if (!Number.isFinite(degrees)) return void finish([spots[0], { at: end, on: null }], { length })
            // the way that was written is drawn, and not tied: its length is what stays
            const [far, way] = [Math.max(between(start, end), 1), (degrees * Math.PI) / 180]
            void finish([spots[0], { at: [start[0] + far * Math.cos(way), start[1] + far * Math.sin(way)], on: null }], { length, meant: undefined })
          }}
        />
      )}
      <Ties quiet={tool !== 'move'} show={marks ? null : [...chosen, ...lit, ...meantBy]} taken={labels} words={words} sketch={sketch} at={at} radius={radius} map={map} chosen={chosen} choose={choose} light={setLit} take={take} />
      {/* labels let through what is meant for the board below them: a curve that is under way, and the first click of one on a point */}
      <div
        className={spots.length ? 'pointer-events-none contents' : 'contents'}
        onClickCapture={(e) => {
          if (CLICKS[tool].length === 0 || editing) return
          const spot = snap(e)
          if (!spot.on) return
          e.stopPropagation()
          clicked(spot)
        }}
      >
      <Sizes shown={sizes} wide={width} step={step} figures={out?.sizes ?? {}} words={words} editing={editing} ahead={ahead} edit={setEditing} take={take} />
      </div>
      </>
      )}
      {told && tool === 'move' && (
        <p role="status" className="pointer-events-none absolute bottom-10 left-1/2 z-[12] -translate-x-1/2 border border-ink bg-card px-3 py-1">
          {told}
        </p>
      )}
      {tool === 'bring' && (
        <p className="pointer-events-none absolute bottom-10 left-1/2 z-10 -translate-x-1/2 border border-ink bg-card px-3 py-1">
          {aiming ? 'aim it at ' : ''}
          {under ? under.label : 'point at an edge or a face of a part'}
        </p>
      )}
      <BoardHead {...{ step, doc, sketch, known, marks, setMarks, lens, setLens, showAll }} out={solvedNow ? out : undefined} focus={() => svg.current?.focus()} />
      <div className="pointer-events-none absolute top-[60px] bottom-4 left-4 z-[12] flex w-[212px] flex-col gap-2 *:pointer-events-auto">
        <ToolTray {...{ tool, step, settings, set, at, make }} setTool={takeTool} drawn={() => (setTool('move'), svg.current?.focus())} />
        {chosen.length > 0 && (
          <Work
            {...{ chosen, sketch, out, step, size, take }}
            sources={((doc.fields as { sources?: { id: string }[] }).sources ?? []).map((s) => s.id)}
            aim={(curve) => (setAiming(curve), setChosen([]), setTool('bring'))}
          />
        )}
      </div>
      <FreedomMeter sketch={sketch} out={out} words={words} light={setLit} />
      {message && (
        <div role="alert" className="absolute right-4 bottom-10 z-[12] max-w-80 border border-wrong bg-card px-3 py-2">
          <p className="text-wrong">{message}</p>
          <div className="mt-1 flex gap-2">
            <button className="plain" onClick={() => (useStore.setState({ said: null }), setRefused(null))}>
              understood
            </button>
            {refused && said?.step === 'board' && (
              <button className="plain" onClick={() => void keepReading()}>
                keep it as a reading
              </button>
            )}
          </div>
        </div>
      )}
    </div>
  )
}
