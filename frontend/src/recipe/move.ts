/** Moving a step earlier or later: dragged by its number, or by keys. What would break is told before anything is moved. */
import { create } from 'zustand'
import { Refusal, api } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { focusSoon } from '../widgets/focus'

interface Moving {
  step: string
  /** The step behind which it would stand (``''``: first), and why it cannot, if so. */
  after: string | null
  reason: string
}

export const useMove = create<{ moving: Moving | null }>(() => ({ moving: null }))

/** The sentence that would refuse a move, or nothing. */
export async function whyNot(step: string, after: string): Promise<string> {
  try {
    await api.gauge(useStore.getState().id, { do: 'MoveStep', step, after })
    return ''
  } catch (error) {
    return error instanceof Refusal ? error.message : String(error)
  }
}

/** The place one earlier or one later: the step behind which it would stand, or null at either end. */
export function beside(step: string, by: -1 | 1): string | null {
  const recipe = useStore.getState().project!.document.recipe!
  const at = recipe.findIndex((s) => s.id === step)
  if (by < 0) return at <= 0 ? null : at === 1 ? '' : recipe[at - 2].id
  return at < 0 || at === recipe.length - 1 ? null : recipe[at + 1].id
}

export async function move(step: string, after: string | null): Promise<void> {
  if (after === null) return
  if (await send({ do: 'MoveStep', step, after }, { step })) focusSoon(`[data-step="${step}"]`)
}

/** Follows the pointer from a step's number to where it is let go. */
export function dragStep(step: string, event: React.PointerEvent): void {
  const from = event.clientY
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  const recipe = useStore.getState().project!.document.recipe!
  const own = recipe.findIndex((s) => s.id === step)
  const follow = (e: PointerEvent) => {
    if (Math.abs(e.clientY - from) < 6 && !useMove.getState().moving) return
    const rows = recipe.map((s) => document.querySelector<HTMLElement>(`[data-step="${s.id}"]`))
    let place = 0
    rows.forEach((row, i) => {
      const box = row?.getBoundingClientRect()
      if (box && e.clientY > box.top + box.height / 2) place = i + 1
    })
    const after = place === 0 ? '' : recipe[place - 1].id
    const same = place === own || place === own + 1
    const was = useMove.getState().moving
    if (was && was.after === (same ? null : after)) return
    useMove.setState({ moving: { step, after: same ? null : after, reason: '' } })
    if (!same) {
      void whyNot(step, after).then((reason) => {
        const now = useMove.getState().moving
        if (reason && now?.after === after) useMove.setState({ moving: { ...now, reason } })
      })
    }
  }
  const end = () => {
    handle.removeEventListener('pointermove', follow)
    const moving = useMove.getState().moving
    useMove.setState({ moving: null })
    if (moving) void move(step, moving.after)
  }
  handle.addEventListener('pointermove', follow)
  handle.addEventListener('pointerup', end, { once: true })
  handle.addEventListener('pointercancel', () => useMove.setState({ moving: null }), { once: true })
}
