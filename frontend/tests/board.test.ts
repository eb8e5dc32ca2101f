import { describe, expect, it } from 'vitest'
import { arcAbout, arcOver, beside, besideArc, centreOf, commandFor, meantArc, meantLine, splineThrough } from '../src/board/drawing'
import { type SketchDoc, type Vec2, between, nearestOn, places } from '../src/board/geometry'
import { sizeOf } from '../src/board/sizing'
import { result, stepped } from '../src/widgets/figures'

const point = (id: string, x: number, y: number) => ({ id, x, y })
const line = (id: string, a: string, b: string) => ({ id, kind: 'line' as const, points: [a, b], radius: 0, construction: false })
/** A level line, one that leans by 30 degrees, and an arc about (20, 10) that ends in (20, 20). */
const sketch: SketchDoc = {
  points: [point('a', 0, 0), point('b', 20, 0), point('c', 40, 20 / Math.sqrt(3)), point('m', 20, 10), point('e', 20, 20)],
  curves: [line('l1', 'a', 'b'), line('l2', 'b', 'c'), { id: 'a1', kind: 'arc', points: ['m', 'b', 'e'], radius: 0, construction: false }],
  constraints: [], dimensions: [],
}
const at = places(sketch, undefined, null)
const spot = (x: number, y: number, on: string | null = null) => ({ at: [x, y] as Vec2, on })

describe('what a drawing hand means', () => {
  it('is level or upright within a few degrees, and nothing with Alt', () => {
    expect(meantLine(sketch, at, spot(100, 100), spot(130, 101), false)).toMatchObject({ tie: 'horizontal' })
    expect(meantLine(sketch, at, spot(100, 100), spot(101, 70), false)).toMatchObject({ tie: 'vertical' })
    expect(meantLine(sketch, at, spot(100, 100), spot(130, 101), true).tie).toBe('')
    expect(meantLine(sketch, at, spot(100, 100), spot(120, 112), false).tie).toBe('parallel')
    expect(meantLine(sketch, at, spot(100, 100), spot(120, 117), false).tie).toBe('')
  })

  it('is square to the line that it goes on from', () => {
    const way = (120 * Math.PI) / 180
    const meant = meantLine(sketch, at, spot(...(at.c as [number, number]), 'c'), spot(at.c[0] + 10 * Math.cos(way) + 0.2, at.c[1] + 10 * Math.sin(way)), false)
    expect(meant).toMatchObject({ tie: 'perpendicular', to: 'l2' })
    // and its end then lies exactly there
    const off = [meant.at[0] - at.c[0], meant.at[1] - at.c[1]]
    expect(off[0] * Math.cos(Math.PI / 6) + off[1] * Math.sin(Math.PI / 6)).toBeCloseTo(0, 9)
  })

  it('touches the arc that it goes on from', () => {
    // the arc runs counter-clockwise: at its end it goes to the left
    expect(meantLine(sketch, at, spot(20, 20, 'e'), spot(5, 20.4), false).tie).toMatch(/tangent|horizontal/)
    expect(meantArc(sketch, at, spot(20, 20, 'e'), spot(10, 30), spot(13, 22.5), false).to).toBe('a1')
  })
})

describe('arcs and circles by places', () => {
  it('have the centre that geometry gives', () => {
    expect(between(centreOf([5, 0], [0, 5], [-5, 0])!, [0, 0])).toBeLessThan(1e-12)
    expect(centreOf([0, 0], [1, 0], [2, 0])).toBeNull()
    const over = arcOver([5, 0], [-5, 0], [0, 5])!
    expect(over.every((p) => Math.abs(Math.hypot(...p) - 5) < 1e-9 && p[1] > -1e-9)).toBe(true)
    const about = arcAbout([0, 0], [5, 0], [0, -9])
    expect(about.every((p) => p[1] < 1e-9)).toBe(true)
    expect(beside([0, 0], [10, 0], [4, -3])).toBeCloseTo(3)
    expect(besideArc([5, 0], [-5, 0], [0, 5], [0, 7])).toBeCloseTo(2)
  })

  it('splines go through their nodes', () => {
    const poles = splineThrough([[0, 0], [10, 5], [20, 0]], false)
    expect(poles).toHaveLength(7)
    expect([poles[0], poles[3], poles[6]]).toEqual([[0, 0], [10, 5], [20, 0]])
    expect(splineThrough([[0, 0], [10, 5], [20, 0]], true)).toHaveLength(10)
  })

  it('the nearest place on a run is the foot of the perpendicular', () => {
    expect(nearestOn([[0, 0], [10, 0]], [3, 4])).toEqual([3, 0])
    expect(between(nearestOn([[0, 0], [10, 0]], [-3, 4]), [0, 0])).toBeCloseTo(0)
  })
})

describe('the size that fits a selection', () => {
  it('is told by what is selected', () => {
    expect(sizeOf(['l1'], sketch, 'drive')).toEqual({ kind: 'length', of: ['l1'] })
    expect(sizeOf(['l1', 'l2'], sketch, 'drive')).toEqual({ kind: 'angle', of: ['l1', 'l2'] })
    expect(sizeOf(['l1', 'c'], sketch, 'drive')).toEqual({ kind: 'distance', of: ['c', 'l1'] })
    expect(sizeOf(['a', 'e'], sketch, 'across')).toEqual({ kind: 'distance_x', of: ['a', 'e'] })
    expect(sizeOf(['a1'], sketch, 'drive')).toEqual({ kind: 'radius', of: ['a1'] })
    expect(sizeOf(['a'], sketch, 'drive')).toBeNull()
    expect(sizeOf(['l1', 'a1'], sketch, 'along')).toEqual({ kind: 'perimeter', of: ['l1', 'a1'] })
  })
})

describe('commands and figures', () => {
  it('a written place travels with its formulas', () => {
    const command = commandFor('circle', 's1', [{ ...spot(3, 4), x: 'wall', y: '4' }, spot(6, 8)], { sides: 6, construction: false, words: '', height: '' })
    expect(command).toMatchObject({ do: 'DrawCircle', centre: [3, 4], radius: 5 })
    const point = commandFor('point', 's1', [{ ...spot(3, 4), x: 'wall', y: '4' }], { sides: 6, construction: false, words: '', height: '' })
    expect(point).toMatchObject({ do: 'DrawPoint', at: { x: 'wall', y: '4' } })
  })

  it('arrow keys step bare figures and leave formulas alone', () => {
    expect(stepped('1.7 mm', 0.1)).toBe('1.8 mm')
    expect(stepped('83', -1)).toBe('82')
    expect(stepped('wall + 1', 0.1)).toBeNull()
    expect(result('wall + 1 mm', 2.7, 'length', 'mm')).toBe('2.7 mm')
    expect(result('2.7 mm', 2.7, 'length', 'mm')).toBe('')
    expect(result('1 in', 25.4, 'length', 'in')).toBe('')
  })
})
