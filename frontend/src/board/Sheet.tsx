/** The sheet that one draws on: where it lies, its grid, its middle, and the figures typed over it. */
import { useState } from 'react'
import type { FrameOut } from '../api/client'
import type { BoardMap, Vec2 } from './geometry'

/** A place of the world in a frame's own coordinates. */
export function onFrame(frame: FrameOut, at: number[]): Vec2 {
  const dot = (axis: number[]) => axis.reduce((sum, a, k) => sum + a * (at[k] - frame.origin[k]), 0)
  return [dot(frame.x), dot(frame.y)]
}

/** Where a base plane lies. */
export function defaultFrame(plane: string | undefined) {
  const o: [number, number, number] = [0, 0, 0]
  const [x, y, z]: [number, number, number][] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]
  if (plane === 'front') return { origin: o, x, y: z, z: [0, -1, 0] as [number, number, number] }
  if (plane === 'side') return { origin: o, x: y, y: z, z: x }
  return { origin: o, x, y, z }
}

export function Grid({ map, width, height }: { map: BoardMap; width: number; height: number }) {
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

export function Origin({ map, chosen, choose }: { map: BoardMap; chosen: boolean; choose: ((more: boolean) => void) | null }) {
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

/** The length of the line being drawn, and its way if one likes, typed where it is drawn. */
export function Typed({ text, at, take, leave }: { text: string; at: Vec2; take: (length: string, degrees: number) => void; leave: () => void }) {
  const [now, setNow] = useState(text)
  const [way, setWay] = useState('')
  const keys = (e: React.KeyboardEvent) => {
    e.stopPropagation()
    if (e.key === 'Escape') leave()
    if (e.key === 'Enter') take(now, way.trim() ? Number(way) : NaN)
  }
  return (
    <div className="absolute z-20 flex items-center gap-1 border border-ink bg-card p-1" style={{ left: Math.round(at[0]) + 12, top: Math.round(at[1]) + 6 }} onKeyDown={keys}>
      <input autoFocus aria-label="length of the line" className="field fig w-28! py-0!" value={now} onChange={(e) => setNow(e.target.value)} />
      <input aria-label="angle of the line, degrees" className="field fig w-14! py-0!" placeholder="°" value={way} onChange={(e) => setWay(e.target.value)} />
    </div>
  )
}
