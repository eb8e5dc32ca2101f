import { describe, expect, it } from 'vitest'
import type { FieldOut, Fields, Kind } from '../src/api/client'
import type { Draft } from '../src/state/store'
import { fieldIsNewPart, nextPartName, placeOf, shownChips, specAt, valueAt, withAnswer } from '../src/state/fields'

const field = (name: string, more: Partial<FieldOut> = {}): FieldOut => ({ name, type: 'length', default: '1 mm', newPart: '', fields: [], ...more }) as FieldOut
const piece = (chip: string, more: object = {}) => ({ text: '', chip, when: {}, want: '', each: '', pieces: [], ...more })

/** A fillet with a list of clauses, a choice that asks for more, a part that may be new, and a figure that appears when it is wanted. */
const kind = {
  kind: 'x',
  fields: [
    field('radius'),
    field('more', { type: 'list', default: null, fields: [field('edges', { type: 'edges', default: null }), field('radius')] }),
    field('operation', { type: 'choice', default: 'new' }),
    field('part', { type: 'part', default: null, newPart: 'operation=new,keep' }),
    field('aside', { default: '0 mm' }),
  ],
  sentence: [
    piece('radius'), piece('', { each: 'more', pieces: [piece('edges'), piece('radius')] }), piece('operation'), piece('part', { when: { operation: ['new', 'add'] } }), piece('aside', { want: 'beside' }),
  ],
} as unknown as Kind

describe('fields of a step', () => {
  it('are found by their paths, in clauses too', () => {
    expect(specAt(kind, 'more.3.edges')?.type).toBe('edges')
    expect(specAt(kind, 'nothing')).toBeUndefined()
    expect(specAt(kind, 'radius.edges')).toBeUndefined()
    const fields: Fields = { radius: '1 mm', more: [{ radius: '2 mm' }, { radius: '3 mm' }] }
    expect(valueAt(fields, 'more.1.radius')).toBe('3 mm')
    expect(valueAt(fields, 'more.7.radius')).toBeUndefined()
  })

  it('change at the path only, and the old ones stay as they were', () => {
    const fields: Fields = { radius: '1 mm', more: [{ radius: '2 mm' }, { radius: '3 mm' }] }
    expect(withAnswer(fields, 'more.1.radius', '9 mm')).toEqual({ more: [{ radius: '2 mm' }, { radius: '9 mm' }] })
    expect(withAnswer(fields, 'radius', '4 mm')).toEqual({ radius: '4 mm' })
    expect(fields).toEqual({ radius: '1 mm', more: [{ radius: '2 mm' }, { radius: '3 mm' }] })
  })

  it('are asked for as far as the answers and the wishes go', () => {
    expect(shownChips(kind, { operation: 'cut' })).toEqual(['radius', 'operation'])
    expect(shownChips(kind, { operation: 'add', more: [{}, {}] })).toEqual(['radius', 'more.0.edges', 'more.0.radius', 'more.1.edges', 'more.1.radius', 'operation', 'part'])
    expect(shownChips(kind, { operation: 'cut' }, ['beside'])).toContain('aside')
    // what was answered otherwise than at first stays to be seen
    expect(shownChips(kind, { operation: 'cut', aside: '3 mm' })).toContain('aside')
  })

  it('say whether a part is new, and where a step stands', () => {
    expect(fieldIsNewPart(kind, { operation: 'keep' }, 'part')).toBe(true)
    expect(fieldIsNewPart(kind, { operation: 'add' }, 'part')).toBe(false)
    expect(fieldIsNewPart(kind, {}, 'radius')).toBe(false)
    expect(nextPartName(['Part 3', 'Lid'])).toBe('Part 4')
    const recipe = [{ id: 'a' }, { id: 'b' }]
    expect(placeOf('b', recipe, null)).toBe(1)
    expect(placeOf('draft', recipe, { after: 'a' } as Draft)).toBe(1)
    expect(placeOf('draft', recipe, { after: null } as Draft)).toBe(2)
  })
})
