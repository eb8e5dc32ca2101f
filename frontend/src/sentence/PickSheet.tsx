/** Answers a pick chip: by pointing at the model, by a rule, or from a list with the keyboard. What suits is told by the kind of pick. */
import { useEffect, useMemo, useRef, useState } from 'react'
import type { Things } from '../stage/blob'
import { light, setPicking } from '../state/chips'
import { placeOf } from '../state/fields'
import { useStore } from '../state/store'
import { answer, workedAt } from '../state/writing'
import { type Answer, type PickKind, type Thing, allThings, countOf, pickWith, pointingFor, readyAnswers } from '../state/picks'
import { arrowThrough } from '../widgets/focus'

/** So many things are listed until more of them are asked for: of thousands the list would keep one waiting. */
const LISTED = 120

const sorted = (pick: object | null) => pick && Object.entries(pick).sort(([a], [b]) => a.localeCompare(b))
const samePick = (a: object | null, b: object | null) => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b))

const runsAlong = (edge: Things['edges'][number], way: number[]) => edge.kind === 'line' && Math.abs(way.reduce((sum, v, k) => sum + v * edge.seen.direction[k], 0)) > 0.999

type Drawing = { curves: { kind: string; points: string[] }[]; points: { id: string }[]; constraints: { kind: string; of: string[] }[] }

export function PickSheet({ step, path, kind }: { step: string; path: string; kind: PickKind }) {
  const project = useStore((s) => s.project)!
  const picking = useStore((s) => s.picking)
  const base = useStore((s) => s.base)
  const viewer = useStore((s) => s.viewer)
  const draft = useStore((s) => s.draft)
  const told = useStore((s) => s.told)
  const hidden = useStore((s) => s.hidden)
  const list = useRef<HTMLDivElement>(null)
  const [listed, setListed] = useState(LISTED)
  const take = (pick: Answer['pick']) => void answer(step, path, pick)

  const recipe = project.document.recipe!
  const place = placeOf(step, recipe, draft)
  /** The parts that can be asked for: those worked at last come first, those out of sight last, here and in the answers that need no pointing. */
  const parts = useMemo(() => {
    const all = base?.report.parts ?? []
    const order = workedAt(place)
    const rank = ({ id }: { id: string }) => order.indexOf(id) + (hidden.has(id) ? order.length : 0)
    return all.toSorted((a, b) => rank(a) - rank(b))
  }, [base, hidden, place])
  const title = (id: string, otherwise: string) => {
    const at = recipe.findIndex((s) => s.id === id)
    return recipe[at]?.name || `${otherwise} of step ${at + 1}`
  }

  /** Ready answers: rules and whole things, which survive changes best. Those that fit what was pointed at last come first. */
  const ready = useMemo(() => {
    const earlier = recipe.slice(0, place)
    const made = (key: 'planes' | 'axes' | 'points' | 'sketches', otherwise: string) =>
      earlier.filter((s) => s.id in (base?.report[key] ?? {})).map((s) => ({ id: s.id, title: title(s.id, otherwise) }))
    const sketches = made('sketches', 'outline')
    const plane = made('planes', 'plane').filter((p) => !sketches.some((s) => s.id === p.id))
    // a step that did something is told by its sentence: its number alone says little
    const work = earlier
      .filter((s) => base?.report.works.includes(s.id))
      .map((s) => ({ id: s.id, title: `${title(s.id, 'the work')}${s.name ? '' : ` · ${short(project.steps[s.id]?.sentence ?? '')}`}` }))
    // an outline without what is asked for would only be refused
    const holds = (id: string, what: string) => {
      if (what === 'regions') return !!base?.report.sketches[id]?.regions.length
      const { curves = [], points = [], constraints = [] } = (earlier.find((s) => s.id === id)?.fields.sketch ?? {}) as Partial<Drawing>
      // the middle of a rectangle is a point that nobody drew
      const taken = new Set([...curves.flatMap((c) => c.points), ...constraints.flatMap((k) => (k.kind === 'midpoint' && k.of.length === 3 ? k.of.slice(0, 1) : []))])
      return what === 'curves' ? curves.length > 0 : curves.some((c) => c.kind === 'circle') || points.some((p) => !taken.has(p.id))
    }
    const steps = { plane, axis: made('axes', 'axis'), point: made('points', 'point'), sketch: sketches, work }
    const answers = readyAnswers(kind, parts, steps, holds)
    const last = lastEdge()
    const fits = (a: (typeof answers)[number]) => !!last && !!a.along && runsAlong(last, a.along)
    const near = last ? aroundLast() : likeLast()
    // a ball has no upright edges: what would light up nothing is not offered, unless it is the answer already
    const nothing = (a: (typeof answers)[number]) => {
      const header = a.along && 'part' in a.pick && viewer?.header(a.pick.part as string)
      return !!header && !header.edges.some((e) => runsAlong(e, a.along!)) && !samePick(a.pick, picking)
    }
    const away = (a: (typeof answers)[number]) => 'part' in a.pick && hidden.has(a.pick.part as string)
    // a plane, an axis or a point that was made just before is most likely the one that is meant
    const just = recipe[place - 1]?.id
    const rank = (a: (typeof answers)[number]) => (fits(a) ? 0 : 'step' in a.pick && a.pick.step === just ? 1 : away(a) ? 3 : 2)
    return [...near, ...answers.filter((a) => !nothing(a)).toSorted((a, b) => rank(a) - rank(b))]
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [kind, parts, hidden, base, project, picking, viewer, told])

  /** The edge that was pointed at last, with where it is. */
  function lastEdge() {
    const held = picking as { part?: string; edges?: { name: string; part?: string }[] } | null
    const last = held?.edges?.[held.edges.length - 1]
    const header = last && viewer?.header(last.part || held!.part!)
    return header?.edges.find((e) => e.name === last!.name) ?? null
  }

  /** What the faces beside that edge would make. */
  function aroundLast(): Answer[] {
    const held = picking as { part?: string; edges?: { name: string; part?: string }[] } | null
    const part = held?.edges?.[held.edges.length - 1]?.part || held?.part
    const edge = lastEdge()
    if (!part || !edge || !viewer) return []
    return [...new Set(edge.between)].flatMap((index) => {
      const thing: Thing = { type: 'face', part, index }
      const point = pointingFor(kind, thing, viewer)
      const pick = pickWith(kind, null, thing, viewer)
      return point && pick ? [{ pick, words: point.words.replace('{thing}', viewer.header(part)!.faces[index].label) }] : []
    })
  }

  /** All that the step made which made the face pointed at last, and what of that it made alike. */
  function likeLast(): Answer[] {
    const held = picking as { part?: string; faces?: { name: string; part?: string }[] } | null
    const last = held?.faces?.[held.faces.length - 1]
    const rule = kind.points.find((p) => p.alike && p.rule === picking?.rule)?.alike
    const part = last && (last.part || held.part!)
    const [, by, role] = /^(s\d+)\/([^()|.]*)/.exec(last?.name ?? '') ?? []
    if (!rule || !part || !by || !base) return []
    const names = viewer?.header(part)?.faces.map((f) => f.name) ?? []
    const sharing = (begin: string) => names.filter((n) => n.startsWith(begin) && ['', '(', '.'].includes(n.charAt(begin.length))).length
    const [alike, all] = [sharing(`${by}/${role}`), names.filter((n) => n.startsWith(`${by}/`)).length]
    const offer = (n: number, words: string, more: object): Answer => ({ pick: { rule, part, step: by, ...more } as unknown as Answer['pick'], words: `all ${n} ${words}` })
    const made = `${title(by, 'the work')} made on ${parts.find((p) => p.id === part)?.name ?? ''}`
    return [...(alike > 1 ? [offer(alike, `like it that ${made}`, { role })] : []), ...(all > Math.max(1, alike) ? [offer(all, `faces that ${made}`, {})] : [])]
  }

  /** All there is to point at, for the keyboard. */
  const things = useMemo(() => {
    if (!base || !viewer) return []
    const earlier = new Set(recipe.slice(0, place).map((s) => s.id))
    const sketches = Object.fromEntries(Object.entries(base.report.sketches).filter(([id]) => earlier.has(id)))
    return allThings(kind, parts, sketches, (id) => title(id, 'outline'), viewer, project.document.unit)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [base, parts, viewer, kind, told])

  // the keyboard begins at the answer as it is; coming there is not yet choosing, so what is picked stays lit
  const arriving = useRef(true)
  useEffect(() => {
    const buttons = list.current?.querySelectorAll<HTMLElement>('button') ?? []
    const now = ready.findIndex((r) => samePick(r.pick, picking))
    buttons[Math.max(0, now)]?.focus()
    arriving.current = false
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])

  const choose = (thing: Thing, at?: { x: number; y: number; z: number }) => {
    const next = pickWith(kind, picking, thing, viewer!, at)
    if (next === undefined) return
    if (!kind.many && next) take(next)
    else setPicking(next)
  }
  const hover = (thing: Thing | null) => useStore.setState({ hover: thing })
  const shine = (pick: Answer['pick'] | null) => {
    if (arriving.current) return
    if (pick) void light(pick, true)
    else if (picking) void light(picking)
    else useStore.setState({ lit: [] })
  }
  const lit = useStore((s) => s.lit)
  const many = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
  const [n, word] = [countOf(picking), (picking && kind.points.find((p) => p.rule === picking.rule && p.many)?.thing) || lit[0]?.type || 'thing']
  const count = !picking ? 'nothing yet' : n ? `${many(n, word)}${lit.length > n ? `, ${lit.length} with what runs on` : ''}` : many(lit.length, word)
  return (
    <div ref={list} onKeyDown={moveInList}>
      <p className="text-[13px] text-ink2">{kind.hint}</p>
      {ready.length > 0 && (
        <ul className="mt-1 max-h-40 overflow-auto border-t border-hair pt-1">
          {ready.map((r, i) => (
            <li key={i}>
              <button className="w-full px-1 text-left hover:bg-row" onClick={() => take(r.pick)} onMouseEnter={() => shine(r.pick)} onFocus={() => shine(r.pick)} onMouseLeave={() => shine(null)} onBlur={() => shine(null)}>
                {r.words}
              </button>
            </li>
          ))}
        </ul>
      )}
      {things.length > 0 && (
        <ul className={`mt-1 ${ready.length ? 'max-h-28' : 'max-h-64'} overflow-auto border-t border-hair pt-1`} aria-label="what can be picked">
          {things.slice(0, listed).map((t, i) => (
            <li key={i}>
              <button
                className="w-full px-1 text-left text-[13px] hover:bg-row"
                onClick={() => choose(t.thing, t.at)}
                onMouseEnter={() => hover(t.thing)}
                onFocus={() => hover(t.thing)}
                onMouseLeave={() => hover(null)}
              >
                {t.words}
              </button>
            </li>
          ))}
          {things.length > listed && (
            <li>
              <button className="w-full px-1 text-left text-[13px] text-ink2 hover:bg-row" onClick={() => setListed(listed * 4)}>
                {things.length - listed} more …
              </button>
            </li>
          )}
        </ul>
      )}
      {kind.many && (
        // however long the lists above are, what takes the answer stays in sight
        <div className="sticky bottom-0 -mb-[7px] flex items-center justify-between gap-2 bg-card pt-2 pb-[7px]">
          <span className="text-[13px]">{count}</span>
          {picking?.rule === 'regions' && picking.names && (
            <label className="flex items-center gap-1.5 text-[13px]">
              <input className="box" type="checkbox" checked={picking.filled ?? false} onChange={(e) => setPicking({ ...picking, filled: e.target.checked })} />
              holes filled
            </label>
          )}
          <button className="strong" disabled={!picking} onClick={() => picking && take(picking)}>
            take
          </button>
        </div>
      )}
    </div>
  )
}

const short = (text: string) => (text.length > 46 ? `${text.slice(0, 44)}…` : text)

/** Arrow keys go through all the buttons of a sheet. */
function moveInList(event: React.KeyboardEvent<HTMLDivElement>): void {
  if (arrowThrough(event, event.currentTarget.querySelectorAll<HTMLElement>('button:not(:disabled)'))) event.stopPropagation()
}
