/** Our repeated form: a stop on the desk line, the needle of a gauge, a mark. */
export function Lozenge({ size = 7, fill = 'none', x = 0, y = 0 }: { size?: number; fill?: string; x?: number; y?: number }) {
  return <path d={`M${x - size} ${y}L${x} ${y - size}L${x + size} ${y}L${x} ${y + size}Z`} fill={fill} stroke="currentColor" strokeWidth={1.4} />
}

const MARKS = { well: '●', doubtful: '◆', wrong: '▲', failed: '▲' } as const
const TINTS = { well: 'text-accent', doubtful: 'text-warn', wrong: 'text-wrong', failed: 'text-wrong' } as const
export type FitState = keyof typeof MARKS

/** A state told by shape and colour; the words stand beside it. */
export function StateMark({ state }: { state: FitState }) {
  return (
    <span aria-hidden className={`${TINTS[state]} text-[11px]`}>
      {MARKS[state]}
    </span>
  )
}
export const tint = (state: FitState): string => TINTS[state]
