/** The desk or the board, and the step after which one looks, in the address: reload, Back and a copied link come to the same place. */
import { DESKS } from '../head/DeskLine'
import { lookAt } from './looking'
import { useStore } from './store'
import { closeBoard, openBoard } from './writing'

const AFTER = 'after='

let applying = false

/** Goes to where the address says. */
function apply(): void {
  const { project, board, upto } = useStore.getState()
  if (!project) return
  const [place, ...more] = location.hash.slice(1).split('&')
  const recipe = project.document.recipe!
  const sketch = recipe.find((s) => s.kind === 'sketch' && `board-${s.id}` === place)
  const after = recipe.find((s) => more.includes(AFTER + s.id))?.id ?? null
  applying = true
  if (sketch) openBoard(sketch.id)
  else {
    if (board) closeBoard()
    useStore.setState({ desk: DESKS.find(([desk]) => desk === place)?.[0] ?? 'shape' })
  }
  if (after !== upto) void lookAt(after)
  applying = false
}

/** Keeps address and desk together until the function that it gives is called. */
export function keepAddress(): () => void {
  apply()
  const stop = useStore.subscribe((s, old) => {
    if (applying || !s.project || (s.desk === old.desk && s.board === old.board && s.upto === old.upto)) return
    const place = s.board ? `board-${s.board}` : s.desk === 'shape' ? '' : s.desk
    const hash = s.upto ? `#${place}&${AFTER}${s.upto}` : place && `#${place}`
    if (location.hash !== hash) history.pushState(null, '', location.pathname + location.search + hash)
  })
  window.addEventListener('popstate', apply)
  return () => {
    stop()
    window.removeEventListener('popstate', apply)
  }
}
