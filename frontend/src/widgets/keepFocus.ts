/**
 * When what has the focus goes away, or can no longer be used, the focus stays near: at the closest thing round it that is still there.
 * Without it the keyboard would begin again at the top of the page. Nothing is pressed by accident, since no button is given the focus.
 */
export function keepFocus(root: HTMLElement): () => void {
  let path: HTMLElement[] = []
  const entered = () => {
    path = []
    for (let e = document.activeElement as HTMLElement | null; e && e !== document.body; e = e.parentElement) path.push(e)
  }
  const lost = () => {
    const [last] = path
    const gone = !!last && (!last.isConnected || (last as HTMLButtonElement).disabled)
    if (!gone || (document.activeElement && document.activeElement !== document.body && document.activeElement !== last)) return
    const near = path.slice(1).find((e) => e.isConnected && root.contains(e))
    path = []
    if (!near) return
    // a place may say where its keyboard is at home
    const home = near.closest<HTMLElement>('[data-home]')
    const goal = home?.querySelector<HTMLElement>(home.dataset.home!) ?? near
    if (!goal.hasAttribute('tabindex') && !/^(A|BUTTON|INPUT)$/.test(goal.tagName)) goal.tabIndex = -1
    goal.focus({ preventScroll: true })
  }
  const watch = new MutationObserver(lost)
  document.addEventListener('focusin', entered)
  watch.observe(root, { childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'] })
  return () => {
    document.removeEventListener('focusin', entered)
    watch.disconnect()
  }
}
