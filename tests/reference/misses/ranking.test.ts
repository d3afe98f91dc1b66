import { describe, expect, it } from 'vitest'
import { canonicalSlug } from '../../../core/address'
import { LinkIndex, rank, type IndexedLink } from '../../../core/misses'
import { seeded } from '../../../server/database/seed/chance'
import { BY_HAND } from './by-hand'
import { demoRegister, mistypings, type LabelledMiss } from './demo-register'
import { editDistance, fuzzySearch, jaroWinklerRanker, type Ranker } from './rivals'
import { spellingList } from './spelling-list'
import { strangePaths } from './strange-paths'

const print = (line: string) => process.stdout.write(line + '\n')

// The noisy channel after Kernighan, Church & Gale (1990), slips after Damerau (1964) and Grudin (1983): from memory.
// The error model of the invented slips stands in standins/visitors/slips.ts; its seed here is none of the tuner's.
const SEED = 977
const register = demoRegister()

const byHand: LabelledMiss[] = BY_HAND.map(({ host, typed, meant }) => {
  const link = register.links.find((one) => one.host === host && one.slug === meant)!
  const sameness = { capitalsMatter: host !== 'ansl.example', trailingSlashMatters: false }
  return { kind: 'by hand', host, typed, path: canonicalSlug(typed, sameness)!, meant: link.id }
})
const invented = mistypings(register, 1200, SEED)
const ranked = (miss: LabelledMiss) =>
  rank(register.index, { domainId: register.hostIds.get(miss.host)!, path: miss.path })

const share = (count: number, of: number) => `${((100 * count) / of).toFixed(1)} %`

describe('mistypings of the demo’s addresses', () => {
  it('are misses, every one', () => {
    expect(byHand.length).toBeGreaterThanOrEqual(150)
    for (const { host, typed } of [...byHand, ...invented]) expect(register.answers(host, typed), typed).toBe(false)
  })

  it('have the intended link first in 92%, among three in 97%, with probabilities that come true', () => {
    const all = [...invented, ...byHand]
    const bins = Array.from({ length: 10 }, () => ({ count: 0, said: 0, true: 0 }))
    let first = 0
    let three = 0
    for (const miss of all) {
      const { candidates } = ranked(miss)
      const place = candidates.findIndex(({ link }) => link === miss.meant)
      first += Number(place === 0)
      three += Number(place >= 0 && place < 3)
      const said = candidates[0]?.probability ?? 0
      const bin = bins[Math.min(9, Math.floor(said * 10))]!
      bin.count++
      bin.said += said
      bin.true += Number(place === 0)
    }
    // Expected calibration error over ten bins (Guo et al. 2017, from memory).
    const error = bins.reduce((sum, bin) => sum + Math.abs(bin.said - bin.true), 0) / all.length
    const rivals: Record<string, Ranker> = {
      'plain edit distance': editDistance(register.links),
      'Jaro–Winkler': jaroWinklerRanker(register.links),
      'general fuzzy search': fuzzySearch(register.links),
    }
    const lines = [
      `this ranking: first ${share(first, all.length)}, three ${share(three, all.length)}, ECE ${error.toFixed(3)}`,
    ]
    for (const [name, ranker] of Object.entries(rivals)) {
      const found = all.map((miss) => ranker(miss.path).indexOf(miss.meant))
      const won = found.filter((place) => place === 0).length
      lines.push(
        `${name}: first ${share(won, all.length)}, three ${share(found.filter((p) => p >= 0).length, all.length)}`,
      )
      expect(first).toBeGreaterThan(won)
    }
    print(lines.join('\n'))
    expect(first / all.length).toBeGreaterThanOrEqual(0.92)
    expect(three / all.length).toBeGreaterThanOrEqual(0.97)
    expect(error).toBeLessThanOrEqual(0.04)
  }, 120_000)
})

describe('requests that mean nothing of ours', () => {
  it('are taken for that in 95%', () => {
    const [apex] = register.hostIds.values()
    const paths = strangePaths(seeded(SEED), 300)
    const won = paths.filter((path) => {
      const { candidates, none } = rank(register.index, { domainId: apex!, path })
      return none > (candidates[0]?.probability ?? 0)
    }).length
    print(`none wins in ${share(won, paths.length)} of 300`)
    expect(won / paths.length).toBeGreaterThanOrEqual(0.95)
  })
})

describe('real people’s misspellings', () => {
  it('find their word among 5,000 others in 95%, and by two points more than plain edit distance does', () => {
    const random = seeded(SEED)
    const shuffled = <Item>(items: Item[]): Item[] => {
      for (let at = items.length - 1; at > 0; at--) {
        const other = Math.floor(random() * (at + 1))
        ;[items[at], items[other]] = [items[other]!, items[at]!]
      }
      return items
    }
    const all = new Set([...spellingList(), ...spellingList('tuning')].map(({ meant }) => meant))
    const asked = shuffled(spellingList())
      .filter(({ typed }) => !all.has(typed))
      .slice(0, 2000)
    const own = new Set(asked.map(({ meant }) => meant))
    const others = shuffled([...all].filter((word) => !own.has(word))).slice(0, 5000)
    // The same prior for both: each word as likely as the other.
    const links = shuffled([...own, ...others]).map((canonical, at): IndexedLink => ({
      id: at + 1,
      leader: at + 1,
      domainId: 1,
      canonical,
      visits: 10,
      live: true,
      shown: true,
    }))
    const idOf = new Map(links.map(({ canonical, id }) => [canonical, id]))
    const index = LinkIndex.of(links)
    const plain = editDistance(links)
    let ours = 0
    let theirs = 0
    for (const { typed, meant } of asked) {
      ours += Number(rank(index, { domainId: 1, path: typed }).candidates[0]?.link === idOf.get(meant))
      theirs += Number(plain(typed)[0] === idOf.get(meant))
    }
    print(
      `misspellings: first ${share(ours, asked.length)}, plain edit distance ${share(theirs, asked.length)}, of ` +
        `${asked.length} among ${links.length} slugs`,
    )
    expect(ours / asked.length).toBeGreaterThanOrEqual(0.95)
    expect((ours - theirs) / asked.length).toBeGreaterThanOrEqual(0.02)
  }, 240_000)
})
