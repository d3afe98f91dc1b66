import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { canonicalSlug } from '../../../core/address'
import { findFormat, type FileLink } from '../../../core/formats'
import { WRITERS, type OutLink, type Outgoing } from '../../../core/formats/write'
import { compile } from '../../../core/table'
import { makeRegister } from '../../reference/exchange/registers'

/** What people write: any letters, quotes, separators, and what spreadsheets take for formulas. */
const words = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 40 }),
  fc.constantFrom('=1+1', '+41 20', '-5', '@sum(A1)', '"quoted"', "it's", 'a,b;c\td', 'é日本🚌', ' spaced ', "'=1"),
)
/** Titles, owners and tags are one line; a note may have several. */
const oneLine = words.map((text) => text.replace(/[\p{Cc}\p{Zl}\p{Zp}]/gu, '').trim())
const note = fc
  .array(words, { maxLength: 3 })
  .map((parts) => parts.join('\n').replace(/[^\P{Cc}\n]/gu, ''))
  .map((text) => text.trim())
const tag = oneLine.map((text) => text.replace(/[;,|]/g, '').trim()).filter((text) => text !== '')
const details = fc.record({ title: oneLine, owner: oneLine, note, tags: fc.uniqueArray(tag, { maxLength: 3 }) })

/** A register as it is made for the tests against real servers, with words of people about its links. */
const registers = fc
  .record({ seed: fc.nat(500), said: fc.array(details, { minLength: 25, maxLength: 25 }) })
  .map(({ seed, said }): Outgoing => {
    const { outgoing } = makeRegister(seed)
    const links = outgoing.links.map((link, index): OutLink => ({ ...link, ...said[index]! }))
    return { ...outgoing, links, table: compile([outgoing.domain], links, 1, [...outgoing.rules]) }
  })

function readBack(kind: string, outgoing: Outgoing, file = WRITERS[kind as 'csv'](outgoing).files[0]!) {
  const { domain } = outgoing
  return findFormat(kind === 'jsonl' ? 'json' : kind)!.read([file], { host: domain.host, sameness: domain })
}
const linksOf = (kind: string, outgoing: Outgoing): FileLink[] => {
  const { entries, refusals } = readBack(kind, outgoing)
  expect(refusals).toEqual([])
  return entries.flatMap((entry) => (entry.kind === 'link' ? [entry.link] : []))
}
const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString())
const empty = (text: string | undefined) => text ?? ''
const RUNS = { numRuns: 60 }

describe('what is written is read again as the same', () => {
  it.each(['json', 'jsonl'])('as %s, all of it', (kind) => {
    fc.assert(
      fc.property(registers, (outgoing) => {
        const { entries, refusals } = readBack(kind, outgoing)
        expect(refusals).toEqual([])
        const links = entries.flatMap((entry) => (entry.kind === 'link' ? [entry.link] : []))
        expect(links.map(({ file: _f, line: _l, column: _c, ...link }) => link)).toEqual(
          outgoing.links.map((link) => ({
            host: outgoing.domain.host,
            slug: link.slug,
            destination: link.destination,
            status: link.status,
            query: link.query,
            queryConflict: link.queryConflict,
            title: link.title,
            note: link.note,
            owner: link.owner,
            tags: link.tags,
            standing: link.standing,
            startsAt: iso(link.startsAt),
            endsAt: iso(link.endsAt),
            resumesAt: iso(link.resumesAt),
            endedDestination: link.endedDestination,
            robots: link.robots,
            referrerPolicy: link.referrerPolicy,
            unlisted: link.unlisted,
          })),
        )
        const rules = entries.flatMap((entry) => (entry.kind === 'rule' ? [entry.rule] : []))
        expect(rules.map(({ file: _f, line: _l, column: _c, host: _h, ...rule }) => rule)).toEqual(
          outgoing.rules.map(({ syntax, pattern, destination, status, query, queryConflict, condition, except }) => ({
            syntax,
            pattern,
            destination,
            status,
            query,
            queryConflict,
            condition,
            except,
          })),
        )
      }),
      RUNS,
    )
  })

  it('as a table, in all it has columns for; what spreadsheets would reckon with is text there', () => {
    fc.assert(
      fc.property(registers, (outgoing) => {
        const links = linksOf('csv', outgoing)
        expect(
          links.map((link) => [
            link.slug,
            link.destination,
            link.status,
            empty(link.title),
            empty(link.owner),
            empty(link.note),
            [...(link.tags ?? [])].sort(),
            link.standing,
            link.startsAt ?? null,
            link.endsAt ?? null,
          ]),
        ).toEqual(
          outgoing.links.map((link) => [
            link.slug,
            link.destination,
            link.status,
            link.title,
            link.owner,
            link.note,
            [...link.tags].sort(),
            link.standing,
            iso(link.startsAt),
            iso(link.endsAt),
          ]),
        )
        // Cells that begin with these are formulas to spreadsheets (OWASP, “CSV Injection”).
        const cells = Papa.parse<string[]>(WRITERS.csv(outgoing).files[0]!.text).data.flat()
        for (const cell of cells) expect(cell).not.toMatch(/^[=+\-@\t\r]/)
      }),
      RUNS,
    )
  })

  it('as a plain list, in what it answers at the moment', () => {
    fc.assert(
      fc.property(registers, (outgoing) => {
        const { cannot } = WRITERS.plain(outgoing)
        const left = cannot.find(({ code }) => code === 'rest')?.count ?? 0
        const links = linksOf('plain', outgoing)
        expect(links.length + left).toBe(outgoing.links.length)
        const byCanonical = new Map(outgoing.links.map((link) => [link.canonical, link]))
        for (const { slug, destination, status } of links) {
          const link = byCanonical.get(canonicalSlug(slug!, outgoing.domain)!)!
          expect(slug).toBe(link.slug)
          if (destination === link.destination) expect(status).toBe(link.status)
        }
      }),
      RUNS,
    )
  })

  it('as bookmarks, in titles and addresses', () => {
    fc.assert(
      fc.property(registers, (outgoing) => {
        const live = outgoing.links.filter(({ standing }) => standing === 'live')
        const links = linksOf('bookmarks', outgoing)
        expect(links.map(({ destination }) => destination)).toEqual(
          live.map(({ slug }) => `https://${outgoing.domain.host}/${slug}`),
        )
        const shown = (text: string) => text.replace(/\s+/g, ' ').trim()
        expect(links.map(({ title }) => shown(empty(title)))).toEqual(
          live.map(({ slug, title }) => shown(title || `${outgoing.domain.host}/${slug}`)),
        )
      }),
      RUNS,
    )
  })
})
