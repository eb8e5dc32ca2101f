/** Curves and points as they stand: free, settled, construction, brought in, lost; each in a line of its own. */
import type { SketchOut } from '../api/client'
import { ON_CURVES, type Tool } from './drawing'
import { type BoardMap, type SketchCurve, type SketchDoc, type Vec2, runsOf } from './geometry'

interface Props {
  tool: Tool
  sketch: SketchDoc
  out: SketchOut | undefined
  at: Record<string, Vec2>
  radius: (id: string) => number
  map: BoardMap
  /** What is selected, or lit up by what one points at. */
  on: (id: string) => boolean
  choose: (id: string, more: boolean) => void
  /** A tool that works on a curve was used on it, at a place of the screen. */
  work: (id: string, e: React.PointerEvent) => void
  grip: (id: string) => React.DOMAttributes<SVGElement>
  /** Which curve is meant by a press on one: where several lie close together, the nearest. */
  nearest: (id: string, e: React.PointerEvent) => string
}

/** How a curve's line is drawn by what it is. */
function strokeOf(c: SketchCurve, state: { on: boolean; moves: boolean; lost: boolean }) {
  const stroke = state.on ? 'var(--accent)' : state.lost ? 'var(--warn)' : c.brought ? 'var(--ink2)' : state.moves ? 'var(--free)' : 'var(--ink)'
  // letters are too small for dashes
  if (c.kind === 'text') return { stroke, strokeWidth: state.on ? 2.4 : 1.5 }
  const dash = c.brought ? '10 3 2 3' : c.construction ? '2 4' : state.moves ? '9 5' : undefined
  return { stroke, strokeDasharray: dash, strokeWidth: state.on ? 3.4 : c.construction ? 1.2 : 2.2 }
}

export function Curves({ tool, sketch, out, at, radius, map, on, choose, work, grip, nearest }: Props) {
  const free = new Set(out?.free ?? [])
  const working = tool in ON_CURVES
  return (
    <>
      {sketch.curves.map((c) => {
        const moves = !c.brought && (c.points.some((p) => free.has(p)) || free.has(c.id))
        const d = runsOf(c, at, radius(c.id), lettersOf(c, out))
          .map((run) => map.run(run))
          .join('')
        const held = tool === 'move' && c.kind === 'circle' && !c.brought ? grip(c.id) : null
        return (
          <g key={c.id} data-curve={c.id} data-kind={c.kind}>
            {moves && c.kind !== 'text' && <path d={d} fill="none" stroke="var(--free-glow)" strokeWidth={9} />}
            <path d={d} fill="none" {...strokeOf(c, { on: on(c.id), moves, lost: c.id in (out?.lost ?? {}) })} />
            <path
              d={d}
              fill="none"
              stroke="transparent"
              strokeWidth={13}
              className={tool === 'move' ? 'cursor-pointer' : ''}
              pointerEvents={tool === 'move' || working ? 'stroke' : 'none'}
              onPointerDown={(e) => {
                if (e.button !== 0) return
                e.stopPropagation()
                const meant = nearest(c.id, e)
                if (working) work(meant, e)
                else if (held && meant === c.id) held.onPointerDown!(e)
                else choose(meant, e.shiftKey)
              }}
              onPointerMove={held?.onPointerMove}
              onPointerUp={held?.onPointerUp}
            />
          </g>
        )
      })}
    </>
  )
}

export function lettersOf(c: SketchCurve, out: SketchOut | undefined) {
  const runs = out?.letters[c.id] as Vec2[][] | undefined
  const [foot, top] = c.points.map((p) => out?.points[p] as Vec2 | undefined)
  return c.kind === 'text' && runs && foot && top ? { runs, foot, top } : undefined
}

/** Handles of splines that are neither selected nor in hand would only be in the way. */
export function hiddenHandles(sketch: SketchDoc, busy: (id: string) => boolean): Set<string> {
  const out = new Set<string>()
  for (const c of sketch.curves) {
    if (c.kind !== 'spline' || busy(c.id) || c.points.some(busy)) continue
    c.points.forEach((p, k) => k % 3 && out.add(p))
  }
  return out
}

export function Points({ tool, sketch, out, at, radius, map, on, busy, grip }: Omit<Props, 'choose' | 'work' | 'nearest'> & { busy: (id: string) => boolean }) {
  const free = new Set(out?.free ?? [])
  const hidden = hiddenHandles(sketch, busy)
  const held = new Set(sketch.curves.filter((c) => c.brought).flatMap((c) => c.points))
  const arms = sketch.curves.flatMap((c) => (c.kind === 'spline' ? c.points.flatMap((p, k) => (k % 3 && !hidden.has(p) ? [[p, c.points[k % 3 === 1 ? k - 1 : k + 1]]] : [])) : []))
  const ways = (out?.ways ?? {}) as Record<string, Vec2>
  const told = Object.keys(ways).length <= 12
  // the centre of a small circle leaves its rim to be taken hold of
  const reach: Record<string, number> = {}
  for (const c of sketch.curves) if (c.kind === 'circle') reach[c.points[0]] = Math.max(3, Math.min(9, reach[c.points[0]] ?? 9, radius(c.id) * map.scale - 5))
  return (
    <>
      {arms.map(([handle, node]) => (
        <path key={`${handle}-${node}`} d={map.run([at[handle], at[node]])} stroke="var(--free)" strokeWidth="1" pointerEvents="none" />
      ))}
      {sketch.points.map((p) => {
        if (hidden.has(p.id)) return null
        const [x, y] = map.screen(at[p.id])
        const lit = on(p.id)
        const way = told && free.has(p.id) && !held.has(p.id) ? ways[p.id] : undefined
        return (
          <g key={p.id} data-point={p.id} {...(held.has(p.id) ? {} : grip(p.id))} className={tool === 'move' ? 'cursor-move' : ''} pointerEvents={tool === 'move' ? 'all' : 'none'}>
            <circle cx={x} cy={y} r={reach[p.id] ?? 9} fill="transparent" />
            {way && <Way x={x} y={y} way={way} map={map} />}
            {held.has(p.id) ? (
              <path d={`M${x - 4} ${y - 4}L${x + 4} ${y + 4}M${x - 4} ${y + 4}L${x + 4} ${y - 4}`} stroke={lit ? 'var(--accent)' : 'var(--ink2)'} strokeWidth="1.4" />
            ) : free.has(p.id) ? (
              <path d={`M${x - 5.5} ${y}L${x} ${y - 5.5}L${x + 5.5} ${y}L${x} ${y + 5.5}Z`} fill={lit ? 'var(--accent)' : 'var(--card)'} stroke="var(--free)" strokeWidth="1.6" />
            ) : (
              <rect x={x - 4} y={y - 4} width="8" height="8" fill={lit ? 'var(--accent)' : 'var(--ink)'} />
            )}
          </g>
        )
      })}
    </>
  )
}

/** The one way in which a point can still go. */
function Way({ x, y, way, map }: { x: number; y: number; way: Vec2; map: BoardMap }) {
  const [ox, oy] = map.screen([0, 0])
  const [wx, wy] = map.screen(way)
  const size = Math.hypot(wx - ox, wy - oy) || 1
  const [ux, uy] = [(wx - ox) / size, (wy - oy) / size]
  const arm = (s: number) => {
    const [tx, ty] = [x + s * ux * 19, y + s * uy * 19]
    return `M${x + s * ux * 9} ${y + s * uy * 9}L${tx} ${ty}M${tx - s * ux * 4 - uy * 3} ${ty - s * uy * 4 + ux * 3}L${tx} ${ty}L${tx - s * ux * 4 + uy * 3} ${ty - s * uy * 4 - ux * 3}`
  }
  return <path data-way d={arm(1) + arm(-1)} stroke="var(--free)" strokeWidth="1.4" fill="none" pointerEvents="none" />
}
