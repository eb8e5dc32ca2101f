/** The five desks as stops on one line, in the order of the loop. */
import { type Desk, useStore } from '../state/store'
import { StateMark } from '../widgets/Lozenge'

export const DESKS: [Desk, string][] = [['shape', 'Shape'], ['join', 'Join'], ['check', 'Check'], ['print', 'Print'], ['learn', 'Learn']]

export function DeskLine() {
  const desk = useStore((s) => s.desk)
  const worst = useStore((s) => s.report?.checks[0]?.state)
  const go = (d: Desk) => useStore.setState({ desk: d })
  return (
    <nav aria-label="desks" className="relative flex">
      <span aria-hidden className="absolute top-[13px] right-[42px] left-[42px] h-px bg-ink" />
      {DESKS.map(([id, name], i) => (
        <button
          key={id}
          aria-current={desk === id ? 'page' : undefined}
          onClick={() => go(id)}
          onKeyDown={(e) => {
            const to = e.key === 'ArrowRight' ? i + 1 : e.key === 'ArrowLeft' ? i - 1 : -1
            if (to >= 0 && to < DESKS.length) {
              go(DESKS[to][0])
              ;(e.currentTarget.parentElement!.querySelectorAll('button')[to] as HTMLElement).focus()
            }
          }}
          className={`relative flex w-[84px] flex-col items-center pt-1 leading-tight ${desk === id ? 'font-semibold' : 'text-ink2 hover:text-ink'}`}
        >
          <svg width="18" height="18" viewBox="-9 -9 18 18" aria-hidden className="text-ink">
            <path d="M-7 0L0 -7L7 0L0 7Z" fill={desk === id ? 'var(--ink)' : 'var(--sheet)'} stroke="currentColor" strokeWidth="1.2" />
          </svg>
          <span>
            {name}
            {id === 'check' && worst && worst !== 'well' && (
              <span className="absolute ml-1" title={worst === 'wrong' ? 'something is wrong' : 'something is doubtful'}>
                <StateMark state={worst} />
              </span>
            )}
          </span>
        </button>
      ))}
    </nav>
  )
}
