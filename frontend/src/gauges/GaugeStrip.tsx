/** The gauge strip along the lower edge, always there: one gauge for each joint. Folded, or without a joint, it is one line. */
import { useState } from 'react'
import type { Joint } from '../api/client'
import { shownJoints, useStore } from '../state/store'
import { StateMark } from '../widgets/Lozenge'
import { Gauge, gaugeText } from './Gauge'

const FOLDED = 'dove-gauges-folded'

export function GaugeStrip() {
  const joints = useStore(shownJoints)
  const [folded, setFolded] = useState(localStorage.getItem(FOLDED) === 'yes')
  const flip = () => {
    localStorage.setItem(FOLDED, folded ? 'no' : 'yes')
    setFolded(!folded)
  }
  if (!joints.length) {
    return (
      <footer aria-label="gauges" className="flex h-8 shrink-0 items-center border-t border-ink bg-sheet px-4 text-ink2">
        No joint yet. Where two parts meet, a gauge will stand here and tell whether their prints go together.
      </footer>
    )
  }
  return (
    <footer aria-label="gauges" className={`flex shrink-0 items-stretch overflow-x-auto border-t border-ink bg-sheet ${folded ? 'h-8' : 'h-[96px]'}`}>
      <button
        aria-expanded={!folded}
        aria-label={folded ? 'unfold the gauges' : 'fold the gauges away'}
        title={folded ? 'unfold the gauges' : 'fold the gauges away'}
        className="flex w-11 shrink-0 items-center justify-center border-r border-hair text-[12.5px] text-ink2 -outline-offset-2 hover:bg-row"
        onClick={flip}
      >
        {folded ? 'gaps' : <span className="rotate-180 [writing-mode:vertical-rl]">gap, mm</span>}
      </button>
      {joints.map((joint) => (
        <One key={joint.step} joint={joint} folded={folded} />
      ))}
    </footer>
  )
}

function One({ joint, folded }: { joint: Joint; folded: boolean }) {
  const parts = useStore((s) => s.project!.document.parts!)
  const trying = useStore((s) => !!s.preview && !s.preview.kept)
  const says = (
    <>
      <StateMark state={joint.state} />
      <span className="truncate">{joint.state === 'failed' ? 'not made' : joint.says}</span>
    </>
  )
  return (
    <button
      data-gauge={joint.name}
      title={gaugeText(joint)}
      onClick={() => useStore.setState({ desk: 'join', focusJoint: joint.step })}
      className={`flex shrink-0 border-r border-hair px-4 text-left -outline-offset-2 hover:bg-row ${folded ? 'max-w-80 items-center gap-1.5 text-[13px]' : 'w-[224px] flex-col items-start pt-1.5'}`}
    >
      {folded ? (
        <>
          <span className="shrink-0 font-semibold">{joint.name}</span>
          {says}
          {trying && <span className="text-warn">tried</span>}
        </>
      ) : (
        <>
          <span className="flex w-full items-baseline gap-2 leading-tight">
            <span className="shrink-0 font-semibold">{joint.name}</span>
            {joint.notice ? (
              <span className="truncate text-[12.5px] text-warn">◆ {joint.notice}</span>
            ) : (
              <span className="truncate text-[12.5px] text-ink2">{joint.parts.flatMap((p) => parts.find((q) => q.id === p)?.name.toLowerCase() ?? []).join(' · ')}</span>
            )}
          </span>
          <span className="mt-1 flex items-end">
            <Gauge joint={joint} width={176} />
            {joint.per === 'diameter' && <span className="ml-1 shrink-0 text-[12px] text-ink2">Ø</span>}
          </span>
          <span className="flex w-full items-center gap-1 text-[13px] leading-tight">
            {says}
            {trying && <span className="ml-auto shrink-0 text-warn">tried</span>}
          </span>
        </>
      )}
    </button>
  )
}
