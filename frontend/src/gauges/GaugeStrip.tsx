/** The gauge strip along the lower edge, always there: one gauge for each joint. */
import { shownJoints, useStore } from '../state/store'
import { StateMark } from '../widgets/Lozenge'
import { Gauge, gaugeText } from './Gauge'

export function GaugeStrip() {
  const joints = useStore(shownJoints)
  const parts = useStore((s) => s.project!.document.parts!)
  const trying = useStore((s) => !!s.preview && !s.preview.kept)
  return (
    <footer aria-label="gauges" className="flex h-[96px] shrink-0 items-stretch overflow-x-auto border-t border-ink bg-sheet">
      <span aria-hidden className="flex w-11 shrink-0 items-center justify-center border-l border-hair text-[12.5px] text-ink2 [writing-mode:vertical-rl] rotate-180">
        gap, mm
      </span>
      {joints.map((joint) => (
        <button
          key={joint.step}
          data-gauge={joint.name}
          title={gaugeText(joint)}
          onClick={() => useStore.setState({ desk: 'join', focusJoint: joint.step })}
          className="flex w-[224px] shrink-0 flex-col items-start border-r border-hair px-4 pt-1.5 text-left -outline-offset-2 hover:bg-row"
        >
          <span className="flex w-full items-baseline gap-2 leading-tight">
            <span className="shrink-0 font-semibold">{joint.name}</span>
            {joint.notice ? (
              <span className="truncate text-[12.5px] text-warn">◆ {joint.notice}</span>
            ) : (
            <span className="truncate text-[12.5px] text-ink2">{joint.parts.flatMap((p) => parts.find((q) => q.id === p)?.name.toLowerCase() ?? []).join(' · ')}</span>
            )}
          </span>
          <span className="mt-1">
            <Gauge joint={joint} width={176} />
          </span>
          <span className="flex w-full items-center gap-1 text-[13px] leading-tight">
            <StateMark state={joint.state} />
            <span className="truncate">{joint.state === 'failed' ? 'not made' : joint.says}</span>
            <span className="ml-auto flex shrink-0 gap-2">
              {joint.per === 'diameter' && <span className="text-[12px] text-ink2">on Ø</span>}
              {trying && <span className="text-warn">tried</span>}
            </span>
          </span>
        </button>
      ))}
      {!joints.length && (
        <p className="self-center px-5 text-ink2">
          No joint yet. Where two parts meet, a gauge will stand here and tell whether their prints go together.
        </p>
      )}
    </footer>
  )
}
