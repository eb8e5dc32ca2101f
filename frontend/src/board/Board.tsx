/** The sketch board: the stage turned square to a sketch's plane, with the sketch drawn over it. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { type FrameOut, api } from '../api/client'
import type { SeenThing } from '../state/picks'
import { closeBoard, send, useStore } from '../state/store'
import type { Viewer } from '../stage/viewer'
import { plain } from '../widgets/figures'
import { type SketchDoc, BoardMap, type Vec2, between, places } from './geometry'
import { FreedomMeter } from './FreedomMeter'
import { Sizes } from './Sizes'
import { Ties } from './Ties'
import { type Tool, ToolTray } from './ToolTray'

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
  const [start, setStart] = useState<{ at: Vec2; on: string | null } | null>(null)
  const [pointer, setPointer] = useState<{ at: Vec2; on: string | null } | null>(null)
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
    (id: string) => draggedRadii?.[id] ?? (solvedNow ? out?.radii[id] : undefined) ?? sketch?.curves.find((c) => c.id === id)?.radius ?? 0,
    [draggedRadii, sketch, out, solvedNow],
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
    setStart(null)
  }
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      if (/^(INPUT|TEXTAREA)$/.test((e.target as HTMLElement).tagName) || e.ctrlKey || e.metaKey) return
      if (e.key === 'Delete' && chosen.length) take(chosen)
      else if (e.key === 'd' && chosen.length) void size()
      else if (e.key === 'r') takeTool('centre')
      else if (e.key === 'o') takeTool('circle')
      else if (PANS[e.key]) viewer.pan(...PANS[e.key])
      else if (e.key === '+') viewer.zoom(0.85)
      else if (e.key === '-') viewer.zoom(1 / 0.85)
      else if (e.key === 'Escape') {
        if (start) setStart(null)
        else if (tool !== 'move') setTool('move')
        else if (chosen.length) setChosen([])
        else closeBoard()
      } else return
      e.preventDefault()
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [chosen, start, tool, size, take, viewer])

  if (!sketch || !doc) return null

  const draw = (a: { at: Vec2; on: string | null }, b: { at: Vec2; on: string | null }) => {
    if (tool === 'circle') void send({ do: 'DrawCircle', step, centre: a.at, on: a.on, radius: Math.max(between(a.at, b.at), 1e-6) }, { step: 'board' })
    else void send({ do: 'DrawRectangle', step, first: a.at, corner: b.at, by_centre: tool === 'centre', on: a.on }, { step: 'board' })
  }

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
            const here = snap(e)
            if (!start) setStart(here)
            else {
              draw(start, here)
              setStart(null)
              setTool('move')
            }
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
          const loose = isFree(c.points) || free.has(c.id)
          const on = chosen.includes(c.id) || lit.includes(c.id)
          const d = c.kind === 'line' ? line(at[c.points[0]], at[c.points[1]]) : ''
          const [cx, cy] = map.screen(at[c.points[0]])
          const shape = (extra: React.SVGProps<SVGPathElement & SVGCircleElement>) =>
            c.kind === 'line' ? <path d={d} {...extra} /> : <circle cx={cx} cy={cy} r={Math.max(0, radius(c.id) * map.scale)} fill="none" {...extra} />
          return (
            <g key={c.id} data-curve={c.id}>
              {loose && shape({ stroke: 'var(--free-glow)', strokeWidth: 9 })}
              {shape({ stroke: on ? 'var(--accent)' : loose ? 'var(--free)' : 'var(--ink)', strokeWidth: on ? 3.4 : 2.2, strokeDasharray: loose ? '9 5' : undefined })}
              {shape({
                stroke: 'transparent', strokeWidth: 13, className: tool === 'move' ? 'cursor-pointer' : '', pointerEvents: tool === 'move' ? 'stroke' : 'none',
                onPointerDown: (e) => {
                  if (tool !== 'move') return
                  e.stopPropagation()
                  if (c.kind !== 'circle') choose(c.id, e.shiftKey)
                },
                ...(c.kind === 'circle' ? grip(c.id) : {}),
              })}
            </g>
          )
        })}
        <Origin map={map} chosen={chosen.includes('origin')} choose={tool === 'move' ? (more) => choose('origin', more) : null} />
        {sketch.points.map((p) => {
          const [x, y] = map.screen(at[p.id])
          const loose = free.has(p.id)
          const on = chosen.includes(p.id) || lit.includes(p.id)
          return (
            <g key={p.id} data-point={p.id} {...grip(p.id)} className={tool === 'move' ? 'cursor-move' : ''} pointerEvents={tool === 'move' ? 'all' : 'none'}>
              <circle cx={x} cy={y} r={9} fill="transparent" />
              {loose ? (
                <path d={`M${x - 5.5} ${y}L${x} ${y - 5.5}L${x + 5.5} ${y}L${x} ${y + 5.5}Z`} fill={on ? 'var(--accent)' : 'var(--card)'} stroke="var(--free)" strokeWidth="1.6" />
              ) : (
                <rect x={x - 4} y={y - 4} width="8" height="8" fill={on ? 'var(--accent)' : 'var(--ink)'} />
              )}
            </g>
          )
        })}
        {tool !== 'move' && pointer && <Rubber tool={tool} start={start} pointer={pointer} map={map} />}
      </svg>
      <Ties sketch={sketch} at={at} radius={radius} map={map} chosen={chosen} choose={choose} light={setLit} take={take} />
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
        <button className="strong" onClick={closeBoard}>
          done
        </button>
      </div>
      <ToolTray {...{ tool, chosen, sketch, step, size, take }} setTool={takeTool} drawn={() => (setTool('move'), svg.current?.focus())} />
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

/** What would be drawn, while the second place is still open. */
function Rubber({ tool, start, pointer, map }: { tool: Tool; start: { at: Vec2 } | null; pointer: { at: Vec2; on: string | null }; map: BoardMap }) {
  const [x, y] = map.screen(pointer.at)
  const here = <circle cx={x} cy={y} r={pointer.on ? 7 : 3} fill="none" stroke="var(--accent)" strokeWidth="1.5" />
  if (!start) return <g pointerEvents="none">{here}</g>
  const [sx, sy] = map.screen(start.at)
  const [dx, dy] = [pointer.at[0] - start.at[0], pointer.at[1] - start.at[1]]
  const k = tool === 'centre' ? 2 : 1
  const words = tool === 'circle' ? `Ø ${plain(2 * Math.hypot(dx, dy), 2)}` : `${plain(Math.abs(dx) * k, 2)} × ${plain(Math.abs(dy) * k, 2)}`
  const left = tool === 'centre' ? sx - Math.abs(x - sx) : Math.min(sx, x)
  const top = tool === 'centre' ? sy - Math.abs(y - sy) : Math.min(sy, y)
  return (
    <g pointerEvents="none" stroke="var(--accent)" fill="none" strokeWidth="1.8">
      {tool === 'circle' ? <circle cx={sx} cy={sy} r={Math.hypot(x - sx, y - sy)} /> : <rect x={left} y={top} width={Math.abs(x - sx) * k} height={Math.abs(y - sy) * k} />}
      {here}
      <text x={x + 12} y={y - 10} fill="var(--ink)" stroke="none" className="fig" fontSize="12">
        {words}
      </text>
    </g>
  )
}
