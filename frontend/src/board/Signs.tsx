/** Small drawn signs for ties, made for this board: two strokes or dots that do what the tie says. */

/** Lines (`M…`) and filled dots or blocks of each sign, in a field 20 wide and 12 high. */
const SIGNS: Record<string, { lines?: string; dots?: string }> = {
  // a bar resting on two feet
  horizontal: { lines: 'M3 5H17M5 5V9M15 5V9' },
  // a post on its ground
  vertical: { lines: 'M10 1V10M5 10.5H15' },
  // two strokes that lean alike
  parallel: { lines: 'M5 10L10 2M10 10L15 2' },
  // one stroke standing on another
  perpendicular: { lines: 'M3 10.5H17M10 10.5V1.5M10 7H13.5V10.5' },
  // two bars of one length, between the same ends
  equal: { lines: 'M4 4H16M4 8.5H16M4 2V10.5M16 2V10.5' },
  // a dot half way
  midpoint: { lines: 'M2.5 6H17.5M2.5 3.5V8.5M17.5 3.5V8.5', dots: 'M10 6m-2.3 0a2.3 2.3 0 1 0 4.6 0a2.3 2.3 0 1 0 -4.6 0' },
  // two arms ending in one dot
  coincident: { lines: 'M3 2L10 7L17 2', dots: 'M10 7.5m-2.4 0a2.4 2.4 0 1 0 4.8 0a2.4 2.4 0 1 0 -4.8 0' },
  // a dot riding on a bow
  point_on: { lines: 'M2.5 10.5Q10 0 17.5 10.5', dots: 'M10 5.2m-2.2 0a2.2 2.2 0 1 0 4.4 0a2.2 2.2 0 1 0 -4.4 0' },
  // a ring about a dot
  concentric: { lines: 'M10 6m-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0', dots: 'M10 6m-1.6 0a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0 -3.2 0' },
  // a ring lying against a wall
  tangent: { lines: 'M3.5 1V11M8.4 6m-4.4 0a4.4 4.4 0 1 0 8.8 0a4.4 4.4 0 1 0 -8.8 0' },
  // a straight that runs on in a bow
  smooth: { lines: 'M2 10C8 10 9 9 11 6.5S14.5 2 18 2' },
  // two flags about a pole
  symmetric: { lines: 'M10 1V11M7 3L2.5 6L7 9ZM13 3L17.5 6L13 9Z' },
  // two strokes, one after the other
  collinear: { lines: 'M2 9L8 6M12 4L18 1M8.6 5.7L11.4 4.3' },
  // a nail
  fixed: { lines: 'M10 4.5V11M6 4.5H14', dots: 'M6 1.5H14V4.5H6Z' },
  // one, and again, and again
  turned: { lines: 'M2.5 9V4H6M8.5 9V4H12M14.5 9V4H18' },
}

export function Sign({ kind }: { kind: string }) {
  const { lines, dots } = SIGNS[kind] ?? {}
  return (
    <svg aria-hidden width="20" height="12" viewBox="0 0 20 12" className="relative" fill="none" stroke="currentColor" strokeWidth="1.3">
      {lines && <path d={lines} />}
      {dots && <path d={dots} fill="currentColor" stroke="none" />}
    </svg>
  )
}
