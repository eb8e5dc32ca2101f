/** The desk or the board in the address, so that reload, Back and a copied link come to the same place. */
import { DESKS } from '../head/DeskLine'
import { closeBoard, openBoard, useStore } from './store'

let applying = false

/** Goes to where the address says. */
function apply(): void {
  const { project, board } = useStore.getState()
  if (!project) return
  const wanted = location.hash.slice(1)
  const sketch = project.document.recipe!.find((s) => s.kind === 'sketch' && `board-${s.id}` === wanted)
  applying = true
  if (sketch) openBoard(sketch.id)
  else {
    if (board) closeBoard()
    useStore.setState({ desk: DESKS.find(([desk]) => desk === wanted)?.[0] ?? 'shape' })
  }
  applying = false
}

/** Keeps address and desk together until the function that it gives is called. */
export function keepAddress(): () => void {
  apply()
  const stop = useStore.subscribe((s, old) => {
    if (applying || !s.project || (s.desk === old.desk && s.board === old.board)) return
    const hash = s.board ? `#board-${s.board}` : s.desk === 'shape' ? '' : `#${s.desk}`
    if (location.hash !== hash) history.pushState(null, '', location.pathname + location.search + hash)
  })
  window.addEventListener('popstate', apply)
  return () => {
    stop()
    window.removeEventListener('popstate', apply)
  }
}
