/** Links between parts as strands down the margin of the recipe: from the sentence that made something to the one that takes it. */
import { useLayoutEffect, useRef, useState } from 'react'
import { useStore } from '../state/store'

interface Strand { key: string; step: string; from: number; to: number; off: number; colour: string }

/** How far a strand may lie from the sentences, px; the margin holds so many side by side. */
const [FIRST, NEXT, MOST] = [13, 3, 4]

export function Strands() {
  const shown = useStore((s) => s.strands)
  const links = useStore((s) => s.report?.links)
  const parts = useStore((s) => s.project!.document.parts!)
  const recipe = useStore((s) => s.project!.document.recipe!)
  const focused = useStore((s) => s.focusStep)
  const open = useStore((s) => s.open)
  const svg = useRef<SVGSVGElement>(null)
  const [strands, setStrands] = useState<Strand[]>([])
  const [tall, setTall] = useState(0)
  useLayoutEffect(() => {
    const list = svg.current?.closest('ol')
    if (!shown || !list) return
    const draw = () => {
      const top = list.getBoundingClientRect().top
      // beside the number of a step; a step in a folded chapter has none
      const place = (step: string) => {
        const row = list.querySelector<HTMLElement>(`[data-step="${step}"]`)
        return row ? row.getBoundingClientRect().top - top + 17 : null
      }
      const found = (links ?? []).flatMap((link, k) => {
        const [from, to] = [place(link.source), place(link.step)]
        const colour = parts.find((p) => p.id === link.of)?.colour ?? ''
        return from === null || to === null || link.source === link.step ? [] : [{ key: `${link.step} ${link.field} ${link.of}`, step: link.step, from, to, off: k % MOST, colour }]
      })
      setStrands((old) => (JSON.stringify(old) === JSON.stringify(found) ? old : found))
      setTall(list.scrollHeight)
    }
    draw()
    const watch = new ResizeObserver(draw)
    for (const row of list.children) watch.observe(row)
    return () => watch.disconnect()
  }, [shown, links, parts, recipe, open])
  if (!shown) return null
  return (
    <svg ref={svg} aria-hidden className="pointer-events-none absolute top-0 left-0" width="16" height={tall} data-strands={strands.length}>
      {strands.map((s) => {
        const x = FIRST - NEXT * (s.off + 1)
        const mine = s.step === focused
        return (
          <g key={s.key} className={mine ? 'text-accent' : 'text-ink2'} stroke="currentColor" fill="none" strokeWidth={mine ? 2 : 1}>
            <path d={`M${FIRST} ${s.from}Q${x} ${s.from} ${x} ${s.from + 8 * Math.sign(s.to - s.from)}V${s.to - 8 * Math.sign(s.to - s.from)}Q${x} ${s.to} ${FIRST} ${s.to}`} />
            <circle cx={FIRST} cy={s.from} r="2.5" style={{ fill: s.colour }} strokeWidth="1" />
            <path d={`M${FIRST + 3} ${s.to}l-4.5 -3v6z`} fill="currentColor" stroke="none" />
          </g>
        )
      })}
    </svg>
  )
}
