import { describe, expect, it } from 'vitest'
import { type PickKind, type Shown, type Thing, allThings, countOf, pickWith, pointingFor, readyAnswers } from '../src/state/picks'
import type { Things } from '../src/stage/blob'

const seen = (at: [number, number, number]) => ({ kind: 'plane', at, direction: [0, 0, 1], size: 1, around: [], label: '', radius: 0, axis: [0, 0, 0] }) as Things['faces'][number]['seen']
const face = (name: string, kind: string, hollow = false, loops = 1) => ({ name, label: `${name} of {part}`, kind, hollow, loops, seen: seen([0, 0, 0]) })
const edge = (name: string, at: [number, number, number]) => ({ name, label: name, kind: 'line', between: [0, 1] as [number, number], seen: seen(at), smooth: false })

const parts: Record<string, Things> = {
  p1: { faces: [face('top', 'plane', false, 2), face('bore', 'cylinder', true), face('boss', 'cylinder')], edges: [edge('e1', [5, 0, 0]), edge('e2', [0, 5, 0])] },
  p2: { faces: [face('lid', 'plane')], edges: [edge('e1', [9, 9, 9])] },
}
const shown: Shown = {
  header: (part) => parts[part],
  edgeEnds: (_, index) => (index ? [{ x: 0, y: 0, z: 0 }, { x: 0, y: 10, z: 0 }] : [{ x: 0, y: 0, z: 0 }, { x: 10, y: 0, z: 0 }]),
}
const pointing = (more: object) => ({ thing: 'face', rule: 'r', slot: 'faces', only: [], many: true, plus: {}, words: '{thing}', loops: 1, ...more })
const kind = (many: boolean, ...points: object[]) => ({ kind: 'k', hint: '', many, points: points.map(pointing), ready: [] }) as unknown as PickKind
const at = (type: 'face' | 'edge', part: string, index: number): Thing => ({ type, part, index })

describe('pointing', () => {
  it('takes what the kind of pick takes, and nothing else', () => {
    const holes = kind(false, { only: ['hollow cylinder'], many: false, slot: 'face' })
    expect(pointingFor(holes, at('face', 'p1', 1), shown)).not.toBeNull()
    expect(pointingFor(holes, at('face', 'p1', 2), shown)).toBeNull()
    expect(pointingFor(holes, at('face', 'p1', 0), shown)).toBeNull()
    expect(pickWith(holes, null, at('edge', 'p1', 0), shown)).toBeUndefined()
    // a rim is a flat face with an opening in it
    const rims = kind(false, { only: ['plane'], loops: 2, many: false, slot: 'face' })
    expect(pointingFor(rims, at('face', 'p1', 0), shown)).not.toBeNull()
    expect(pointingFor(rims, at('face', 'p2', 0), shown)).toBeNull()
  })

  it('grows a list and shrinks it again, over several parts', () => {
    const faces = kind(true, {})
    const one = pickWith(faces, null, at('face', 'p1', 0), shown)!
    expect(one).toMatchObject({ rule: 'r', part: 'p1', faces: [{ name: 'top' }] })
    const two = pickWith(faces, one, at('face', 'p2', 0), shown)!
    // what is of another part says so, and the pick's own part stays
    expect(two).toMatchObject({ part: 'p1', faces: [{ name: 'top' }, { name: 'lid', part: 'p2' }] })
    expect(countOf(two)).toBe(2)
    const back = pickWith(faces, two, at('face', 'p1', 0), shown)!
    expect(back).toMatchObject({ faces: [{ name: 'lid', part: 'p2' }] })
    expect(pickWith(faces, back, at('face', 'p2', 0), shown)).toBeNull()
  })

  it('keeps an edge of one name on two parts apart', () => {
    const edges = kind(true, { thing: 'edge', slot: 'edges' })
    const one = pickWith(edges, null, at('edge', 'p1', 0), shown)!
    expect(countOf(pickWith(edges, one, at('edge', 'p2', 0), shown)!)).toBe(2)
  })

  it('counts a corner once, whichever of its edges was near', () => {
    const corners = kind(true, { thing: 'corner', slot: 'corners' })
    const near = { x: 0.1, y: 0.1, z: 0 }
    const one = pickWith(corners, null, at('edge', 'p1', 0), shown, near)!
    expect(countOf(one)).toBe(1)
    expect(pickWith(corners, one, at('edge', 'p1', 1), shown, near)).toBeNull()
  })

  it('begins anew when another rule is pointed at', () => {
    const both = kind(true, { only: ['plane'] }, { thing: 'edge', rule: 'other', slot: 'edges' })
    const one = pickWith(both, null, at('face', 'p1', 0), shown)!
    expect(pickWith(both, one, at('edge', 'p1', 1), shown)).toMatchObject({ rule: 'other', edges: [{ name: 'e2' }] })
  })
})

describe('lists for the keyboard', () => {
  it('hold each thing that suits, once', () => {
    const words = allThings(kind(false, { only: ['plane'], many: false, slot: 'face' }), [{ id: 'p1', name: 'A' }, { id: 'p2', name: 'B' }], {}, () => '', shown).map((t) => t.words)
    expect(words).toEqual(['top of {part}', 'lid of {part}'])
  })

  it('put names into ready answers', () => {
    const ready = { ...kind(false), ready: [{ pick: { rule: 'upright' }, each: 'part', words: 'the upright edges of {part}', along: null }, { pick: { rule: 'ground' }, each: '', words: 'the ground', along: null }] } as unknown as PickKind
    expect(readyAnswers(ready, [{ id: 'p1', name: 'Hopper' }], { plane: [], axis: [], point: [], sketch: [], work: [] }).map((a) => [a.words, a.pick])).toEqual([
      ['the upright edges of Hopper', { rule: 'upright', part: 'p1' }], ['the ground', { rule: 'ground' }],
    ])
  })
})
