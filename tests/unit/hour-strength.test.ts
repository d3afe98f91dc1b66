import { describe, expect, it } from 'vitest'
import { fullStrength, strengthOf } from '../../app/composables/hour-strength'

describe('the colours of a heat map', () => {
  const usual = Array.from({ length: 168 }, (_, hour) => 10 + (hour % 24))

  it('are not bleached by one outlier', () => {
    const full = fullStrength([...usual.slice(1), 100_000])
    expect(full).toBeLessThanOrEqual(33)
    expect(strengthOf(33, full)).toBe(1)
    expect(strengthOf(100_000, full)).toBe(1)
    expect(strengthOf(20, full)).toBeGreaterThan(0.5)
  })
  it('reach the most where that is not far from the others', () => {
    expect(fullStrength([...usual.slice(1), 40])).toBe(40)
  })
  it('are those of the most visits where there are few cells, or none', () => {
    expect(fullStrength([1, 5, 3])).toBe(5)
    expect(fullStrength([])).toBe(1)
    expect(fullStrength([0, 0])).toBe(1)
  })
  it('tell no visits from one', () => {
    expect(strengthOf(0, 50)).toBeLessThan(strengthOf(1, 50))
  })
})
