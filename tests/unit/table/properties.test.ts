import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { canonicalSlug, composeLocation, judgeSlug, readDestination } from '../../../core/address'
import { answer, compile, explain, headersOf, type TableRequest, standingAt } from '../../../core/table'
import type { LinkRow } from '../../../core/rows'
import { domainRow, linkRow } from './rows'

// The same cases each run; FC_SEED explores others.
fc.configureGlobal({ seed: Number(process.env.FC_SEED ?? 20261123) })

const sameness = fc.record({ capitalsMatter: fc.boolean(), trailingSlashMatters: fc.boolean() })
// Any text at all, and text made of what slugs and attacks are made of.
const spiky = fc
  .array(
    fc.constantFrom(
      'a',
      'F',
      '/',
      '.',
      '..',
      '%2F',
      '%2e',
      '%C3%A9',
      'é',
      'e\u0301',
      'ß',
      'ŉ',
      '\u0345',
      'ᾳ',
      'İ',
      '\u1FEF',
      '\u212A',
      '%',
      '?',
      '#',
      ' ',
      '-',
      '~',
      '\u0307',
    ),
    { maxLength: 12 },
  )
  .map((pieces) => pieces.join(''))
const text = fc.oneof(
  fc.string({ unit: 'binary', maxLength: 20 }),
  fc.string({ unit: 'grapheme', maxLength: 20 }),
  spiky,
)
const destination = fc
  .webUrl({ withQueryParameters: true, withFragments: true })
  .filter((url) => readDestination(url).ok)
const moment = fc.option(fc.integer({ min: 0, max: 2_000_000 }), { nil: null })

const links = (domain: ReturnType<typeof domainRow>) =>
  fc
    .array(
      fc.record({
        slug: text.filter((slug) => judgeSlug(slug) === undefined && canonicalSlug(slug, domain) !== undefined),
        destination,
        status: fc.constantFrom(301 as const, 302 as const, 303 as const, 307 as const, 308 as const),
        query: fc.constantFrom('discard' as const, 'carry' as const),
        queryConflict: fc.constantFrom('destination' as const, 'visitor' as const, 'both' as const),
        standing: fc.constantFrom('live' as const, 'paused' as const, 'ended' as const, 'retired' as const),
        startsAt: moment,
        endsAt: moment,
        resumesAt: moment,
      }),
      { maxLength: 8 },
    )
    .map((rows): LinkRow[] =>
      rows.map((row, index) => linkRow({ id: index + 1, ...row, canonical: canonicalSlug(row.slug, domain)! })),
    )

const request = fc.record({
  method: fc.constantFrom('GET', 'HEAD', 'POST', 'OPTIONS', 'TRACE', 'BREW'),
  host: fc.oneof(fc.constant('ansl.example'), fc.constant('ANSL.example:80'), text, fc.constant(undefined)),
  target: fc.oneof(
    text.map((slug) => '/' + slug),
    text,
    text.map((query) => '/a?' + query),
  ),
})

const scene = sameness
  .map((same) => domainRow(same))
  .chain((domain) => fc.tuple(fc.constant(domain), links(domain), request, fc.integer({ min: 0, max: 2_000_000 })))
const CONTROL = /\p{Cc}/u

describe('for any links and any request', () => {
  it('answer never throws, and no field holds a control character', () => {
    fc.assert(
      fc.property(scene, ([domain, rows, asked, now]) => {
        const given = answer(compile([domain], rows), asked as TableRequest, now)
        for (const field of headersOf(given))
          if (CONTROL.test(field)) throw new Error(`control character in ${JSON.stringify(field)}`)
        expect([200, 204, 301, 302, 303, 307, 308, 400, 404, 405, 410, 414, 421, 503]).toContain(given.status)
      }),
      { numRuns: 3000 },
    )
  })

  it('answer gives at most one link, and the one that has the address', () => {
    let found = 0
    fc.assert(
      fc.property(scene, fc.nat(), ([domain, rows, request, now], which) => {
        // Half of the requests are for an address there is.
        const row = rows.length > 0 && which % 2 === 0 ? rows[which % rows.length] : undefined
        const asked = row ? { method: 'GET', host: domain.host, target: `/${row.canonical}` } : request
        const given = answer(compile([domain], rows), asked as TableRequest, now)
        if (given.linkId === 0) {
          // Found nothing: then no link that is live has the address that was asked for.
          const live = rows.filter(({ canonical }) => canonical === row?.canonical).at(-1)
          expect(live && standingAt(live, now) === 'live').not.toBe(true)
          return
        }
        found++
        // Of rows with one canonical form the table keeps the last: the database refuses the others.
        const owner = rows.filter((row) => row.canonical === given.canonical).at(-1)
        expect(given.linkId).toBe(owner?.id)
      }),
      { numRuns: 2000 },
    )
    expect(found).toBeGreaterThan(200)
  })

  it('explain and answer agree', () => {
    fc.assert(
      fc.property(scene, ([domain, rows, asked, now]) => {
        const table = compile([domain], rows)
        expect(explain(table, asked as TableRequest, now).answer).toEqual(answer(table, asked as TableRequest, now))
      }),
      { numRuns: 2000 },
    )
  })
})

describe('canonical slugs', () => {
  it('are fixed points: canonical(canonical(x)) = canonical(x)', () => {
    fc.assert(
      fc.property(text, sameness, (slug, same) => {
        const once = canonicalSlug(slug, same)
        if (once !== undefined) expect(canonicalSlug(once, same)).toBe(once)
      }),
      { numRuns: 20_000 },
    )
  })

  it('never hold a control character', () => {
    fc.assert(
      fc.property(text, sameness, (slug, same) => {
        expect(CONTROL.test(canonicalSlug(slug, same) ?? '')).toBe(false)
      }),
      { numRuns: 3000 },
    )
  })
})

describe('queries', () => {
  const pairs = fc.array(fc.tuple(fc.stringMatching(/^[a-c]{1,2}$/), fc.stringMatching(/^[0-9]{0,2}$/)), {
    maxLength: 5,
  })
  const write = (list: [string, string][]) => list.map(([name, value]) => `${name}=${value}`).join('&')
  const read = (url: string) => [...new URL(url).searchParams]

  it('merge as the URL Standard’s own parser sees them', () => {
    fc.assert(
      fc.property(
        pairs,
        pairs,
        fc.constantFrom('destination' as const, 'visitor' as const, 'both' as const),
        (own, visitors, conflict) => {
          const base = 'https://www.example/' + (own.length ? '?' + write(own) : '')
          const merged = read(composeLocation(base, write(visitors), 'carry', conflict))
          const names = (list: [string, string][]) => new Set(list.map(([name]) => name))
          const expected =
            conflict === 'both'
              ? [...own, ...visitors]
              : conflict === 'destination'
                ? [...own, ...visitors.filter(([name]) => !names(own).has(name))]
                : [...own.filter(([name]) => !names(visitors).has(name)), ...visitors]
          expect(merged).toEqual(expected)
        },
      ),
    )
  })
})
