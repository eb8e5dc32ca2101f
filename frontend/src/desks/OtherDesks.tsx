/** Desks whose work is still to come: what they are for, and what can be seen already. */
import { shownReport, useStore } from '../state/store'

export function CheckDesk() {
  const report = useStore(shownReport)
  const wrong = report?.steps.filter((s) => s.state === 'failed' || s.state === 'asks') ?? []
  return (
    <div className="px-4 py-4">
      <p className="mb-1 text-[16px] font-semibold">Before you print</p>
      <p className="text-ink2">Sections, readings and checks of thin walls, overlaps and the bed will stand here. They are not made yet.</p>
      {wrong.length > 0 && (
        <>
          <p className="mt-4">Steps that could not be made:</p>
          <ul>
            {wrong.map((s) => (
              <li key={s.id}>
                <button className="text-left text-wrong" onClick={() => useStore.setState({ desk: 'shape', focusStep: s.id })}>
                  ▲ step {s.number}: {s.message}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}

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
