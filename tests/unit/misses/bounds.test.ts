import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Admission, ADMISSION, HeavyPaths } from '../../../core/misses'

const HOUR = 3_600_000

describe('the sketch of heavy paths', () => {
  // Metwally, Agrawal & El Abbadi 2005, theorems 3.2 and 3.5 by their sense, from memory.
  it('never counts too little, and keeps whatever was asked more than all ÷ counters', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 40 }), { maxLength: 400 }), (asked) => {
        const sketch = new HeavyPaths(8)
        const exact = new Map<string, number>()
        for (const number of asked) {
          const path = String(number * number)
          sketch.count(path)
          exact.set(path, (exact.get(path) ?? 0) + 1)
        }
        const kept = new Map(sketch.kept().map((one) => [one.path, one]))
        expect(kept.size).toBeLessThanOrEqual(8)
        for (const [path, { atLeast, atMost }] of kept) {
          expect(atLeast).toBeLessThanOrEqual(exact.get(path)!)
          expect(atMost).toBeGreaterThanOrEqual(exact.get(path)!)
        }
        for (const [path, count] of exact) if (count > asked.length / 8) expect(kept.has(path)).toBe(true)
      }),
    )
  })
})

describe('admission', () => {
  it('writes all of an ordinary hour', () => {
    const admission = new Admission()
    for (let at = 0; at < 500; at++) expect(admission.admits(1, `path-${at % 60}`, `token-${at % 90}`, 0)).toBe(true)
    expect(admission.takeCuts(0)).toEqual([])
  })
  it('lets one visitor bring so many paths, counts the rest, and others go on', () => {
    const admission = new Admission()
    let written = 0
    for (let at = 0; at < 5000; at++) written += Number(admission.admits(1, `scan-${at}`, 'scanner', 0))
    expect(written).toBe(ADMISSION.eachToken)
    expect(admission.admits(1, 'fraes', 'somebody', 0)).toBe(true)
    expect(admission.takeCuts(0)).toEqual([{ domainId: 1, hour: 0, requests: 5000 - ADMISSION.eachToken }])
    expect(admission.takeCuts(0)).toEqual([])
  })
  it('stays within its bounds under a scan by many, and still finds what is asked again', () => {
    const admission = new Admission()
    const written = new Set<string>()
    let real = 0
    for (let at = 0; at < 200_000; at++) {
      const path = `scan/${at.toString(36)}`
      if (admission.admits(1, path, `scanner-${at % 20_000}`, 0)) written.add(path)
      if (at % 50 === 0 && admission.admits(1, 'fraes', `visitor-${at}`, 0)) real++
    }
    expect(written.size).toBeLessThanOrEqual(ADMISSION.paths + ADMISSION.mostPromoted)
    expect(real).toBeGreaterThan(3900)
  })
  it('knows paths of the hour before that several asked for', () => {
    const admission = new Admission()
    admission.admits(1, 'fraes', 'one', 0)
    admission.admits(1, 'fraes', 'two', 0)
    for (let at = 0; at < 300_000; at++) admission.admits(1, `scan-${at}`, `scanner-${at % 5000}`, HOUR)
    expect(admission.admits(1, 'fraes', 'three', HOUR)).toBe(true)
  })
  it('keeps the domains apart', () => {
    const admission = new Admission()
    for (let at = 0; at < 5000; at++) admission.admits(1, `scan-${at}`, `scanner-${at}`, 0)
    expect(admission.admits(2, 'anything', 'somebody', 0)).toBe(true)
  })
})
