/** What can be read off the selected thing, or between two; it can be pinned, and then follows the model. */
import { useEffect, useState } from 'react'
import { type ReadingRow, Refusal, api } from '../api/client'
import type { Thing } from '../state/picks'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { rowText } from '../widgets/figures'
import { SolveFor } from './SolveFor'
import type { Viewer } from './viewer'

/** A face or an edge as a reading names it. */
function picked(thing: Thing, viewer: Viewer) {
  if (thing.type !== 'face' && thing.type !== 'edge') return null
  const header = viewer.header(thing.part)
  const found = thing.type === 'face' ? header?.faces[thing.index] : header?.edges[thing.index]
  return found ? { label: found.label, pick: { part: thing.part, kind: thing.type, thing: { name: found.name, seen: found.seen } } } : null
}

export function ReadingCard({ viewer }: { viewer: Viewer }) {
  const selected = useStore((s) => s.selected)
  const id = useStore((s) => s.id)
  const version = useStore((s) => s.project!.version)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const [rows, setRows] = useState<ReadingRow[] | null>(null)
  const [message, setMessage] = useState('')
  const things = selected.length <= 2 ? selected.flatMap((t) => picked(t, viewer) ?? []) : []
  const key = JSON.stringify(things.map((t) => t.pick))
  useEffect(() => {
    const picks = JSON.parse(key) as object[]
    setRows(null)
    setMessage('')
    if (!picks.length) return
    let stale = false
    api.measure(id, picks[0], picks[1] ?? null).then(
      (found) => !stale && setRows(found),
      (error) => !stale && setMessage(error instanceof Refusal ? error.message : String(error)),
    )
    return () => {
      stale = true
    }
  }, [key, id, version])
  const [making, setMaking] = useState<string | null>(null)
  useEffect(() => setMaking(null), [key])
  if (!things.length) return null
  const pin = async () => {
    if (await send({ do: 'AddReading', first: things[0].pick, second: things[1]?.pick ?? null })) useStore.setState({ selected: [] })
  }
  return (
    <section aria-label="reading" className="absolute bottom-14 left-4 z-10 w-[286px] border border-ink bg-card px-3 py-2 text-[13.5px]">
      <p className="truncate font-semibold">{things.map((t) => t.label).join(' — ')}</p>
      <dl>
        {rows?.map((row) => (
          <div key={row.what} className="flex justify-between gap-3">
            <dt className="text-ink2">{row.what}</dt>
            <dd className="fig font-semibold">
              <button className="hover:text-accent hover:underline" title="make it another figure, by changing a value" aria-label={`${row.what} ${rowText(row, unit)}: make it another`} onClick={() => setMaking(making === row.what ? null : row.what)}>
                {rowText(row, unit)}
              </button>
            </dd>
          </div>
        ))}
      </dl>
      {making && rows?.some((r) => r.what === making) && (
        <SolveFor key={making} first={things[0].pick} second={things[1]?.pick ?? null} what={making} now={rowText(rows.find((r) => r.what === making)!, unit).replace(/ mm²| in²/, '')} done={() => setMaking(null)} />
      )}
      {message && (
        <p role="alert" className="text-wrong">
          {message}
        </p>
      )}
      <div className="mt-1 flex items-baseline justify-between gap-2 text-[12.5px] text-ink2">
        <span>{things.length === 1 ? 'Shift and click: to a second thing. All as drawn.' : 'As drawn.'}</span>
        <button data-pin className="plain shrink-0 py-0! text-ink" disabled={!rows} onClick={() => void pin()}>
          pin
        </button>
      </div>
    </section>
  )
}
