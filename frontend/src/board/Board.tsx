/** The sketch board: the stage turned square to a sketch's plane, with the sketch drawn over it. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { type FrameOut, api } from '../api/client'
import type { SeenThing } from '../state/picks'
import { closeBoard, send, useStore } from '../state/store'
import type { Viewer } from '../stage/viewer'
import { CLICKS, type Meant, type Spot, type Tool, alongArc, commandFor, meantArc, meantLine } from './drawing'
import { type SketchDoc, BoardMap, type Vec2, between, places } from './geometry'
import { FreedomMeter } from './FreedomMeter'
import { Rubber } from './Rubber'
import { Sizes } from './Sizes'
import { Ties } from './Ties'
import { ToolTray } from './ToolTray'

const SNAP_PX = 10
const PANS: Record<string, [number, number]> = { ArrowLeft: [30, 0], ArrowRight: [-30, 0], ArrowUp: [0, 30], ArrowDown: [0, -30] }

export function Board({ viewer, frameCount }: { viewer: Viewer; frameCount: number }) {
  const project = useStore((s) => s.project)!
  const step = useStore((s) => s.board)!
  const report = useStore((s) => s.report)
  const said = useStore((s) => s.said)
  const doc = project.document.recipe!.find((s) => s.id === step)
  const sketch = (doc?.fields as { sketch: SketchDoc } | undefined)?.sketch
  const out = report?.sketches[step]
  const failed = report?.steps.find((s) => s.id === step && (s.state === 'failed' || s.state === 'asks'))
  const plane = (doc?.fields as { plane?: { rule: string; plane?: string; face?: SeenThing } })?.plane
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
  const [sides, setSides] = useState(6)
  const [construction, setConstruction] = useState(false)
  /** A length typed while a line is being drawn. */
  const [marks, setMarks] = useState(true)
  const [typed, setTyped] = useState<string | null>(null)
  const [dragged, setDragged] = useState<Record<string, Vec2> | null>(null)
  const [draggedRadii, setDraggedRadii] = useState<Record<string, number> | null>(null)
  const [editing, setEditing] = useState<string | null>(null)
  const svg = useRef<SVGSVGElement>(null)
  const drag = useRef<{ id: string; busy: boolean; to: Vec2 | null; moved: boolean } | null>(null)
  const squared = useRef('')

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

  // turn square when the board opens or its plane is known, and again when something was drawn out of sight
  const frameKey = JSON.stringify(frame)
  const curves = sketch?.curves.length ?? 0
  useEffect(() => {
    if (!known) return
    const key = `${step} ${frameKey}`
    // an empty board shows a hand's breadth, round the face that it lies on
    const near = plane?.face?.seen ? onFrame(JSON.parse(frameKey), plane.face.seen.at) : [0, 0]
    const around = curves ? [] : [-60, 60]
    const xs = [...around.map((a) => near[0] + a), ...Object.values(at).map((p) => p[0])]
    const ys = [...around.map((a) => near[1] + a), ...Object.values(at).map((p) => p[1])]
    for (const c of sketch?.curves ?? []) {
      if (c.kind !== 'circle') continue
      const [x, y] = at[c.points[0]]
      xs.push(x - radius(c.id), x + radius(c.id))
      ys.push(y - radius(c.id), y + radius(c.id))
    }
    const low: Vec2 = [Math.min(...xs), Math.min(...ys)]
    const high: Vec2 = [Math.max(...xs), Math.max(...ys)]
    if (squared.current === key && viewer.boardHolds(JSON.parse(frameKey), low, high)) return
    squared.current = key
    viewer.square(JSON.parse(frameKey), low, high)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [step, frameKey, known, viewer, curves])
  useEffect(() => () => viewer.release(), [viewer])

  const map = useMemo(() => {
    void frameCount
    return new BoardMap(viewer, frame)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [viewer, frameKey, frameCount])

  const snap = useCallback(
    (e: { clientX: number; clientY: number }): { at: Vec2; on: string | null } => {
      const box = svg.current!.getBoundingClientRect()
      const [x, y] = [e.clientX - box.left, e.clientY - box.top]
      for (const [id, p] of Object.entries(at)) {
        const [px, py] = map.screen(p)
        if (Math.hypot(px - x, py - y) < SNAP_PX) return { at: p, on: id }
      }
      const grid = map.scale > 8 ? 0.5 : map.scale > 2.5 ? 1 : 5
      const [u, v] = map.sketch(x, y)
      return { at: [Math.round(u / grid) * grid, Math.round(v / grid) * grid], on: null }
    },
    [at, map],
  )

  const choose = (id: string, more: boolean) => {
    setChosen((was) => (more ? (was.includes(id) ? was.filter((c) => c !== id) : [...was, id]) : [id]))
    svg.current?.focus()
  }
  const take = useCallback(
    (ids: string[]) => {
      setChosen([])
      void send({ do: 'RemoveFromSketch', step, ids }, { step: 'board' })
    },
    [step],
  )
  const size = useCallback(async () => {
    const kinds = chosen.map((c) => sketch!.curves.find((k) => k.id === c)?.kind ?? 'point')
    const command =
      kinds.length === 1 && kinds[0] === 'line' ? { kind: 'length', of: chosen }
      : kinds.length === 1 && kinds[0] !== 'point' ? { kind: kinds[0] === 'circle' ? 'diameter' : 'radius', of: chosen }
      : kinds.length === 2 && kinds.every((k) => k === 'line') ? { kind: 'angle', of: chosen }
      : kinds.length === 2 && kinds.includes('line') ? { kind: 'distance', of: [...chosen].sort((a) => (sketch!.curves.some((k) => k.id === a) ? 1 : -1)) }
      : kinds.length === 2 && kinds.every((k) => k === 'point') ? { kind: 'distance', of: chosen }
      : null
    if (!command) {
      useStore.setState({ said: { text: 'Select a line, a circle, two points, two lines, or a point and a line, to give a size.', step: 'board' } })
      return
    }
    const next = await send({ do: 'SizeSketch', step, ...command }, { step: 'board' })
    const made = next?.created.find((c) => c.startsWith('d'))
    if (made) setEditing(made)
  }, [chosen, sketch, step])

  const takeTool = (next: Tool) => {
    setTool(next)
    setSpots([])
    setTyped(null)
  }
  /** What a line or an arc over these places is meant to be. */
  const meaning = useCallback(
    (all: Spot[]): Meant | null => {
      if (!sketch) return null
      if (tool === 'line' && all.length === 2) return meantLine(sketch, at, all[0], all[1], loose)
      if (tool !== 'arc' || all.length < 3) return null
      const arc = meantArc(sketch, at, all[0], all[1], all[2], loose)
      return { at: arc.through, tie: '', to: arc.to, says: arc.to ? 'touching' : '' }
    },
    [sketch, at, tool, loose],
  )
  const meant = useMemo(() => (pointer && spots.length ? meaning([...spots, pointer]) : null), [meaning, spots, pointer])

  const finish = async (all: Spot[], length = '') => {
    const line = tool === 'line'
    const now = meaning(all)
    const command = commandFor(tool, step, all, { meant: line ? (now ?? undefined) : undefined, length, tangent: tool === 'arc' ? (now?.to ?? '') : '', sides, construction })
    setSpots([])
    setTyped(null)
    // at once, so that the next tool can be taken before this is kept
    if (!line) setTool('move')
    const next = await send(command, { step: 'board' })
    if (!line) return
    // a line goes on from its end, unless it closed on a point that was there
    const drawn = next?.document.recipe!.find((s) => s.id === step)?.fields as { sketch: SketchDoc } | undefined
    const made = drawn?.sketch.curves.find((c) => c.kind === 'line' && next!.created.includes(c.id))
    const end = made?.points[1]
    const there = drawn?.sketch.points.find((p) => p.id === end)
    if (there && !all[1].on) setSpots([{ at: [there.x, there.y], on: there.id }])
  }
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      if (/^(INPUT|TEXTAREA)$/.test((e.target as HTMLElement).tagName) || e.ctrlKey || e.metaKey) return
      if (e.key === 'Alt') setLoose(true)
      else if (tool === 'line' && spots.length === 1 && /^[0-9.]$/.test(e.key)) setTyped(e.key)
      else if (e.key === 'l') takeTool('line')
      else if (e.key === 'a') takeTool('arc')
      else if (e.key === 't') takeTool('trim')
      else if (e.key === 'c') {
        const curves = chosen.filter((c) => sketch?.curves.some((k) => k.id === c))
        const on = curves.some((c) => !sketch!.curves.find((k) => k.id === c)!.construction)
        if (curves.length) void send({ do: 'ConstructSketch', step, ids: curves, on }, { step: 'board' })
        else setConstruction((was) => !was)
      } else if (e.key === 'Delete' && chosen.length) take(chosen)
      else if (e.key === 'd' && chosen.length) void size()
      else if (e.key === 'r') takeTool('centre')
      else if (e.key === 'o') takeTool('circle')
      else if (PANS[e.key]) viewer.pan(...PANS[e.key])
      else if (e.key === '+') viewer.zoom(0.85)
      else if (e.key === '-') viewer.zoom(1 / 0.85)
      else if (e.key === 'Escape') {
        if (spots.length) setSpots([])
        else if (tool !== 'move') setTool('move')
        else if (chosen.length) setChosen([])
        else closeBoard()
      } else return
      e.preventDefault()
    }
    const lifted = (e: KeyboardEvent) => e.key === 'Alt' && setLoose(false)
    window.addEventListener('keydown', pressed)
    window.addEventListener('keyup', lifted)
    return () => {
      window.removeEventListener('keydown', pressed)
      window.removeEventListener('keyup', lifted)
    }
  }, [chosen, spots, tool, size, take, viewer, sketch, step])

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

  const grip = (id: string) => ({
    onPointerDown: (e: React.PointerEvent) => {
      if (tool !== 'move' || e.button !== 0) return
      e.stopPropagation()
      e.currentTarget.setPointerCapture(e.pointerId)
      drag.current = { id, busy: false, to: null, moved: false }
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (drag.current?.id !== id) return
      const box = svg.current!.getBoundingClientRect()
      drag.current.moved = true
      void dragTo(map.sketch(e.clientX - box.left, e.clientY - box.top))
    },
    onPointerUp: async (e: React.PointerEvent) => {
      const mine = drag.current
      if (mine?.id !== id) return
      e.stopPropagation()
      drag.current = null
      if (!mine.moved) return choose(id, e.shiftKey)
      const box = svg.current!.getBoundingClientRect()
      await send({ do: 'DragSketch', step, id, to: map.sketch(e.clientX - box.left, e.clientY - box.top) }, { step: 'board' })
      setDragged(null)
      setDraggedRadii(null)
    },
  })

  const free = new Set(out?.free ?? [])
  const isFree = (points: string[]) => points.some((p) => free.has(p))
  const line = (a: Vec2, b: Vec2) => {
    const [p, q] = [map.screen(a), map.screen(b)]
    return `M${p[0]} ${p[1]}L${q[0]} ${q[1]}`
  }
  const { width, height } = viewer.size
  const square = known && map.square
  const message = said?.step === 'board' ? said.text : failed?.message
  return (
    <>
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
          if (e.buttons & ~1) viewer.pan(e.movementX, e.movementY)
          else setPointer(tool === 'move' ? null : snap(e))
        }}
        onContextMenu={(e) => e.preventDefault()}
        onPointerDown={(e) => {
          if (e.button !== 0) e.currentTarget.setPointerCapture(e.pointerId)
          else if (tool !== 'move') {
            if (tool === 'trim') return
            const all = [...spots, snap(e)]
            if (all.length < CLICKS[tool]) setSpots(all)
            else void finish(all)
          } else setChosen([])
        }}
        onWheel={(e) => {
          const box = svg.current!.getBoundingClientRect()
          viewer.zoom(Math.exp(Math.max(-0.5, Math.min(0.5, e.deltaY * 0.0014))), e.clientX - box.left, e.clientY - box.top)
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
        {sketch.curves.map((c) => {
          const moves = isFree(c.points) || free.has(c.id)
          const on = chosen.includes(c.id) || lit.includes(c.id)
          const d = c.kind === 'line' ? line(at[c.points[0]], at[c.points[1]]) : c.kind === 'arc' ? `M${alongArc(at[c.points[0]], at[c.points[1]], at[c.points[2]]).map((p) => map.screen(p).join(' ')).join('L')}` : ''
          const [cx, cy] = map.screen(at[c.points[0]])
          const shape = (extra: React.SVGProps<SVGPathElement & SVGCircleElement>) =>
            c.kind !== 'circle' ? <path d={d} fill="none" {...extra} /> : <circle cx={cx} cy={cy} r={Math.max(0, radius(c.id) * map.scale)} fill="none" {...extra} />
          return (
            <g key={c.id} data-curve={c.id}>
              {moves && shape({ stroke: 'var(--free-glow)', strokeWidth: 9 })}
              {shape({ stroke: on ? 'var(--accent)' : moves ? 'var(--free)' : 'var(--ink)', strokeWidth: on ? 3.4 : c.construction ? 1.2 : 2.2, strokeDasharray: c.construction ? '2 4' : moves ? '9 5' : undefined })}
              {shape({
                stroke: 'transparent', strokeWidth: 13, className: tool === 'move' ? 'cursor-pointer' : '', pointerEvents: tool === 'move' || tool === 'trim' ? 'stroke' : 'none',
                onPointerDown: (e) => {
                  if (tool === 'trim' && e.button === 0) {
                    e.stopPropagation()
                    const box = svg.current!.getBoundingClientRect()
                    void send({ do: 'TrimSketch', step, id: c.id, near: map.sketch(e.clientX - box.left, e.clientY - box.top) }, { step: 'board' })
                    return
                  }
                  if (tool !== 'move') return
                  e.stopPropagation()
                  if (c.kind !== 'circle') choose(c.id, e.shiftKey)
                },
                ...(c.kind === 'circle' && tool === 'move' ? grip(c.id) : {}),
              })}
            </g>
          )
        })}
        <Origin map={map} chosen={chosen.includes('origin')} choose={tool === 'move' ? (more) => choose('origin', more) : null} />
        {sketch.points.map((p) => {
          const [x, y] = map.screen(at[p.id])
          const moves = free.has(p.id)
          const on = chosen.includes(p.id) || lit.includes(p.id)
          return (
            <g key={p.id} data-point={p.id} {...grip(p.id)} className={tool === 'move' ? 'cursor-move' : ''} pointerEvents={tool === 'move' ? 'all' : 'none'}>
              <circle cx={x} cy={y} r={9} fill="transparent" />
              {moves ? (
                <path d={`M${x - 5.5} ${y}L${x} ${y - 5.5}L${x + 5.5} ${y}L${x} ${y + 5.5}Z`} fill={on ? 'var(--accent)' : 'var(--card)'} stroke="var(--free)" strokeWidth="1.6" />
              ) : (
                <rect x={x - 4} y={y - 4} width="8" height="8" fill={on ? 'var(--accent)' : 'var(--ink)'} />
              )}
            </g>
          )
        })}
        {tool !== 'move' && tool !== 'trim' && pointer && <Rubber {...{ tool, spots, pointer, meant, sides, map }} />}
      </svg>
      {typed !== null && spots.length === 1 && pointer && (
        <Typed
          text={typed}
          at={map.screen(meant?.at ?? pointer.at)}
          leave={() => (setTyped(null), svg.current?.focus())}
          take={(length) => void finish([spots[0], { at: meant?.at ?? pointer.at, on: null }], length)}
        />
      )}
      <Ties quiet={tool !== 'move'} show={marks ? null : [...chosen, ...lit]} sketch={sketch} at={at} radius={radius} map={map} chosen={chosen} choose={choose} light={setLit} take={take} />
      <Sizes sketch={sketch} at={at} radius={radius} map={map} wide={width} step={step} figures={out?.sizes ?? {}} editing={editing} edit={setEditing} take={take} />
      </>
      )}
      <div className="absolute top-3 left-4 z-10 flex items-center gap-3 border border-ink bg-card px-3 py-1.5">
        <label className="flex items-center gap-1.5">
          Sketch
          <input
            key={doc.name}
            aria-label="name of the sketch"
            className="w-32 border-b border-dotted border-ink bg-transparent font-semibold placeholder:font-normal"
            placeholder={`of step ${project.document.recipe!.indexOf(doc) + 1}`}
            defaultValue={doc.name}
            maxLength={80}
            onBlur={(e) => e.target.value.trim() !== doc.name && void send({ do: 'RenameStep', step, name: e.target.value }, { step: 'board' })}
            onKeyDown={(e) => {
              e.stopPropagation()
              if (e.key === 'Enter' || e.key === 'Escape') svg.current?.focus()
            }}
          />
        </label>
        <span className="text-ink2">
          {known ? '' : 'seeing where it lies … '}
          {sketch.curves.length} curves, {out?.regions.length ?? 0} {out?.regions.length === 1 ? 'region' : 'regions'}
        </span>
        <button className={marks ? 'border-b-2 border-ink' : 'text-ink2'} aria-pressed={marks} title="marks of ties: all, or only those of what is selected" onClick={() => setMarks(!marks)}>
          marks
        </button>
        <button className="strong" onClick={closeBoard}>
          done
        </button>
      </div>
      <ToolTray {...{ tool, chosen, sketch, step, size, take, sides, setSides, construction, setConstruction, at }} setTool={takeTool} drawn={() => (setTool('move'), svg.current?.focus())} />
      <FreedomMeter sketch={sketch} out={out} light={setLit} />
      {message && (
        <div role="alert" className="absolute right-4 bottom-10 z-10 max-w-80 border border-wrong bg-card px-3 py-2">
          <p className="text-wrong">{message}</p>
          <button className="plain mt-1" onClick={() => useStore.setState({ said: null })}>
            understood
          </button>
        </div>
      )}
    </>
  )
}

/** The length of the line being drawn, typed where it is drawn. */
function Typed({ text, at, take, leave }: { text: string; at: Vec2; take: (length: string) => void; leave: () => void }) {
  const [now, setNow] = useState(text)
  return (
    <input
      autoFocus
      aria-label="length of the line"
      className="field fig absolute z-20 w-28! py-0!"
      style={{ left: Math.round(at[0]) + 12, top: Math.round(at[1]) + 6 }}
      value={now}
      onChange={(e) => setNow(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Escape') leave()
        if (e.key === 'Enter') take(now)
      }}
    />
  )
}

/** A place of the world in a frame's own coordinates. */
function onFrame(frame: FrameOut, at: number[]): Vec2 {
  const dot = (axis: number[]) => axis.reduce((sum, a, k) => sum + a * (at[k] - frame.origin[k]), 0)
  return [dot(frame.x), dot(frame.y)]
}

function defaultFrame(plane: string | undefined) {
  const o: [number, number, number] = [0, 0, 0]
  const [x, y, z]: [number, number, number][] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]
  if (plane === 'front') return { origin: o, x, y: z, z: [0, -1, 0] as [number, number, number] }
  if (plane === 'side') return { origin: o, x: y, y: z, z: x }
  return { origin: o, x, y, z }
}

function Grid({ map, width, height }: { map: BoardMap; width: number; height: number }) {
  const step = map.scale > 6 ? 5 : map.scale > 1.2 ? 10 : 50
  const [x0, y1] = map.sketch(0, 0)
  const [x1, y0] = map.sketch(width, height)
  const lines: React.ReactNode[] = []
  const add = (a: Vec2, b: Vec2, strong: boolean, key: string) => {
    const [p, q] = [map.screen(a), map.screen(b)]
    lines.push(<path key={key} d={`M${p[0]} ${p[1]}L${q[0]} ${q[1]}`} stroke={strong ? 'var(--grid-strong)' : 'var(--grid)'} />)
  }
  const [xa, xb, ya, yb] = [Math.min(x0, x1), Math.max(x0, x1), Math.min(y0, y1), Math.max(y0, y1)]
  for (let x = Math.ceil(xa / step) * step; x <= xb; x += step) add([x, ya], [x, yb], Math.abs(x) < 1e-9, `x${x}`)
  for (let y = Math.ceil(ya / step) * step; y <= yb; y += step) add([xa, y], [xb, y], Math.abs(y) < 1e-9, `y${y}`)
  return <g pointerEvents="none">{lines}</g>
}

function Origin({ map, chosen, choose }: { map: BoardMap; chosen: boolean; choose: ((more: boolean) => void) | null }) {
  const [x, y] = map.screen([0, 0])
  return (
    <g
      data-point="origin"
      pointerEvents={choose ? 'all' : 'none'}
      onPointerDown={(e) => {
        e.stopPropagation()
        choose?.(e.shiftKey)
      }}
    >
      <circle cx={x} cy={y} r={9} fill="transparent" />
      <path d={`M${x - 8} ${y}H${x + 8}M${x} ${y - 8}V${y + 8}`} stroke={chosen ? 'var(--accent)' : 'var(--ink)'} strokeWidth="1.4" />
    </g>
  )
}
