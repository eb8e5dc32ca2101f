/** Make it hold: the single figures that would bring a joint's chance to what is asked, each to be taken by one click; or why none does. */
import { useEffect, useState } from 'react'
import type { components } from '../api/schema'
import { Refusal, api, type Joint } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { StateMark } from '../widgets/Lozenge'

type Found = components['schemas']['HoldOut']

const ASKED = [80, 90, 95]

export function Hold({ joint }: { joint: Joint }) {
  const id = useStore((s) => s.id)
  const version = useStore((s) => s.project!.version)
  const [asked, setAsked] = useState(0)
  const [found, setFound] = useState<Found | null>(null)
  const [message, setMessage] = useState('')
  // what was found holds for the project as it was then
  useEffect(() => (setAsked(0), setFound(null), setMessage('')), [version, joint.step])
  const now = Math.round(100 * (joint.chance?.fits ?? 1))
  const choices = ASKED.filter((n) => n > now)
  if (!joint.chance || !choices.length) return null
  const look = async (n: number) => {
    setAsked(n)
    setFound(null)
    setMessage('')
    try {
      const answer = await api.hold(id, joint.step, n / 100)
      if (useStore.getState().project!.version !== version) return
      setFound(answer)
      setMessage(answer.message)
    } catch (error) {
      setMessage(error instanceof Refusal ? error.message : String(error))
    }
  }
  const looking = asked > 0 && !found && !message
  return (
    <div className="mt-2" data-hold>
      <div className="flex flex-wrap items-baseline gap-x-2" role="group" aria-label="make it hold">
        <span>Make it hold in</span>
        <span className="flex">
          {choices.map((n) => (
            <button key={n} disabled={looking} aria-pressed={asked === n} className={`-ml-px border border-ink px-2.5 py-0.5 first:ml-0 ${asked === n ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`} onClick={() => void look(n)}>
              {n}
            </button>
          ))}
        </span>
        <span>of 100</span>
      </div>
      <div aria-live="polite">
        {looking && <p className="mt-1 text-[13.5px] text-ink2">Trying its figures one by one …</p>}
        {message && <p className="mt-1 text-[13.5px] text-ink2">{message}</p>}
        {found && found.offers.length > 0 && (
          <ul className="mt-1">
            {found.offers.map((o) => (
              <li key={o.says} className="flex items-baseline gap-2 border-b border-hair py-1 last:border-0">
                <span className="min-w-0 flex-1">
                  {o.says} <span className="fig whitespace-nowrap text-ink2">{o.before}</span> → <b className="fig whitespace-nowrap">{o.after}</b>
                </span>
                <span className="shrink-0 text-[13.5px]">
                  <StateMark state={o.chance >= 0.95 ? 'well' : 'doubtful'} /> {Math.round(100 * o.chance)}
                </span>
                <button className="plain shrink-0" onClick={() => void send(o.command as never)}>
                  take it
                </button>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  )
}
