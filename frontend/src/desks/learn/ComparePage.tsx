/** Two states of the project side by side, and what must be printed again to go from one to the other. */
import { useStore } from '../../state/store'
import { compareStates, lookAtRevision, restoreRevision, useWorkshop } from '../../state/workshop'
import { ChoiceChip } from '../../widgets/Chips'
import { length, volumeChange } from '../../widgets/figures'

export function ComparePage({ from, to }: { from: string; to: string }) {
  const revisions = useWorkshop((s) => s.kept?.revisions) ?? []
  const compared = useWorkshop((s) => s.compared)
  const refused = useWorkshop((s) => s.refused)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const old = revisions.find((r) => String(r.number) === from)
  const options: [string, string][] = [...revisions.map((r): [string, string] => [String(r.number), `revision ${r.number}${r.note ? `, ${r.note}` : ''}`]), ['now', 'as it is now']]
  return (
    <>
      <header className="flex flex-wrap items-center gap-2">
        <span className="text-[16px] font-semibold">From</span> <ChoiceChip label="compare" value={from} options={options} take={(v) => void compareStates(v, to)} /> <span>to</span> <ChoiceChip label="with" value={to} options={options} take={(v) => void compareStates(from, v)} />
        {old && (
          <span className="ml-auto flex gap-2">
            <button className="plain" onClick={() => void lookAtRevision(old.number, old.note)}>
              Look at revision {old.number}
            </button>
            <button className="plain" data-restore onClick={() => void restoreRevision(old.number)}>
              Go back to it
            </button>
          </span>
        )}
      </header>
      {refused?.at === 'compare' && <p role="alert" className="text-wrong">{refused.text}</p>}
      {!compared && refused?.at !== 'compare' && <p className="text-ink2">comparing …</p>}
      {compared && (
        <>
          <section className="border border-ink bg-card px-4 py-3" data-reprint={compared.reprint.join(',')}>
            <h2 className="font-semibold">{compared.reprint.length ? `To print again: ${compared.reprint.join(', ')}` : 'Nothing must be printed again'}</h2>
            <ul className="mt-1 text-[13.5px]">
              {compared.parts.map((p) => (
                <li key={p.id} className="flex gap-3 border-t border-hair py-1">
                  <span className="w-40 font-semibold">{p.name}</span>
                  <span>
                    {{ same: 'the same solid', changed: `other solid, ${volumeChange(p.volume_change_mm3, unit)}`, new: 'new', gone: 'gone' }[p.state]}
                    {p.lies && '; lies otherwise on the bed'}
                  </span>
                </li>
              ))}
            </ul>
          </section>
          <Changes title="Values" rows={compared.values.map((v) => [v.name, v.before || '(none)', v.after || '(gone)'])} />
          <Changes title="Drawn gaps" rows={compared.gaps.map((g) => [g.name, length(g.before_mm, unit), length(g.after_mm, unit)])} />
          <Changes title="Steps" rows={compared.steps.map((s) => [s.number && `step ${s.number}`, s.before || '(not there)', s.state === 'off' ? 'switched off' : s.after || '(gone)'])} />
          {!compared.values.length && !compared.gaps.length && !compared.steps.length && <p className="text-ink2">No value, step or gap differs.</p>}
        </>
      )}
    </>
  )
}

function Changes({ title, rows }: { title: string; rows: string[][] }) {
  if (!rows.length) return null
  return (
    <section aria-label={title} className="border border-ink bg-card px-4 py-3">
      <h2 className="font-semibold">{title}</h2>
      <ul className="text-[13.5px]">
        {rows.map(([name, before, after], i) => (
          <li key={i} className="grid grid-cols-[9rem_1fr_1.2rem_1fr] gap-2 border-t border-hair py-1">
            <span className="font-semibold">{name}</span>
            <span className="text-ink2">{before}</span>
            <span>→</span>
            <span>{after}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
