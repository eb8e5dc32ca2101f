import { describe, expect, it } from 'vitest'
import { byPulling, roundTo } from '../src/stage/grips'

describe('pulling a grip', () => {
  it('writes a figure in place of a figure', () => {
    expect(byPulling('12 mm', 12, 14.5, 'mm')).toBe('14.5 mm')
    expect(byPulling('0.5 in', 12.7, 25.4, 'in')).toBe('1 in')
    expect(byPulling('-3 mm', -3, -4, 'mm')).toBe('-4 mm')
  })

  it('adds to a formula, so that it still follows', () => {
    expect(byPulling('2 * wall', 3.4, 5.4, 'mm')).toBe('2 * wall + 2 mm')
    expect(byPulling('tall', 20, 18.5, 'mm')).toBe('tall - 1.5 mm')
    expect(byPulling('tall', 20, 20, 'mm')).toBe('tall')
  })

  it('rounds to what a pixel can mean', () => {
    expect(roundTo(12.34, 0.05, 'mm')).toBeCloseTo(12.3)
    expect(roundTo(12.34, 0.4, 'mm')).toBeCloseTo(12.5)
    expect(roundTo(12.34, 3, 'mm')).toBeCloseTo(10)
    expect(roundTo(13, 0.5, 'in')).toBeCloseTo(12.7)
  })
})
