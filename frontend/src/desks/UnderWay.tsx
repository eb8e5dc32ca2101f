/** A print under way on the simulated printer: how far it is, and a way to stop it. */
import { useEffect } from 'react'
import { type Trial, api } from '../api/client'
import { attempt, watchPrint } from '../state/workshop'
import { duration } from '../widgets/figures'

export function UnderWay({ trial }: { trial: Trial }) {
  useEffect(() => {
    const timer = window.setInterval(() => void watchPrint(trial.id), 300)
    return () => window.clearInterval(timer)
  }, [trial.id])
  const share = trial.share ?? 0
  const what = trial.coupon ? 'a coupon' : trial.parts.map((p) => p.name).join(', ')
  return (
    <div role="status" data-underway className="border border-ink bg-card px-3 py-2">
      <p>
        Print {trial.number}: {what}
      </p>
      <div role="progressbar" aria-valuenow={Math.round(100 * share)} aria-valuemin={0} aria-valuemax={100} aria-label={`print ${trial.number}`} className="my-1.5 h-2 border border-ink">
        <div className="h-full bg-accent" style={{ width: `${100 * share}%` }} />
      </div>
      <div className="flex items-baseline justify-between text-[13px] text-ink2">
        <span className="fig">
          {duration(share * trial.time_s)} of {duration(trial.time_s)}
        </span>
        <button className="text-ink underline underline-offset-2" onClick={() => void attempt('print', () => api.stopPrint(trial.id))}>
          stop the print
        </button>
      </div>
    </div>
  )
}
