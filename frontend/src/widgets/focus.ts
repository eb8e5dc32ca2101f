/**
 * Moves the focus to the first of some selectors that is there, after what is being opened or closed has settled:
 * dialogs give the focus back to where it was a moment after they close.
 */
export function focusSoon(...selectors: string[]): void {
  let tries = 0
  // whoever has gone on, typing or pointing, keeps the focus where it is
  for (const gone of ['keydown', 'pointerdown']) window.addEventListener(gone, () => (tries = 99), { once: true, capture: true })
  const attempt = () => {
    if (tries >= 99) return
    const found = selectors.map((s) => document.querySelector<HTMLElement>(s)).find((e) => e)
    const dialog = document.querySelector('[role=dialog]')
    if (found && !dialog && document.activeElement !== found) found.focus()
    // what lies above it may grow as it comes into sight, and push it out again
    else if (found && !dialog) found.scrollIntoView({ block: 'nearest' })
    if (++tries < 12) requestAnimationFrame(attempt)
  }
  requestAnimationFrame(attempt)
}

/** Up and down go through things, from the one that has the focus. Says whether the key was one of them, and had somewhere to start. */
export function arrowThrough(event: React.KeyboardEvent, things: Iterable<HTMLElement>): boolean {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  const all = [...things]
  const at = all.indexOf(document.activeElement as HTMLElement)
  if (!by || at < 0) return false
  event.preventDefault()
  all[Math.max(0, Math.min(all.length - 1, at + by))].focus()
  return true
}

/** The first thing to answer in a step: its open sheet, else its “keep”, else the sentence itself. */
export const inStep = (step: string): string[] => [
  `[data-step="${step}"] [data-sheet] :is(input, [role=radio][tabindex="0"], button):not(:disabled)`, `[data-step="${step}"] [data-keep]`, `[data-step="${step}"]`,
]
