import type { KeyboardEvent } from 'react'

/** Does something at Enter. The focus may move on with it: the same key must not press what it finds there. */
export function atEnter<T extends HTMLElement>(what: (event: KeyboardEvent<T>) => void) {
  return (event: KeyboardEvent<T>) => {
    if (event.key !== 'Enter') return
    event.preventDefault()
    what(event)
  }
}
