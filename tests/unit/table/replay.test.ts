import { describe, expect, it } from 'vitest'
import { NOBODY } from '../../../core/conditions'
import {
  compile,
  copyTable,
  FATES,
  joinReplayed,
  patchTable,
  Replay,
  seenIn,
  type Fate,
  type TableAt,
} from '../../../core/table'
import { fateOf } from '../../../core/table/replay'
import type { CompiledRule } from '../../../core/table/rule'
import { seeded } from '../../../server/database/seed/chance'
import type { LinkRow, RuleRow } from '../../../core/rows'
import { domainRow, linkRow, ruleRow } from './rows'

const NOW = Date.parse('2026-11-27T12:00:00Z')
const domain = (id: number, host: string) => domainRow({ id, host })
const link = (id: number, slug: string, destination: string, more: Partial<LinkRow> = {}) =>
  linkRow({ id, slug, destination, ...more })
const rule = (id: number, pattern: string, destination: string, more: Partial<RuleRow> = {}) =>
  ruleRow({ id, position: id, pattern, destination, ...more })

const base = compile(
  [domain(1, 'ansl.example'), domain(2, 'go.example')],
  [
    link(1, 'fares', 'https://one.example/'),
    link(2, 'chain', 'https://ansl.example/fares'),
    link(3, 'gone', 'https://three.example/', { standing: 'retired' }),
    link(4, 'later', 'https://four.example/', { startsAt: NOW + 1000 }),
    link(5, 'kept', 'https://five.example/', { status: 301 }),
  ],
  1,
  [rule(1, '/stop/:id', 'https://stops.example/{id}')],
)
const ask = (target: string, count = 1, language = '') => ({ host: 'ansl.example', target, language, count })
function put(patch: Parameters<typeof patchTable>[1], requests: readonly ReturnType<typeof ask>[]) {
  const after = copyTable(base)
  patchTable(after, patch)
  const replay = new Replay({ table: base, now: NOW }, { table: after, now: NOW })
  for (const request of requests) replay.put(request)
  return replay.told()
}
const fateOfOne = (patch: Parameters<typeof patchTable>[1], target: string, language = ''): Fate => {
  const { counts } = put(patch, [ask(target, 1, language)])
  return FATES.find((fate) => counts[fate] === 1)!
}

describe('replay', () => {
  it.each<[Fate, string, Parameters<typeof patchTable>[1], string]>([
    ['same', 'nothing changed', {}, '/fares'],
    ['elsewhere', 'another destination', { links: [link(1, 'fares', 'https://other.example/')] }, '/fares'],
    ['elsewhere', 'the end of a chain changed', { links: [link(1, 'fares', 'https://other.example/')] }, '/chain'],
    ['same', 'a chain made straight', { links: [link(2, 'chain', 'https://one.example/')] }, '/chain'],
    ['status', 'another status', { links: [link(1, 'fares', 'https://one.example/', { status: 301 })] }, '/fares'],
    ['lost', 'a link that goes', { gone: [{ domainId: 1, canonical: 'fares' }] }, '/fares'],
    [
      'lost',
      'a link that is paused',
      { links: [link(1, 'fares', 'https://one.example/', { standing: 'paused' })] },
      '/fares',
    ],
    ['lost', 'a chain whose end goes', { gone: [{ domainId: 1, canonical: 'fares' }] }, '/chain'],
    ['served', 'a link that comes', { links: [link(9, 'new', 'https://new.example/')] }, '/new'],
    ['served', 'a rule that comes', { rules: [rule(2, '/line/:id', 'https://lines.example/{id}')] }, '/line/4'],
    ['missing', 'nothing there before and after', {}, '/nothing'],
    ['missing', 'scheduled still', {}, '/later'],
    ['missing', 'retired still', {}, '/gone'],
    ['loop', 'a circle of two', { links: [link(1, 'fares', 'https://ansl.example/chain')] }, '/chain'],
    ['lost', 'a rule that goes', { rules: [] }, '/stop/4'],
    ['elsewhere', 'a link in place of a rule', { links: [link(9, 'stop/4', 'https://four.example/')] }, '/stop/4'],
  ])('%s: %s', (fate, _what, patch, target) => {
    expect(fateOfOne(patch, target)).toBe(fate)
  })

  it('asks as the visitor did where a rule asks for the language', () => {
    const rules = [
      rule(1, '/stop/:id', 'https://pt.example/{id}', { condition: [{ kind: 'language', languages: ['pt'] }] }),
    ]
    expect(fateOfOne({ rules }, '/stop/4', 'pt-PT')).toBe('elsewhere')
    expect(fateOfOne({ rules }, '/stop/4', 'de')).toBe('lost')
  })

  it('counts every request, equal ones together, with the most asked of each kind as examples', () => {
    const told = put({ links: [link(1, 'fares', 'https://other.example/')] }, [
      ask('/fares', 5),
      ask('/fares', 2),
      ask('/chain', 1),
      ask('/kept', 10),
      ask('/nothing', 3),
    ])
    expect(told.requests).toBe(21)
    expect(told.counts).toMatchObject({ elsewhere: 8, same: 10, missing: 3, lost: 0, loop: 0, served: 0, status: 0 })
    expect(told.examples.elsewhere.map(({ target, count }) => [target, count])).toEqual([
      ['/fares', 7],
      ['/chain', 1],
    ])
    expect(told.examples.elsewhere[0]).toMatchObject({
      before: { end: 'https://one.example/', status: 302 },
      after: { end: 'https://other.example/', status: 302 },
    })
  })

  it('joins what two counted of requests dealt out among them', () => {
    const patch = { links: [link(1, 'fares', 'https://other.example/')] }
    const requests = [ask('/fares', 5), ask('/chain', 1), ask('/kept', 10), ask('/nothing', 3)]
    const parts = [put(patch, requests.slice(0, 2)), put(patch, requests.slice(2))]
    expect(joinReplayed(parts)).toEqual(put(patch, requests))
  })

  it('leaves the table it was copied of as it was', () => {
    const after = copyTable(base)
    patchTable(after, { gone: [{ domainId: 1, canonical: 'fares' }], rules: [] })
    expect(seenIn({ table: base, now: NOW }, ask('/fares')).found).toBe(true)
    expect(seenIn({ table: base, now: NOW }, ask('/stop/4')).found).toBe(true)
    expect(seenIn({ table: after, now: NOW }, ask('/fares')).found).toBe(false)
  })

  it('takes dates into account: a moment later a scheduled link is served', () => {
    const replay = new Replay({ table: base, now: NOW }, { table: base, now: NOW + 2000 })
    replay.put(ask('/later'))
    expect(replay.told().counts.served).toBe(1)
  })
})

describe('what two tables share', () => {
  it('is asked of one alone, and comes to what asking both comes to', () => {
    const random = seeded(4711)
    const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
    const slugs = ['fares', 'Fares', 'night', 'stop/4', 'zone', 'line/9', 'faros', 'page-a', 'zone.']
    const ends = [
      'https://one.example/',
      'https://two.example/',
      'https://ansl.example/night',
      'https://go.example/zone',
      'https://ansl.example/stop/4',
    ]
    const anyLink = (): LinkRow =>
      link(1 + Math.floor(random() * 12), pick(slugs), pick(ends), {
        domainId: 1 + Math.floor(random() * 2),
        status: pick([301, 302]),
        standing: pick(['live', 'live', 'live', 'paused', 'ended', 'retired']),
        startsAt: pick([null, null, NOW + 5]),
        endsAt: pick([null, null, NOW - 5]),
        endedDestination: pick([null, 'https://ended.example/']),
      })
    const patterns = ['/stop/:id', '/line/*', '/page{-:x}?', '/:any', '/zone/:a/:b?']
    const anyRule = (id: number): RuleRow => rule(id, pick(patterns), pick(ends), { domainId: 1 + (id % 2) })
    const anyDomain = (id: number, host: string) =>
      domainRow({
        id,
        host,
        forgiveness: { punctuation: random() < 0.4, capitals: random() < 0.4, lookAlikes: random() < 0.4 },
        notFoundDestination: pick([null, 'https://lost.example/', 'https://go.example/fares']),
        endedDestination: pick([null, 'https://over.example/']),
      })
    const rules = () => [1, 2, 3, 4].map(anyRule)
    let compared = 0
    for (let round = 0; round < 300; round++) {
      const before = compile(
        [anyDomain(1, 'ansl.example'), anyDomain(2, 'go.example')],
        Array.from({ length: 8 }, anyLink),
        1,
        rules(),
      )
      const after = copyTable(before)
      patchTable(after, {
        gone: random() < 0.3 ? [{ domainId: 1, canonical: pick(slugs) }] : [],
        links: Array.from({ length: Math.floor(random() * 3) }, anyLink),
        domains: random() < 0.2 ? [anyDomain(2, 'go.example')] : [],
        ...(random() < 0.3 && { rules: rules() }),
      })
      const [one, other] = [before, after].map((table) => ({ table, now: NOW })) as [TableAt, TableAt]
      for (const host of ['ansl.example', 'go.example', 'elsewhere.example'])
        for (const slug of [...slugs, 'FARES', 'line/7', 'page-b', 'nothing', 'zone/1/2', '', 'robots.txt'])
          for (const target of [`/${slug}`, `/${slug}?a=1`]) {
            const request = { host, target, language: '', count: 1 }
            const replay = new Replay(one, other)
            replay.put(request)
            const fate = fateOf(seenIn(one, request), seenIn(other, request))
            expect(replay.told().counts[fate], `${round} ${host}${target}`).toBe(1)
            compared++
          }
    }
    expect(compared).toBe(300 * 3 * 16 * 2)
  })
})

describe('rules found by their beginnings', () => {
  it('are those that asking every rule in its order finds', () => {
    const random = seeded(99)
    const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
    const parts = ['a', 'ab', 'abc', 'abcd', 'abcde', 'stop', 'stops', ':x', '*', 'p{-:y}?', 'page{-:y}?.html', '{z}?']
    const words = [
      'a',
      'ab',
      'abc',
      'abcd',
      'abcde',
      'abcdef',
      'stop',
      'stops',
      'p',
      'p-1',
      'page-2.html',
      'page.html',
      'z',
      '',
    ]
    let taken = 0
    for (let round = 0; round < 400; round++) {
      const domain = domainRow({ trailingSlashMatters: random() < 0.5, capitalsMatter: random() < 0.5 })
      const rules = Array.from({ length: 8 }, (_, index) =>
        rule(
          index + 1,
          '/' + Array.from({ length: 1 + Math.floor(random() * 2) }, () => pick(parts)).join('/') + pick(['', '', '/']),
          `https://r${index}.example/`,
        ),
      )
      const part = compile([domain], [], 1, rules).domains.get(1)!
      for (let tries = 0; tries < 20; tries++) {
        const canonical = [pick(words), pick(words)].join('/').replace(/^\/|\/$/g, '')
        const first = (list: readonly CompiledRule[]) =>
          list.find((one) => one.take(canonical, { ...NOBODY, query: '' }, () => []) !== undefined)?.row.id
        const found = first(part.rules.candidates(canonical))
        expect(found, `${canonical}: ${rules.map(({ pattern }) => pattern).join(' ')}`).toBe(first(part.rules.rules))
        if (found !== undefined) taken++
      }
    }
    expect(taken).toBeGreaterThan(1000)
  })
})
