/** Rows of long lists: made only as far as they are near what is seen. */
import { type RefObject, useEffect, useRef, useState } from 'react'

/** So far before it comes into sight a row is made, px: a page of turning the wheel. */
const AHEAD = '900px 0px'
/** What a row is taken to be high before it was made, px. */
const USUAL = 60

/** Whether a row is near what is seen of its list (`data-scroll`), and how high it was when it was made last. */
export function useNear(row: RefObject<HTMLElement | null>, always: boolean): { near: boolean; height: number } {
  const [near, setNear] = useState(always)
  const height = useRef(USUAL)
  useEffect(() => {
    const root = row.current?.closest('[data-scroll]')
    if (always || !root) return setNear(true)
    const seen = new IntersectionObserver(
      (entries) => {
        const last = entries[entries.length - 1]
        // one that somebody stands in stays
        const stays = row.current !== document.activeElement && row.current?.contains(document.activeElement)
        if (last.isIntersecting || !stays) setNear(last.isIntersecting)
        if (!last.isIntersecting) height.current = last.boundingClientRect.height || height.current
      },
      { root, rootMargin: AHEAD },
    )
    seen.observe(row.current!)
    return () => seen.disconnect()
  }, [row, always])
  return { near, height: height.current }
}
