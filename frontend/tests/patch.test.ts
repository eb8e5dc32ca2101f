import { describe, expect, it } from 'vitest'
import { type Op, applyPatch } from '../src/state/patch'

const document = () => ({ name: 'Feeder', recipe: [{ id: 's1', fields: { radius: '9 mm' } }, { id: 's2', fields: {} }], values: { 'a/b': 1, 'c~d': 2 } })

describe('a patch', () => {
  it('adds, replaces, removes and moves, in order', () => {
    const patch: Op[] = [
      { op: 'replace', path: '/recipe/0/fields/radius', value: '10 mm' },
      { op: 'add', path: '/recipe/1', value: { id: 's3', fields: {} } },
      { op: 'move', from: '/recipe/0', path: '/recipe/2' },
      { op: 'remove', path: '/values/a~1b' },
      { op: 'replace', path: '/values/c~0d', value: 3 },
      { op: 'add', path: '/recipe/-', value: { id: 's4', fields: {} } },
    ]
    expect(applyPatch(document(), patch)).toEqual({
      name: 'Feeder',
      recipe: [{ id: 's3', fields: {} }, { id: 's2', fields: {} }, { id: 's1', fields: { radius: '10 mm' } }, { id: 's4', fields: {} }],
      values: { 'c~d': 3 },
    })
  })

  it('leaves the document before as it was, and shares with it what it does not touch', () => {
    const before = document()
    const after = applyPatch(before, [{ op: 'replace', path: '/recipe/1/fields', value: { on: true } }])
    expect(before).toEqual(document())
    // rows that did not change are the same objects, so that the page does not draw them again
    expect(after.recipe[0]).toBe(before.recipe[0])
    expect(after.values).toBe(before.values)
    expect(after.recipe[1]).not.toBe(before.recipe[1])
  })

  it('says so when it does not fit', () => {
    expect(() => applyPatch(document(), [{ op: 'replace', path: '/nowhere/0/x', value: 1 }])).toThrow('nothing is at')
    expect(() => applyPatch(document(), [{ op: 'move', from: '/recipe/7', path: '/recipe/0' }])).toThrow('nothing is at')
    expect(() => applyPatch(document(), [{ op: 'test', path: '/name', value: 'x' }])).toThrow('cannot test')
  })

  it('replaces the whole', () => {
    expect(applyPatch<unknown>(document(), [{ op: 'replace', path: '', value: [1] }])).toEqual([1])
  })
})
