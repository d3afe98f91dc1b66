import { destinationKey, showHost } from '../../../core/address'
import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'
import { linkState, readTags, type TaggedLinkState } from '../links/link-state'
import type { JudgedRow, LinkToBe } from './judged-row'

/** Fields a file may say something of; one it leaves empty says nothing. */
const TOLD = [
  'destination',
  'status',
  'query',
  'queryConflict',
  'title',
  'note',
  'owner',
  'startsAt',
  'endsAt',
  'resumesAt',
  'endedDestination',
  'robots',
  'referrerPolicy',
  'unlisted',
  'standing',
] as const

const WORDS: Record<string, string> = {
  status: 'status',
  query: 'what becomes of queries',
  queryConflict: 'whose parameters win',
  title: 'title',
  note: 'note',
  owner: 'owner',
  startsAt: 'start',
  endsAt: 'end',
  resumesAt: 'when it resumes',
  endedDestination: 'where it leads once ended',
  robots: 'what robots are told',
  referrerPolicy: 'referrer policy',
  unlisted: 'whether it is listed',
  standing: 'standing',
  tags: 'tags',
}

/**
 * Compares links of a file with what has their addresses today: the same, another destination, or other details. What
 * the file does not speak of stays as it is. Rows that are new stay so.
 */
export async function compareRows(
  db: Database,
  rows: readonly JudgedRow[],
  hosts: ReadonlyMap<number, string>,
  says: (row: JudgedRow, field: string) => boolean,
): Promise<void> {
  const links = rows.filter((row) => isNewLink(row))
  const byDomain = new Map<number, JudgedRow[]>()
  for (const row of links) {
    const { domainId } = row.state as LinkToBe
    const list = byDomain.get(domainId)
    if (list) list.push(row)
    else byDomain.set(domainId, [row])
  }
  for (const [domainId, mine] of byDomain) {
    const there = await db.Link.findAll({
      where: { domainId, canonical: mine.map(({ state }) => (state as LinkToBe).canonical) },
    })
    if (there.length === 0) continue
    const leaders = await db.Link.findAll({ where: { id: there.flatMap(({ forwardsTo }) => forwardsTo ?? []) } })
    const leaderOf = new Map(leaders.map((leader) => [leader.id, leader]))
    const tags = await readTags(
      db,
      there.map(({ id }) => id),
    )
    const byCanonical = new Map(there.map((link) => [link.canonical, link]))
    const address = (link: LinkModel) => `${showHost(hosts.get(link.domainId)!)}/${link.slug}`
    for (const row of mine) {
      const link = byCanonical.get((row.state as LinkToBe).canonical)
      if (!link) continue
      const leader = link.forwardsTo === null ? undefined : leaderOf.get(link.forwardsTo)
      if (leader) meetsForwarding(row, link, leader, address(leader))
      else meets(row, link, linkState(link, tags.get(link.id)!), says)
    }
  }
}

export const isNewLink = ({ kind, code, state }: JudgedRow): boolean =>
  (kind === 'new' || (kind === 'clash' && code === 'rule-breaker')) && state !== null && 'slug' in state

const alike = (a: string, b: string) => destinationKey(a) === destinationKey(b)

function meetsForwarding(row: JudgedRow, link: LinkModel, leader: LinkModel, address: string): void {
  Object.assign(row, { linkId: leader.id, state: null, hash: null })
  if (row.destination !== null && alike(row.destination, leader.destination))
    Object.assign(row, {
      kind: 'same',
      code: 'same',
      decision: 'leave',
      why: `It is another slug of ${address}, which leads there.`,
      would: '',
    })
  else
    Object.assign(row, {
      kind: 'clash',
      code: 'forwards',
      decision: 'leave',
      why: `It is another slug of ${address}, which leads to ${leader.destination}.`,
      would: `Change ${address} itself, or take this slug away from it first.`,
    })
}

function meets(
  row: JudgedRow,
  link: LinkModel,
  now: TaggedLinkState,
  says: (row: JudgedRow, field: string) => boolean,
): void {
  const wanted = row.state as LinkToBe
  const before: Record<string, unknown> = {}
  const after: Record<string, unknown> = {}
  const take = (field: keyof TaggedLinkState, value: unknown) => {
    if (JSON.stringify(now[field]) === JSON.stringify(value)) return
    before[field] = now[field]
    after[field] = value
  }
  const gone = row.destination === null
  for (const field of TOLD) {
    if (gone && field !== 'standing') continue
    if (!gone && !says(row, field)) continue
    // Whose parameters win matters only where both can have some.
    if (field === 'queryConflict' && (wanted.query !== 'carry' || !wanted.destination.includes('?'))) continue
    if (field === 'destination' && alike(now.destination, wanted.destination)) continue
    take(field, wanted[field])
  }
  // Undoing an import retires what somebody may have requested: the same file brings it back to life.
  const revives = !gone && now.standing === 'retired' && !says(row, 'standing')
  if (revives) take('standing', 'live')
  const tags = [...new Set([...now.tags, ...wanted.tags])].sort()
  if (!gone && tags.length <= 30) take('tags', tags)
  Object.assign(row, { linkId: link.id, linkVersion: link.version, would: '' })
  const fields = Object.keys(after)
  if (fields.length === 0) {
    Object.assign(row, {
      kind: 'same',
      code: 'same',
      decision: 'leave',
      state: null,
      hash: null,
      why: 'It is here already, and leads there.',
    })
    return
  }
  const spelled = link.slug === wanted.slug ? '' : `Equal to “${link.slug}” here. `
  const elsewhere = 'destination' in after
  const named = fields.map((field) => WORDS[field] ?? field)
  Object.assign(row, {
    kind: 'clash',
    code: revives ? 'retired' : elsewhere ? 'elsewhere' : gone ? 'gone' : 'differs',
    decision: null,
    state: after,
    before,
    hash: elsewhere ? row.hash : null,
    would: revives ? 'Replace it to make it answer again.' : '',
    why: revives
      ? `${spelled}It is retired and answers 410 (Gone); it led to ${now.destination}.`
      : elsewhere
        ? `${spelled}Leads to ${now.destination} today.`
        : gone
          ? `${spelled}It is gone in the file, and ${now.standing} here.`
          : `${spelled}Leads there already; other ${fields.length === 1 ? 'is' : 'are'}: ${named.join(', ')}.`,
  })
}
