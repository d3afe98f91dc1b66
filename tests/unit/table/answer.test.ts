import { describe, expect, it } from 'vitest'
import {
  answer,
  countLinks,
  dropLink,
  explain,
  headersOf,
  putDomain,
  putLink,
  RuleIndex,
  type TableRequest,
} from '../../../core/table'
import { domainRow, linkRow, ruleRow, tableOf } from './rows'

const NOW = Date.UTC(2026, 10, 23, 12)
const HOUR = 3_600_000
const get = (target: string, more: Partial<TableRequest> = {}): TableRequest => ({
  method: 'GET',
  host: 'ansl.example',
  target,
  ...more,
})

describe('answer: host and target', () => {
  const table = tableOf([{}])
  it.each([
    ['an upper-case host with port and dot', get('/fares', { host: 'ANSL.Example.:8080' }), 302, 'redirect'],
    ['another host', get('/fares', { host: 'other.example' }), 421, 'not-ours'],
    ['no Host in HTTP/1.1', get('/fares', { host: undefined }), 400, 'bad-host'],
    ['no Host in HTTP/1.0', get('/fares', { host: undefined, http10: true }), 421, 'not-ours'],
    ['two Host fields', get('/fares', { hostDoubled: true }), 400, 'bad-host'],
    ['a host that is none', get('/fares', { host: 'a b' }), 400, 'bad-host'],
    [
      'an absolute target over another Host',
      get('http://ansl.example/fares', { host: 'other.example' }),
      302,
      'redirect',
    ],
    // A fragment is no part of a request target (RFC 9112 §3.2).
    ['a raw fragment', get('/fares#top'), 400, 'bad-target'],
    ['a raw fragment in a query', get('/fares?x=1#top'), 400, 'bad-target'],
    ['a malformed escape', get('/%zz'), 400, 'bad-target'],
    ['a control character', get('/%00'), 400, 'bad-target'],
    ['no path', get('fares'), 400, 'bad-target'],
    ['8,000 octets', get('/' + 'a'.repeat(7999)), 404, 'not-found'],
    ['8,001 octets', get('/' + 'a'.repeat(8000)), 414, 'too-long'],
    ['TRACE', get('/fares', { method: 'TRACE' }), 405, 'bad-method'],
    ['CONNECT', get('/fares', { method: 'CONNECT' }), 405, 'bad-method'],
    ['OPTIONS', get('/fares', { method: 'OPTIONS' }), 204, 'options'],
    ['OPTIONS *', get('*', { method: 'OPTIONS' }), 204, 'options'],
    ['HEAD', get('/fares', { method: 'HEAD' }), 302, 'redirect'],
    ['POST', get('/fares', { method: 'POST' }), 302, 'redirect'],
    ['robots.txt', get('/robots.txt'), 200, 'reserved'],
    ['favicon.ico', get('/favicon.ico'), 204, 'reserved'],
    ['a well-known path', get('/.well-known/x'), 404, 'reserved'],
    ['the bare domain', get('/'), 200, 'root'],
    ['an unknown address', get('/nite'), 404, 'not-found'],
  ])('%s', (_name, request, status, outcome) => {
    expect(answer(table, request, NOW)).toMatchObject({ status, outcome })
  })

  it('gives 421 for a domain that is not open', () => {
    expect(answer(tableOf([{}], { open: false }), get('/fares'), NOW)).toMatchObject({
      status: 421,
      outcome: 'not-open',
    })
  })

  it('lets a link take a reserved path, which comes after exact links', () => {
    expect(answer(tableOf([{ slug: 'robots.txt' }]), get('/robots.txt'), NOW).status).toBe(302)
  })
})

describe('answer: standing', () => {
  it.each([
    ['live', {}, 302, 'https://www.example/fares', 'redirect'],
    ['scheduled', { startsAt: NOW + 1 }, 404, null, 'scheduled'],
    ['begun this moment', { startsAt: NOW }, 302, 'https://www.example/fares', 'redirect'],
    ['paused', { standing: 'paused' }, 404, null, 'paused'],
    ['paused until a known time', { standing: 'paused', resumesAt: NOW + HOUR }, 503, null, 'paused'],
    [
      'paused until a time that has come',
      { standing: 'paused', resumesAt: NOW },
      302,
      'https://www.example/fares',
      'redirect',
    ],
    ['ended by its date', { endsAt: NOW }, 410, null, 'ended'],
    ['ended by decision', { standing: 'ended' }, 410, null, 'ended'],
    [
      'ended with its own address',
      { standing: 'ended', endedDestination: 'https://www.example/over' },
      302,
      'https://www.example/over',
      'ended',
    ],
    ['paused and past its end', { standing: 'paused', endsAt: NOW }, 410, null, 'ended'],
    ['retired', { standing: 'retired', endedDestination: 'https://www.example/over' }, 410, null, 'retired'],
  ] as const)('%s', (_name, link, status, location, outcome) => {
    expect(answer(tableOf([link]), get('/fares'), NOW)).toMatchObject({ status, location, outcome })
  })

  it('says when a paused link resumes, in whole seconds', () => {
    expect(answer(tableOf([{ standing: 'paused', resumesAt: NOW + 1500 }]), get('/fares'), NOW).retryAfter).toBe(2)
  })

  it('falls back to the domain’s addresses', () => {
    const domain = {
      rootDestination: 'https://www.example/',
      notFoundDestination: 'https://www.example/lost',
      endedDestination: 'https://www.example/over',
    }
    const table = tableOf([{ standing: 'ended' }, { slug: 'soon', startsAt: NOW + 1 }], domain)
    expect(answer(table, get('/'), NOW)).toMatchObject({ status: 302, location: domain.rootDestination })
    expect(answer(table, get('/nite'), NOW)).toMatchObject({
      status: 302,
      location: domain.notFoundDestination,
      outcome: 'not-found',
    })
    expect(answer(table, get('/fares'), NOW)).toMatchObject({
      status: 302,
      location: domain.endedDestination,
      linkId: 1,
    })
    expect(answer(table, get('/soon'), NOW)).toMatchObject({
      status: 302,
      location: domain.notFoundDestination,
      outcome: 'scheduled',
      linkId: 2,
    })
  })
})

describe('answer: fields', () => {
  const fields = (link: Parameters<typeof linkRow>[0], target = '/fares') =>
    headersOf(answer(tableOf([link!]), get(target), NOW))
  it('lets nobody keep a temporary answer', () => {
    for (const status of [302, 303, 307] as const)
      expect(fields({ status })).toEqual(['Location', 'https://www.example/fares', 'Cache-Control', 'no-store'])
  })
  it('limits how long a permanent answer is kept', () => {
    for (const status of [301, 308] as const) expect(fields({ status })).toContain('max-age=86400')
  })
  it('never lets a permanent answer outlive the link’s end', () => {
    expect(fields({ status: 301, endsAt: NOW + 90_500 })).toContain('max-age=90')
  })
  it('sends robots and referrer fields as the link says', () => {
    expect(fields({ robots: 'noindex', referrerPolicy: 'no-referrer' })).toEqual(
      expect.arrayContaining(['X-Robots-Tag', 'noindex', 'Referrer-Policy', 'no-referrer']),
    )
  })
  it('lets nobody keep a page of our own', () => {
    for (const target of ['/nite', '/', '/%zz']) expect(fields({}, target)).toEqual(['Cache-Control', 'no-store'])
  })
  it('lists the methods it answers', () => {
    expect(headersOf(answer(tableOf([{}]), get('/fares', { method: 'OPTIONS' }), NOW))).toContain('Allow')
  })
})

describe('the table', () => {
  it('follows changes of links and domains', () => {
    const table = tableOf([{}])
    putLink(table, linkRow({ destination: 'https://two.example/' }))
    expect(answer(table, get('/fares'), NOW).location).toBe('https://two.example/')
    putLink(table, linkRow({ id: 2, slug: 'night' }))
    expect(countLinks(table)).toBe(2)
    dropLink(table, 1, 'night')
    expect(answer(table, get('/night'), NOW).status).toBe(404)
    putDomain(table, domainRow({ host: 'new.example' }))
    expect(answer(table, get('/fares', { host: 'new.example' }), NOW).status).toBe(302)
    expect(answer(table, get('/fares'), NOW).status).toBe(421)
  })

  it('asks rules in their order, after exact links', () => {
    const table = tableOf([{}, { id: 9, slug: 'ruled', destination: 'https://rule.example/' }])
    const part = table.domains.get(1)!
    const ruled = part.links.get('ruled')!
    const blank = { sameness: '', plain: true, varies: [], fits: () => true }
    part.rules = new RuleIndex([
      { ...blank, row: ruleRow({ id: 1 }), prefix: '/', take: () => undefined },
      {
        ...blank,
        row: ruleRow({ id: 2 }),
        prefix: '/stop/',
        take: (canonical) => (canonical.startsWith('stop/') ? ruled : undefined),
      },
    ])
    expect(answer(table, get('/stop/1'), NOW)).toMatchObject({
      location: 'https://rule.example/',
      canonical: 'stop/1',
      ruleId: 2,
    })
    const { steps } = explain(table, get('/stop/1'), NOW)
    expect(steps.find(({ name }) => name === 'Found')!.value).toBe(ruleRow({ id: 2 }).pattern)
    expect(steps.find(({ name }) => name === 'Standing')!.sentence).toBe('The rule is switched on.')
    expect(answer(table, get('/fares'), NOW).location).toBe('https://www.example/fares')
  })
})

describe('explain', () => {
  it('tells each step and the answer the gateway gives', () => {
    const table = tableOf([{ slug: 'Night', canonical: 'night', query: 'carry' }], { capitalsMatter: false })
    const request = get('/NIGHT/?utm=1', { host: 'ANSL.example' })
    const told = explain(table, request, NOW)
    expect(told.answer).toEqual(answer(table, request, NOW))
    expect(told.steps.map((step) => step.name)).toEqual([
      'Host',
      'Address as read',
      'Found',
      'Standing',
      'Destination',
      'Our answer',
    ])
    expect(told.steps[1]!.sentence).toContain('case-sensitive')
    expect(told.steps[4]!.sentence).toContain('carried')
  })
  it('says what is missing', () => {
    expect(explain(tableOf([]), get('/nite'), NOW).verdict).toMatchObject({ state: 'broken' })
    expect(explain(tableOf([], { open: false }), get('/nite'), NOW).steps[0]!.sentence).toContain('waiting')
  })
})
