/** The model pulled apart along its joints, by as much as a slide says. */
import { useEffect, useState } from 'react'
import { Matrix4 } from 'three'
import { api } from '../api/client'
import { shownReport, useStore } from '../state/store'
import type { Viewer } from './viewer'

type Ways = Record<string, number[]>

export function startApart(): void {
  const { desk, upto, other, limits, project } = useStore.getState()
  // where it would not be seen it is not begun
  const why = desk === 'print' ? 'At the Print desk parts lie as they are printed; pull them apart at another desk.' : upto || other || limits ? 'Pulled apart is the present model: leave the older state, or the limits, first.' : project!.document.parts!.length < 2 ? 'Pulling apart takes two parts.' : ''
  if (why) return useStore.setState({ said: { text: why } })
  useStore.setState((s) => ({ apart: s.apart === null ? 1 : null, cut: null, cut2: null, gapMap: null }))
}

/** Parts by how far they stand from where they are modelled; those that stand still are left out. */
function standing(ways: Ways, share: number): Map<string, Matrix4> {
  const far = Object.entries(ways).filter(([, by]) => by.some((c) => c !== 0))
  return new Map(far.map(([part, [x, y, z]]) => [part, new Matrix4().makeTranslation(x * share, y * share, z * share)]))
}

export function ApartBar({ viewer }: { viewer: Viewer }) {
  const share = useStore((s) => s.apart)
  const id = useStore((s) => s.id)
  const look = useStore((s) => shownReport(s)?.parts.map((p) => p.mesh).join())
  const [ways, setWays] = useState<Ways | null>(null)
  const on = share !== null
  useEffect(() => {
    if (!on || !look) return
    let stale = false
    api.apart(id).then(
      (found) => !stale && setWays(found.parts as Ways),
      () => !stale && useStore.setState({ apart: null, said: { text: 'The parts could not be pulled apart now; try again.' } }),
    )
    return () => {
      stale = true
    }
  }, [on, id, look])
  useEffect(() => {
    if (on && ways) viewer.setPlaces(standing(ways, share))
  }, [viewer, on, ways, share])
  useEffect(() => {
    if (!on || !ways) return
    viewer.eye.fit()
    return () => {
      viewer.setPlaces(null)
      viewer.eye.fit()
    }
  }, [viewer, on, !ways]) // eslint-disable-line react-hooks/exhaustive-deps
  if (!on) return null
  const still = ways && !standing(ways, 1).size
  return (
    <div role="group" aria-label="apart" data-apart={ways ? 'shown' : 'asked'} className="absolute right-3 bottom-12 z-10 flex items-center gap-x-3 border border-ink bg-card px-3 py-1.5 text-[13.5px]">
      <span className="font-semibold">apart</span>
      {still ? (
        <span>No joint holds parts here that come apart.</span>
      ) : (
        <input type="range" aria-label="how far apart" className="slide w-40" min={0} max={100} step={1} value={Math.round(100 * share)} onChange={(e) => useStore.setState({ apart: Number(e.target.value) / 100 })} />
      )}
      <button aria-label="put it together" onClick={() => useStore.setState({ apart: null })}>
        ✕
      </button>
    </div>
  )
}
