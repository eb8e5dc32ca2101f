/** Looking at the model as it was after a step, and at limits. */
import { Refusal, api, type Limits, type Report } from '../api/client'
import { now, set } from './store'

export const lookUpTo = (id: string, step: string): Promise<Report | null> =>
  api.evaluation(id, step).then((found) => found.report, () => null)

export async function lookAt(step: string | null): Promise<void> {
  if (!step) return set({ upto: null, uptoReport: null })
  const report = await lookUpTo(now().id, step)
  if (report) set({ upto: step, uptoReport: report })
}

/** Takes toleranced dimensions at their limits, on model and gauges; ``null`` goes back to nominal. */
export async function atLimits(limits: Limits | null): Promise<void> {
  const plain = !limits || [limits.overall, ...Object.values(limits.parts), ...Object.values(limits.dimensions), ...Object.values(limits.own ?? {}).flatMap((o) => Object.values(o))].every((s) => s === 'nominal')
  if (plain) return set({ limits: null, limitReport: null })
  set({ limits })
  try {
    const { report } = await api.evaluation(now().id, undefined, limits)
    if (now().limits === limits) set({ limitReport: report })
  } catch (error) {
    if (error instanceof Refusal && error.status !== 409 && error.status !== 0) set({ limits: null, limitReport: null, said: { text: error.message } })
  }
}
