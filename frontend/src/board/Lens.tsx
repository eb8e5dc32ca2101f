/** A lens that follows the pointer: what is drawn under it, four times as large, for things that lie close together. */
import { useEffect, useState } from 'react'
import type { Vec2 } from './geometry'

const TIMES = 4
const HALF = 78

export function Lens({ board }: { board: SVGSVGElement | null }) {
  const [at, setAt] = useState<Vec2 | null>(null)
  useEffect(() => {
    if (!board) return
    const follow = (e: PointerEvent) => {
      const box = board.getBoundingClientRect()
      setAt([e.clientX - box.left, e.clientY - box.top])
    }
    const leave = () => setAt(null)
    board.addEventListener('pointermove', follow)
    board.addEventListener('pointerleave', leave)
    return () => {
      board.removeEventListener('pointermove', follow)
      board.removeEventListener('pointerleave', leave)
    }
  }, [board])
  if (!at || !board) return null
  const [x, y] = at
  // beside the pointer, on the side where there is room
  const cx = x + (x > board.clientWidth - 3 * HALF ? -1 : 1) * (HALF + 26)
  const cy = y + (y < 3 * HALF ? 1 : -1) * (HALF + 26)
  return (
    <g pointerEvents="none" data-lens>
      <clipPath id="board-lens">
        <rect x={cx - HALF} y={cy - HALF} width={2 * HALF} height={2 * HALF} />
      </clipPath>
      <rect x={cx - HALF} y={cy - HALF} width={2 * HALF} height={2 * HALF} fill="var(--paper)" stroke="var(--ink)" />
      <g clipPath="url(#board-lens)">
        <use href="#board-things" transform={`translate(${cx - TIMES * x} ${cy - TIMES * y}) scale(${TIMES})`} />
      </g>
      <path d={`M${cx - 9} ${cy}H${cx - 3}M${cx + 3} ${cy}H${cx + 9}M${cx} ${cy - 9}V${cy - 3}M${cx} ${cy + 3}V${cy + 9}`} stroke="var(--accent)" strokeWidth="1.5" />
    </g>
  )
}
