import { describe, expect, it } from 'vitest'
import {
  domainCreate,
  domainPatch,
  linkCreate,
  linkListQuery,
  linkPatch,
  mayAct,
  memberCreate,
  setup,
  tokenCreate,
} from '../../../core/schemas'

const faults = (result: { success: boolean; error?: { issues: { path: PropertyKey[]; message: string }[] } }) =>
  Object.fromEntries((result.error?.issues ?? []).map((issue) => [String(issue.path[0] ?? ''), issue.message]))
const link = (more: object) =>
  linkCreate.safeParse({ domain: 'ansl.example', destination: 'https://www.example/', ...more })

describe('linkCreate', () => {
  it('fills in what is not given', () => {
    expect(link({}).data).toEqual({
      domain: 'ansl.example',
      destination: 'https://www.example/',
      query: 'discard',
      queryConflict: 'destination',
      title: '',
      note: '',
      tags: [],
      aliases: [],
      owner: '',
      startsAt: null,
      endsAt: null,
      endedDestination: null,
      robots: null,
      referrerPolicy: null,
    })
  })
  it.each([
    ['destination', { destination: '' }, /Enter a destination/],
    ['destination', { destination: 7 }, /Enter a destination/],
    ['destination', { destination: 'data:text/html,x' }, /http/],
    ['destination', { destination: 'https://a b.example/' }, /web address/],
    ['slug', { slug: 'a%b' }, /“%”/],
    ['slug', { slug: 'a/../b' }, /parts between slashes/],
    ['status', { status: 305 }, /301, 302, 303, 307 and 308/],
    ['status', { status: '302' }, /301, 302/],
    ['query', { query: 'keep' }, /carry/],
    ['title', { title: 'x'.repeat(301) }, /maximum is 300/],
    ['title', { title: 'two\nlines' }, /line breaks/],
    ['note', { note: 'x'.repeat(4001) }, /4,000/],
    ['tags', { tags: 'one' }, /list/],
    ['tags', { tags: Array(31).fill('x') }, /maximum is 30/],
    ['tags', { tags: [' '] }, /at least 1 character/],
    ['startsAt', { startsAt: 'tomorrow' }, /RFC 3339/],
    ['robots', { robots: 'noindex\r\nX: y' }, /ASCII/],
    ['referrerPolicy', { referrerPolicy: 'always' }, /policies browsers know/],
    ['domain', { domain: '' }, /Name the domain/],
  ])('%s: %j', (field, more, message) => {
    expect(faults(link(more))[field]).toMatch(message)
  })
  it('refuses fields there are none of', () => {
    expect(link({ colour: 'red' }).success).toBe(false)
    expect(linkPatch.safeParse({ domain: 'other.example' }).success).toBe(false)
  })
})

describe('lists', () => {
  it('come fifty at a time by visits', () => expect(linkListQuery.parse({})).toEqual({ sort: 'visits', limit: 50 }))
  it.each([
    { limit: '0' },
    { limit: '201' },
    { limit: 'many' },
    { sort: 'colour' },
    { standing: 'lost' },
    { redirect: 'both' },
  ])('refuse %j', (query) => {
    expect(linkListQuery.safeParse(query).success).toBe(false)
  })
})

describe('domains', () => {
  it.each([
    ['ANSL.Example.', 'ansl.example'],
    ['https://ansl.example/', 'ansl.example'],
    ['bücher.example', 'xn--bcher-kva.example'],
  ])('%s is %s', (typed, host) => expect(domainCreate.parse({ host: typed }).host).toBe(host))
  it.each([
    ['localhost', /one label only/],
    ['192.0.2.1', /IP address/],
    ['[2001:db8::1]', /is no host name/],
    ['a b.example', /without scheme, port or path/],
    ['_x.example', /underscore/],
    ['a_b.example', /underscore/],
    ['', /Give the domain’s name/],
    ['x'.repeat(64) + '.example', /64 characters long; a label can have at most 63/],
    [`${'x.'.repeat(130)}example`, /longer than 253/],
    ['ansl.example/path', /without scheme, port or path/],
    ['ansl..example', /is no host name/],
  ])('refuses %s with a sentence of its own', (host, sentence) => {
    expect(faults(domainCreate.safeParse({ host })).host).toMatch(sentence)
  })
  it('are added without a standing and only ever closed by a change', () => {
    expect(domainCreate.safeParse({ host: 'ansl.example', standing: 'open' }).success).toBe(false)
    expect(domainPatch.safeParse({ standing: 'open' }).success).toBe(false)
    expect(domainPatch.safeParse({ standing: 'not-proved' }).success).toBe(true)
  })
  it('limit permanence to a year, and app schemes to harmless ones', () => {
    expect(domainPatch.safeParse({ permanenceSeconds: 31_536_001 }).success).toBe(false)
    expect(domainPatch.safeParse({ permanenceSeconds: -1 }).success).toBe(false)
    expect(domainPatch.safeParse({ appSchemes: ['portansel'] }).success).toBe(true)
    for (const scheme of ['javascript', 'data', 'file', 'Upper', 'https'])
      expect(domainPatch.safeParse({ appSchemes: [scheme] }).success).toBe(false)
  })
})

describe('people', () => {
  it.each([
    ['administrator', 'viewer', true],
    ['editor', 'editor', true],
    ['viewer', 'editor', false],
    ['editor', 'administrator', false],
  ] as const)('a %s may do what needs a %s: %s', (role, needed, may) => expect(mayAct(role, needed)).toBe(may))
  it('need a name, an address and a role, and no password of somebody else’s choice', () => {
    expect(Object.keys(faults(memberCreate.safeParse({ name: ' ', email: 'nobody', role: 'owner' }))).sort()).toEqual([
      'email',
      'name',
      'role',
    ])
    const person = { name: 'A', email: 'A@B.test', role: 'viewer' }
    expect(memberCreate.parse(person).email).toBe('a@b.test')
    expect(memberCreate.safeParse({ ...person, password: 'x'.repeat(12) }).success).toBe(false)
  })
  it('set up in a time zone there is', () => {
    expect(
      faults(
        setup.safeParse({
          ticket: 'x',
          organisation: 'O',
          timeZone: 'Port/Ansel',
          name: 'N',
          email: 'a@b.test',
          password: 'x'.repeat(12),
        }),
      ).timeZone,
    ).toMatch(/Europe\/Lisbon/)
  })
  it('make tokens of a known scope', () => {
    expect(tokenCreate.safeParse({ name: 'x', scope: 'everything' }).success).toBe(false)
    expect(tokenCreate.parse({ name: ' x ', scope: 'read' })).toEqual({
      name: 'x',
      scope: 'read',
      expiresAt: null,
      domains: [],
    })
  })
})
