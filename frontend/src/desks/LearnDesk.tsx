/** A desk whose work is still to come: what it is for, and what can be seen already. */
import { useStore } from '../state/store'

export function LearnDesk() {
  const profile = useStore((s) => s.kinds!.profile as Record<string, number | string>)
  const rows: [string, string][] = [
    ['outside faces lie proud by', `${profile.outside_mm} mm`],
    ['walls of openings close in by', `${profile.inside_mm} mm`],
    ['scatter shared by a whole print', `${profile.common_mm} mm`],
    ['scatter of each face by itself', `${profile.random_mm} mm`],
  ]
  return (
    <div className="px-4 py-4">
      <p className="mb-1 text-[16px] font-semibold">What your printer really makes</p>
      <p className="text-ink2">Trials and readings will correct the profile from here. Until then all gaps rest on this one:</p>
      <h2 className="mt-4 font-semibold">{profile.name}</h2>
      <dl>
        {rows.map(([word, figure]) => (
          <div key={word} className="flex justify-between border-b border-hair py-1">
            <dt>{word}</dt>
            <dd className="fig font-semibold">{figure}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 text-[13px] text-ink2">{profile.source}</p>
    </div>
  )
}
