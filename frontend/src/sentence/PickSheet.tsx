/** Answers a pick chip: by pointing at the model, by a rule, or from a list with the keyboard. */
import { useEffect, useMemo, useRef } from 'react'
import { answer, pickWith, useStore } from '../state/store'
import type { FieldOut } from '../api/client'
import { type Pick, type Thing, lit, says } from '../state/picks'
import { arrowThrough } from '../widgets/focus'

const HINTS: Record<string, string> = {
  face: 'Point at a flat face.',
  side: 'Point at a round side.',
  corners: 'Point at edges, near the corners that are meant; once more takes one back.',
  faces: 'Point at faces; once more takes one back.',
  edges: 'Point at edges, or at a face for all its edges.',
  plane: 'Point at a flat face, or take one of these.',
  regions: 'Point at areas of an outline, or take a whole one.',
}

export function PickSheet({ step, field }: { step: string; field: FieldOut }) {
  const project = useStore((s) => s.project)!
  const picking = useStore((s) => s.picking)
  const base = useStore((s) => s.base)
  const viewer = useStore((s) => s.viewer)
  const list = useRef<HTMLDivElement>(null)
  const set = (pick: Pick | null) => useStore.setState({ picking: pick })
  const take = (pick: Pick) => void answer(step, field.name, pick)

  const place = step === 'draft' ? Infinity : project.document.recipe!.findIndex((s) => s.id === step)
  const earlier = project.document.recipe!.slice(0, place)

  /** Ready answers: rules and whole things, which survive changes best. */
  const ready = useMemo(() => {
    const out: { pick: Pick; words: string }[] = []
    const add = (pick: Pick, words = says(pick, project)) => out.push({ pick, words })
    const parts = (base?.report.parts ?? []).map((p) => p.id)
    if (field.type === 'plane') {
      for (const plane of ['ground', 'front', 'side'] as const) add({ rule: 'base', plane })
      for (const s of earlier) if (s.kind === 'plane') add({ rule: 'plane', step: s.id })
    }
    if (field.type === 'regions') for (const s of earlier) if (s.kind === 'sketch') add({ rule: 'regions', step: s.id, names: null })
    if (field.type === 'edges') for (const part of parts) for (const direction of ['up', 'across', 'deep'] as const) add({ rule: 'edges_along', part, direction })
    return out
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [field.type, base, project])

  /** Rules that fit what was just pointed at. */
  const rules = useMemo(() => {
    if (field.type !== 'edges' || picking?.rule !== 'edges' || !viewer) return []
    const header = viewer.header(picking.part)
    const last = picking.edges[picking.edges.length - 1]
    const edge = header?.edges.find((e) => e.name === last.name)
    if (!header || !edge) return []
    const [a, b] = edge.between.map((i) => header.faces[i])
    const out: { pick: Pick; words: string }[] = [
      { pick: { rule: 'edges_of_face', part: picking.part, face: a }, words: `all round the ${a.label}` },
      { pick: { rule: 'edges_of_face', part: picking.part, face: b }, words: `all round the ${b.label}` },
    ]
    const axis = (['across', 'deep', 'up'] as const).find((_, k) => edge.kind === 'line' && Math.abs(edge.seen.direction[k]) > 0.999)
    if (axis) {
      const pick: Pick = { rule: 'edges_along', part: picking.part, direction: axis }
      out.unshift({ pick, words: says(pick, project) })
    }
    return out.map((r) => ({ ...r, pick: clean(r.pick) }))
  }, [field.type, picking, viewer, project])

  /** All faces or regions there are, for the keyboard. */
  const things = useMemo(() => {
    const out: { thing: Thing; words: string; at?: { x: number; y: number; z: number } }[] = []
    if (!base || !viewer) return out
    if (['face', 'faces', 'plane', 'side'].includes(field.type)) {
      for (const part of base.report.parts) {
        viewer.header(part.id)?.faces.forEach((f, index) => {
          if (field.type === 'side' ? f.kind !== 'cylinder' : field.type !== 'faces' && f.kind !== 'plane') return
          out.push({ thing: { type: 'face', part: part.id, index }, words: f.label })
        })
      }
    }
    if (field.type === 'edges') {
      for (const part of base.report.parts) {
        viewer.header(part.id)?.faces.forEach((f, index) => {
          if (f.kind === 'plane' && !/^(chamfer|fillet|slope)/.test(f.label)) out.push({ thing: { type: 'face', part: part.id, index }, words: `all round the ${f.label}` })
        })
      }
    }
    if (field.type === 'corners') {
      const known = new Set<string>()
      for (const part of base.report.parts) {
        viewer.header(part.id)?.edges.forEach((e, index) => {
          if (e.smooth) return
          for (const at of viewer.edgeEnds(part.id, index) ?? []) {
            const words = `corner of ${part.name} at ${[at.x, at.y, at.z].map((v) => Math.round(v * 100) / 100 || 0).join(', ')}`
            if (known.has(words)) continue
            known.add(words)
            out.push({ thing: { type: 'edge', part: part.id, index }, words, at })
          }
        })
      }
    }
    if (field.type === 'regions') {
      for (const [id, sketch] of Object.entries(base.report.sketches)) {
        if (sketch.regions.length < 2) continue
        sketch.regions.forEach((r, i) => out.push({ thing: { type: 'region', step: id, name: r.name }, words: `area ${i + 1}, ${r.area_mm2.toFixed(0)} mm²` }))
      }
    }
    return out
  }, [base, viewer, field.type])

  useEffect(() => list.current?.querySelector<HTMLElement>('button')?.focus(), [])

  const single = ['face', 'plane', 'side'].includes(field.type)
  const choose = (thing: Thing, at?: { x: number; y: number; z: number }) => {
    const next = pickWith(field.type, picking, thing, viewer!, at)
    if (single && next) take(next)
    else set(next)
  }
  const hover = (things: Thing[]) => useStore.setState({ hover: things[0] ?? null })
  const count = picking ? says(picking, project) : 'nothing yet'
  return (
    <div ref={list} onKeyDown={moveInList}>
      <p className="text-[13px] text-ink2">{HINTS[field.type]}</p>
      {ready.length + rules.length > 0 && (
        <ul className="mt-1 border-t border-hair pt-1">
          {[...rules, ...ready.filter((r) => !rules.some((o) => o.words === r.words))].map((r, i) => (
            <li key={i}>
              <button
                className="w-full px-1 text-left hover:bg-row"
                onClick={() => take(r.pick)}
                onMouseEnter={() => viewer && useStore.setState({ selected: lit(r.pick, viewer.headers) })}
                onFocus={() => viewer && useStore.setState({ selected: lit(r.pick, viewer.headers) })}
                onMouseLeave={() => useStore.setState({ selected: [] })}
              >
                {r.words}
              </button>
            </li>
          ))}
        </ul>
      )}
      {things.length > 0 && (
        <ul className="mt-1 max-h-28 overflow-auto border-t border-hair pt-1" aria-label="what can be picked">
          {things.map((t, i) => (
            <li key={i}>
              <button
                className="w-full px-1 text-left text-[13px] hover:bg-row"
                onClick={() => choose(t.thing, t.at)}
                onMouseEnter={() => hover([t.thing])}
                onFocus={() => hover([t.thing])}
                onMouseLeave={() => hover([])}
              >
                {t.words}
              </button>
            </li>
          ))}
        </ul>
      )}
      {!single && (
        <div className="mt-2 flex items-center justify-between gap-2">
          <span className="text-[13px]">{count}</span>
          <button className="strong" disabled={!picking} onClick={() => picking && take(picking)}>
            take
          </button>
        </div>
      )}
    </div>
  )
}

/** Faces in a blob header carry more than a pick stores. */
function clean(pick: Pick): Pick {
  return pick.rule === 'edges_of_face' ? { ...pick, face: { name: pick.face.name, seen: pick.face.seen } } : pick
}

/** Arrow keys go through all the buttons of a sheet. */
function moveInList(event: React.KeyboardEvent<HTMLDivElement>): void {
  if (arrowThrough(event, event.currentTarget.querySelectorAll<HTMLElement>('button:not(:disabled)'))) event.stopPropagation()
}
