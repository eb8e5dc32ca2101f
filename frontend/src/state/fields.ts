/** Fields of steps by their paths, and what a sentence asks for with them: all from what it is given. */
import type { FieldOut, FieldValue, Fields, Kind } from '../api/client'
import type { Draft } from './store'

export function nextPartName(taken: string[]): string {
  let n = taken.length + 1
  while (taken.includes(`Part ${n}`)) n++
  return `Part ${n}`
}

/** A field by its path: ``radius``, or ``more.0.radius`` for one of a clause. */
export function specAt(kind: Kind, path: string): FieldOut | undefined {
  let specs = kind.fields
  let found: FieldOut | undefined
  for (const name of path.split('.')) {
    if (/^\d+$/.test(name)) continue
    found = specs.find((f) => f.name === name)
    if (!found) return undefined
    specs = found.fields
  }
  return found
}

export const valueAt = (fields: Fields, path: string): unknown =>
  path.split('.').reduce<unknown>((v, key) => (v && typeof v === 'object' ? (v as Record<string, unknown>)[key] : undefined), fields)

/** The answers that stand before anybody gives one. */
export const defaultsOf = (specs: Kind['fields']): Fields => Object.fromEntries(specs.filter((f) => f.default !== null).map((f) => [f.name, f.default as FieldValue]))

/** The top field of a path with another answer at the path's end, as a command changes it. */
export function withAnswer(fields: Fields, path: string, value: FieldValue | undefined): Fields {
  const [top, ...rest] = path.split('.')
  const into = (old: FieldValue | undefined, keys: string[]): FieldValue | undefined => {
    if (!keys.length) return value
    const copy = (Array.isArray(old) ? [...old] : { ...(old as object) }) as Fields
    copy[keys[0]] = into(copy[keys[0]], keys.slice(1))
    return copy
  }
  return { [top]: into(fields[top], rest) }
}

/** The chips that a sentence shows for some answers, by their paths and in order. */
export function shownChips(kind: Kind, fields: Fields, wants: string[] = []): string[] {
  const told = (when: Record<string, string[]>, of: Fields) => Object.entries(when).every(([n, answers]) => answers.includes(String(of[n])))
  const wanted = (want: string) =>
    !want || wants.includes(want) || kind.sentence.some((p) => p.want === want && p.chip && fields[p.chip] !== undefined && fields[p.chip] !== kind.fields.find((f) => f.name === p.chip)?.default)
  return kind.sentence.flatMap((p) => {
    if (p.each) return ((fields[p.each] ?? []) as Fields[]).flatMap((clause, i) => p.pieces.filter((q) => q.chip && told(q.when, clause)).map((q) => `${p.each}.${i}.${q.chip}`))
    return p.chip && told(p.when, fields) && wanted(p.want) ? [p.chip] : []
  })
}

export function makesPart(field: FieldOut, fields: Fields): boolean {
  if (field.newPart === '' || field.newPart === 'always') return field.newPart === 'always'
  const [name, answers] = field.newPart.split('=')
  return answers.split(',').includes(String(fields[name]))
}

/** Whether the chip at a path takes a part that the step makes; one in a clause never does. */
export function fieldIsNewPart(kind: Kind, fields: Fields, path: string): boolean {
  const field = kind.fields.find((f) => f.name === path)
  return !!field && field.type === 'part' && makesPart(field, fields)
}

type Steps = { id: string }[]

/** Where a new step after another would stand in the recipe; at its end after ``null``. */
export const placeAfter = (after: string | null, recipe: Steps): number => (after === null ? recipe.length : recipe.findIndex((s) => s.id === after) + 1)

/** Where a step stands in the recipe, or where the draft would. */
export const placeOf = (step: string, recipe: Steps, draft: Draft | null): number =>
  step === 'draft' && draft ? placeAfter(draft.after, recipe) : recipe.findIndex((s) => s.id === step)
