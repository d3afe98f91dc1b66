import Papa from 'papaparse'
import { guarded } from '../csv/guard'
import type { jsonFile } from '../json/schema'
import { CannotList, type OutLink, type Outgoing, type Written } from './outgoing'

const moment = (ms: number | null) => (ms === null ? '' : new Date(ms).toISOString())

const HEADS = ['address', 'destination', 'status', 'title', 'tags', 'owner', 'note', 'starts', 'ends', 'standing']

/** A table (RFC 4180), in the columns it is read by. */
export function writeCsv({ domain, links, rules }: Outgoing): Written {
  const cannot = new CannotList()
  for (const { pattern } of rules) cannot.add('rules', 'A rule is no row of a table.', pattern)
  const rows = links.map((link) => [
    `${domain.host}/${link.slug}`,
    link.destination,
    String(link.status),
    link.title,
    link.tags.join('; '),
    link.owner,
    link.note,
    moment(link.startsAt),
    moment(link.endsAt),
    link.standing,
  ])
  for (const { slug, query } of links)
    if (query === 'carry') cannot.add('query', 'That a visitor’s query goes along is not said.', slug)
  for (const { slug, tags } of links)
    if (tags.some((tag) => /[,;|]/.test(tag)))
      cannot.add('tags', 'A tag with a comma, semicolon or bar is read as several.', slug)
  const text = Papa.unparse({ fields: HEADS, data: rows.map((row) => row.map(guarded)) }, { newline: '\r\n' })
  return { files: [{ name: `${domain.host}.csv`, text: text + '\r\n' }], cannot: cannot.all, steps: [] }
}

const jsonLink = (host: string, link: OutLink) => ({
  domain: host,
  slug: link.slug,
  destination: link.destination,
  status: link.status,
  query: link.query,
  queryConflict: link.queryConflict,
  title: link.title,
  note: link.note,
  owner: link.owner,
  tags: [...link.tags],
  standing: link.standing,
  startsAt: moment(link.startsAt) || null,
  endsAt: moment(link.endsAt) || null,
  resumesAt: moment(link.resumesAt) || null,
  endedDestination: link.endedDestination,
  robots: link.robots,
  referrerPolicy: link.referrerPolicy as 'no-referrer' | null,
  unlisted: link.unlisted,
})

const rulesOf = ({ domain, rules }: Outgoing) =>
  rules.map(({ syntax, pattern, destination, status, query, queryConflict, condition, except }) => ({
    domain: domain.host,
    syntax,
    pattern,
    destination,
    status,
    query,
    queryConflict,
    condition: [...condition],
    except: [...except],
  }))

/** What stays behind even with our own JSON. */
function leftBehind({ rules }: Outgoing): Written['cannot'] {
  const cannot = new CannotList()
  cannot.add('history', 'Visits, placements, noted days and the ledger stay here.')
  if (rules.length > 0) cannot.add('rule-words', 'Titles and notes of rules stay here.')
  return cannot.all
}

/** Our own JSON, after its published schema. */
export function writeJson(outgoing: Outgoing): Written {
  const { domain, links, at } = outgoing
  const file: (typeof jsonFile)['_input'] = {
    format: 'fides',
    version: 1,
    exportedAt: new Date(at).toISOString(),
    links: links.map((link) => jsonLink(domain.host, link)),
    rules: rulesOf(outgoing),
  }
  return {
    files: [{ name: `${domain.host}.json`, text: JSON.stringify(file, null, 1) + '\n' }],
    cannot: leftBehind(outgoing),
    steps: [],
  }
}

/** The same, a link or a rule a line. */
export function writeJsonLines(outgoing: Outgoing): Written {
  const { domain, links } = outgoing
  const things = [...links.map((link) => jsonLink(domain.host, link)), ...rulesOf(outgoing)]
  const text = things.map((thing) => JSON.stringify(thing) + '\n').join('')
  return { files: [{ name: `${domain.host}.jsonl`, text }], cannot: leftBehind(outgoing), steps: [] }
}
