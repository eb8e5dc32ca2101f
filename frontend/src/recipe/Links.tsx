/** Links across parts: what is built on another part, to go to, to see on the model, and to cut. */
import { useEffect, useRef, useState } from 'react'
import { record, send } from '../state/commands'
import { useStore } from '../state/store'
import { openBoard, openChip } from '../state/writing'
import { api, type Command, type Report } from '../api/client'

type Link = Report['links'][number]
type KeepOutline = Extract<Command, { do: 'KeepOutline' }>

export function Links() {
  const links = useStore((s) => s.report?.links) ?? NONE
  const strands = useStore((s) => s.strands)
  const [shown, setShown] = useState(false)
  const box = useRef<HTMLElement>(null)
  useEffect(() => void (shown && box.current?.scrollIntoView({ block: 'nearest' })), [shown])
  if (!links.length) return null
  return (
    <section ref={box} aria-label="links between parts" className="border-t border-hair px-4 py-2">
      <button className="flex w-full items-baseline justify-between text-left" aria-expanded={shown} onClick={() => setShown(!shown)}>
        <span className="font-semibold">Links between parts</span>
        <span className="text-[13px] text-ink2">
          {links.length} {shown ? '▴' : '▾'}
        </span>
      </button>
      {shown && (
        <button
          className="mt-0.5 text-[13px] underline underline-offset-2 hover:text-accent"
          aria-pressed={strands}
          title="from sentence to sentence, and on the model"
          onClick={() => useStore.setState({ strands: !strands })}
        >
          {strands ? 'hide the strands' : 'show them as strands'}
        </button>
      )}
      {shown && (
        <ul className="mt-1">
          {links.map((link) => (
            <LinkRow key={`${link.step} ${link.field} ${link.of}`} link={link} />
          ))}
        </ul>
      )}
    </section>
  )
}

const NONE: Link[] = []

function LinkRow({ link }: { link: Link }) {
  const parts = useStore((s) => s.project!.document.parts!)
  const place = useStore((s) => s.project!.document.recipe!.findIndex((r) => r.id === link.step))
  const step = useStore((s) => s.project!.document.recipe![place])
  const fromFile = useStore((s) => s.project!.document.recipe!.some((r) => r.id === link.source && r.kind === 'bring_in'))
  const stands = useStore((s) => s.report?.sketches[link.step])
  const name = (id: string) => parts.find((p) => p.id === id)?.name ?? '?'
  const colour = (id: string) => parts.find((p) => p.id === id)?.colour
  if (!step) return null
  // what stands in a field stays as a plane of its own, the outline of a face on a board of its own, a whole part as a part of its own; brought-in curves stay where they are
  const cut = link.curves.length
    ? () => send({ do: 'FreezeSources', step: link.step, curves: link.curves, points: stands?.points ?? {}, radii: stands?.radii ?? {} })
    : link.plane
      ? () => send({ do: 'EditStep', step: link.step, fields: { [link.field]: link.plane } })
      : link.outline
        ? () => send({ do: 'KeepOutline', step: link.step, field: link.field, ...(link.outline as Pick<KeepOutline, 'plane' | 'curves'>) })
        : link.whole
          ? () => record((id, seen) => api.keep(id, seen, link.step, link.whole))
          : null
  const go = () => {
    useStore.setState({ focusStep: link.step })
    document.querySelector<HTMLElement>(`[data-step="${link.step}"]`)?.scrollIntoView({ block: 'nearest' })
    if (link.curves.length) openBoard(link.step)
    else openChip(link.step, link.field)
  }
  const square = (id: string) => <span aria-hidden className="mr-1 inline-block h-3 w-3 border border-ink align-[-1px]" style={{ background: colour(id) }} />
  return (
    <li className="border-b border-hair py-1.5 last:border-0" onMouseEnter={() => useStore.setState({ focusStep: link.step })}>
      <p className="leading-snug">
        {link.to.map((id) => (
          <span key={id} className="mr-1 font-semibold">
            {square(id)}
            {name(id)}
          </span>
        ))}
        <span className="text-ink2">rests on</span> {square(link.of)}
        <span className="font-semibold">{name(link.of)}</span>
        <span className="text-ink2">: {link.words} (step {place + 1}{step.name ? `, ${step.name}` : ''})</span>
      </p>
      <div className="flex gap-3 text-[13px]">
        <button className="underline underline-offset-2 hover:text-accent" onClick={go}>
          aim anew
        </button>
        {cut ? (
          <button className="text-ink2 underline underline-offset-2 hover:text-wrong" title="what is there now stays, and follows no more" onClick={() => void cut()}>
            cut
          </button>
        ) : (
          <span className="text-ink2">{fromFile ? 'it comes from a file, and changes only with that' : 'cannot be cut: its shape comes from there'}</span>
        )}
      </div>
    </li>
  )
}
