/** Things on the stage, and how pointing at them makes picks: by what the server says of each kind of pick (api/kinds). */
import type { Fields, Kinds, Pick, SketchOut, ThingOut } from '../api/client'
import type { SeenThing, Things } from '../stage/blob'
import { area, plain } from '../widgets/figures'

export type { Pick }
export type PickKind = Kinds['picks'][number]
type Pointing = PickKind['points'][number]

/** A face or an edge of a part by its place in the mesh, a region or a line of a sketch, a plane, an axis or a point that a step made. */
export type Thing =
  | { type: 'face'; part: string; index: number }
  | { type: 'edge'; part: string; index: number }
  | { type: 'region'; step: string; name: string }
  | { type: 'line'; step: string; name: string }
  | { type: 'plane'; step: string }
  | { type: 'axis'; step: string }
  | { type: 'point'; step: string }

export const sameThing = (a: Thing, b: Thing): boolean => JSON.stringify(a) === JSON.stringify(b)

type Place = { x: number; y: number; z: number }

/** What the stage knows of its things. */
export interface Shown {
  header: (part: string) => Things | undefined
  edgeEnds: (part: string, index: number) => [Place, Place] | null
}

/** A thing as a pick keeps it: what goes into the slot, the part or step that it is of, and what it is. */
interface Held { value: unknown; part?: string; step?: string; kinds?: string[]; loops?: number; key: string }

/** The adapters, one for each kind of thing. */
function hold(as: Pointing['thing'], thing: Thing, shown: Shown, at?: Place): Held | null {
  if (as === 'corner') return thing.type === 'edge' && at ? corner(thing, shown, at) : null
  if (as !== thing.type) return null
  if (thing.type === 'face' || thing.type === 'edge') {
    const header = shown.header(thing.part)
    const found = thing.type === 'face' ? header?.faces[thing.index] : header?.edges[thing.index]
    if (!found) return null
    const value: SeenThing = { name: found.name, seen: found.seen }
    const kinds = 'hollow' in found ? [found.kind, `${found.hollow ? 'hollow' : 'full'} ${found.kind}`] : [found.kind]
    return { value, part: thing.part, kinds, loops: 'loops' in found ? found.loops : 1, key: `${thing.part} ${found.name}` }
  }
  if (thing.type === 'plane' || thing.type === 'axis' || thing.type === 'point') return { value: thing.step, step: thing.step, key: thing.step }
  return { value: thing.name, step: thing.step, key: thing.name }
}

/** The end of an edge that lies nearer to a place; one corner is the end of several edges and counts once. */
function corner(thing: { part: string; index: number }, shown: Shown, at: Place): Held | null {
  const edge = shown.header(thing.part)?.edges[thing.index]
  const ends = shown.edgeEnds(thing.part, thing.index)
  if (!edge || !ends) return null
  const away = (p: Place) => Math.hypot(p.x - at.x, p.y - at.y, p.z - at.z)
  const end = away(ends[0]) <= away(ends[1]) ? ends[0] : ends[1]
  const [x, y, z] = edge.seen.at
  const value = { name: edge.name, seen: edge.seen, toward: [end.x - x, end.y - y, end.z - z] }
  return { value, part: thing.part, kinds: [edge.kind], key: cornerKey(thing.part, [end.x, end.y, end.z]) }
}

const cornerKey = (part: string, place: number[]) => `${part} ${place.map((v) => (Math.round(v * 1000) / 1000 || 0).toFixed(3)).join(' ')}`

/** What tells the members of a list in a pick apart. */
function keyOf(member: unknown, part: string): string {
  if (typeof member === 'string') return member
  const thing = member as SeenThing & { toward?: number[] }
  const of = thing.part || part
  return thing.toward && thing.seen ? cornerKey(of, thing.toward.map((t, k) => t + thing.seen!.at[k])) : `${of} ${thing.name}`
}

const suits = (point: Pointing, held: Held): boolean =>
  (!point.only.length || point.only.some((kind) => held.kinds?.includes(kind))) && (held.loops ?? 1) >= point.loops

/** How a kind of pick takes a thing, if it does. */
export function pointingFor(kind: PickKind, thing: Thing, shown: Shown, at?: Place): Pointing | null {
  const takes = (p: Pointing) => {
    const held = hold(p.thing, thing, shown, at ?? { x: 0, y: 0, z: 0 })
    return held !== null && suits(p, held)
  }
  // a thing from a list has no place on it that would say which of its corners is meant
  return (at ? undefined : kind.points.find((p) => p.thing !== 'corner' && takes(p))) ?? kind.points.find(takes) ?? null
}

/** A pick grown (or shrunk) by the thing pointed at, or undefined when it does not suit the kind. */
export function pickWith(kind: PickKind, old: Pick | null, thing: Thing, shown: Shown, at?: Place): Pick | null | undefined {
  const point = pointingFor(kind, thing, shown, at)
  const held = point && hold(point.thing, thing, shown, at)
  if (!point || !held) return undefined
  const base: Record<string, unknown> = { rule: point.rule, ...point.plus }
  if (held.part) base.part = held.part
  if (held.step) base.step = held.step
  if (!point.many) return { ...base, [point.slot]: point.one ? [held.value] : held.value } as unknown as Pick
  const was = old as unknown as Record<string, unknown> | null
  const same = was?.rule === point.rule && (held.step === undefined || was.step === held.step)
  const members = same && Array.isArray(was[point.slot]) ? (was[point.slot] as unknown[]) : []
  const own = same && typeof was.part === 'string' ? was.part : (held.part ?? '')
  const without = members.filter((m) => keyOf(m, own) !== held.key)
  // a thing of another part than the pick's own says which
  const value = held.part && held.part !== own ? { ...(held.value as object), part: held.part } : held.value
  const next = without.length < members.length ? without : [...members, value]
  // an outline of which nothing is chosen any more is meant whole
  if (!next.length) return held.step ? ({ ...base, [point.slot]: null } as unknown as Pick) : null
  const filled = same && was.filled ? { filled: true } : {}
  return { ...base, ...filled, ...(held.part ? { part: own } : {}), [point.slot]: next } as unknown as Pick
}

/** A pick grown by several things at once, or shrunk by them where it has them all; things that do not suit the kind are left out. */
export function pickWithAll(kind: PickKind, old: Pick | null, things: Thing[], shown: Shown): Pick | null {
  const fold = (grows: boolean) =>
    things.reduce<Pick | null>((was, thing) => {
      const next = pickWith(kind, was, thing, shown)
      return next !== undefined && countOf(next) > countOf(was) === grows ? next : was
    }, old)
  const more = fold(true)
  return more === old ? fold(false) : more
}

/** How many things a pick of a list holds. */
export function countOf(pick: Pick | null): number {
  const list = pick && Object.values(pick).find((v) => Array.isArray(v))
  return Array.isArray(list) ? list.length : 0
}

export interface Answer { pick: Pick; words: string }
interface Titled { id: string; title: string }

/** The answers that need no pointing, with the names of parts and steps put in; `made` are the steps that made each sort of thing. */
export function readyAnswers(
  kind: PickKind, parts: { id: string; name: string }[], made: Record<'plane' | 'axis' | 'point' | 'sketch' | 'work', Titled[]>, holds: (step: string, what: string) => boolean = () => true,
): (Answer & { along: number[] | null })[] {
  return kind.ready.flatMap((r) => {
    const pick = (more: object) => ({ ...r.pick, ...more }) as unknown as Pick
    if (r.each === '') return [{ pick: pick({}), words: r.words, along: r.along }]
    if (r.each === 'part') return parts.map((p) => ({ pick: pick({ part: p.id }), words: r.words.replace('{part}', p.name), along: r.along }))
    return made[r.each].filter((s) => !r.holds || holds(s.id, r.holds)).map((s) => ({ pick: pick({ step: s.id }), words: r.words.replace('{step}', s.title), along: r.along }))
  })
}

/** The server's answer to what a pick stands for, as things of the stage. */
export const thingsOf = (found: ThingOut[]): Thing[] =>
  found.flatMap((t): Thing[] => {
    if (t.type === 'face' || t.type === 'edge') return [{ type: t.type, part: t.part!, index: t.index! }]
    if (t.type === 'region' || t.type === 'line') return [{ type: t.type, step: t.step!, name: t.name! }]
    return t.type === 'plane' || t.type === 'axis' || t.type === 'point' ? [{ type: t.type, step: t.step! }] : []
  })

/** All things that suit a kind of pick, with the words of a list: for the keyboard, and for tests. */
export function allThings(
  kind: PickKind, parts: { id: string; name: string }[], sketches: Record<string, SketchOut>, titles: (step: string) => string, shown: Shown, unit = 'mm',
): { thing: Thing; words: string; at?: Place }[] {
  const out: { thing: Thing; words: string; at?: Place }[] = []
  const seen = new Set<string>()
  const add = (thing: Thing, label: string, at?: Place) => {
    const point = pointingFor(kind, thing, shown, at)
    const words = point?.words.replace('{thing}', label)
    // at the end of a round edge its centre is meant, which the list has already
    if (!words || seen.has(words) || (at && point?.thing !== 'corner')) return
    seen.add(words)
    out.push({ thing, words, at })
  }
  const takes = (thing: string) => kind.points.some((p) => p.thing === thing)
  for (const part of parts) {
    const header = shown.header(part.id)
    if (!header) continue
    if (takes('face')) header.faces.forEach((f, index) => add({ type: 'face', part: part.id, index }, f.label))
    // single edges are many: those who want one edge of many point at it, or take all round a face
    if (takes('edge') && !kind.many) header.edges.forEach((e, index) => !e.smooth && add({ type: 'edge', part: part.id, index }, e.label))
    if (takes('corner'))
      header.edges.forEach((e, index) => {
        if (e.smooth) return
        for (const at of shown.edgeEnds(part.id, index) ?? []) add({ type: 'edge', part: part.id, index }, `corner of ${part.name} at ${[at.x, at.y, at.z].map((v) => Math.round(v * 100) / 100 || 0).join(', ')}`, at)
      })
  }
  for (const [step, sketch] of Object.entries(sketches)) {
    if (takes('region') && sketch.regions.length > 1) sketch.regions.forEach((r, i) => add({ type: 'region', step, name: r.name }, `area ${i + 1} of ${titles(step)}, ${area(r.area_mm2, unit)}${r.loops.length > 2 ? ` with ${r.loops.length - 1} holes` : r.loops.length > 1 ? ' with a hole' : ''} about ${r.centre.map((v) => plain(unit === 'in' ? v / 25.4 : v, unit === 'in' ? 2 : 1)).join(', ')}`))
    if (takes('line'))
      Object.entries(sketch.lines).forEach(([name, [a, b]]) => {
        const [dx, dy] = [Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])]
        const way = dx < 1e-6 * dy ? 'upright' : dy < 1e-6 * dx ? 'level' : 'leaning'
        const at = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2].map((v) => Math.round(v * 100) / 100 || 0).join(', ')
        add({ type: 'line', step, name }, `${way} line of ${titles(step)} at ${at}, ${Math.round(Math.hypot(dx, dy) * 100) / 100} long`)
      })
  }
  return out
}

export const pickOf = (fields: Fields, name: string): Pick | null => {
  const value = fields[name]
  return value && typeof value === 'object' && 'rule' in value ? (value as Pick) : null
}
