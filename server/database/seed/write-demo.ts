import { canonicalSlug } from '../../../core/address'
import { fallbacksOf, LINK_FIELDS, RULE_FIELDS, stateOf } from '../../../core/rows'
import { OPEN_RULES } from '../../../core/slugs'
import { destinationHash, searchText } from '../../usecases/links/link-state'
import { usualBlocked } from '../../usecases/slug-rules/usual-blocked'
import { hashPassword } from '../../usecases/people/password'
import type { Database } from '../open'
import { portAnselLinks } from './port-ansel'
import type { DemoLink } from './port-ansel-links'
import { HOSTS } from './port-ansel-links'
import { writeDays } from './port-ansel-days'
import { PORT_ANSEL_PLACEMENTS, PORT_ANSEL_RULES } from './port-ansel-rules'
import { seeded } from './chance'

const DAY_MS = 86_400_000

/** The demo's people; the password is for the demo only and never part of a production start. */
export const DEMO_PASSWORD = 'port-ansel-demo'
const PEOPLE = [
  { email: 'admin@portansel.example', name: 'Ines Caldwell', role: 'administrator' },
  { email: 'editor@portansel.example', name: 'Tomas Vale', role: 'editor' },
  { email: 'viewer@portansel.example', name: 'Ruth Okoro', role: 'viewer' },
] as const

/** What the domain beside the website asks of its slugs, after some of them had been made already. */
const BESIDE_RULES = {
  ...OPEN_RULES,
  separators: '-',
  otherScripts: false,
  maxLength: 48,
  depth: 3,
  reserved: ['admin', 'api', 'login', 'www'],
  blocked: [...usualBlocked],
}

/**
 * Fills an empty database with Port Ansel Transit: organisation, people, domains, links and a ledger that tells how
 * each came to be. Returns false, and does nothing, where an organisation stands already.
 */
export async function writeDemo(db: Database, now = new Date()): Promise<boolean> {
  if ((await db.Organisation.count()) > 0) return false
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  const founded = new Date(now.getTime() - 1000 * DAY_MS)
  await db.sequelize.transaction(async (transaction) => {
    await db.Organisation.create(
      { name: 'Port Ansel Transit', timeZone: 'Europe/Lisbon', createdAt: founded },
      { transaction },
    )
    const members = await db.Member.bulkCreate(
      PEOPLE.map((person) => ({ ...person, passwordHash, createdAt: founded })),
      { transaction },
    )
    const actors = members.map((member, index) => ({ memberId: index + 1, actor: member.name }))
    const entries: Entry[] = []

    const inDays = (days: number) => new Date(now.getTime() + days * DAY_MS).toISOString().slice(0, 10)
    const renewal = (registrar: string, days: number, firstYearPrice: number, yearlyPrice: number) => ({
      registrar,
      expiresOn: inDays(days),
      firstYearPrice: String(firstYearPrice),
      yearlyPrice: String(yearlyPrice),
      privacy: 'on' as const,
    })
    const domains = [
      {
        host: HOSTS.apex,
        standing: 'open' as const,
        capitalsMatter: false,
        rootDestination: 'https://www.portanseltransit.example/',
        pages: {
          name: 'Port Ansel Transit',
          mark: 'PA',
          colour: '#1f5f7a',
          contact: 'help@portanseltransit.example',
          texts: {
            en: {
              'not-found': {
                heading: 'We have no such address',
                sentence: 'Check it against the poster or the ticket: l, 1, O and 0 are easily confused.',
              },
            },
          },
        },
        ...renewal('Harbour Names', 24, 4.99, 31),
      },
      {
        host: HOSTS.beside,
        standing: 'open' as const,
        endedDestination: 'https://www.portanseltransit.example/over',
        slugRules: BESIDE_RULES,
        mendPunctuation: true,
        ...renewal('Quay Registrar', 301, 12, 12),
      },
      { host: HOSTS.coming, standing: 'not-proved' as const, ...renewal('Harbour Names', 340, 0.99, 28.5) },
      { host: HOSTS.ferries, standing: 'open' as const, ...renewal('Harbour Names', 52, 9, 18) },
      { host: HOSTS.cycles, standing: 'open' as const, ...renewal('Quay Registrar', 210, 2.5, 24) },
      { host: HOSTS.lost, standing: 'open' as const, ...renewal('Quay Registrar', 6, 2.5, 24) },
    ]
    const domainRows = new Map<string, { id: number; capitalsMatter: boolean; trailingSlashMatters: boolean }>()
    for (const domain of domains) {
      const capitalsMatter = !('capitalsMatter' in domain)
      const row = await db.Domain.create(
        { ...domain, appSchemes: [], createdAt: founded, updatedAt: founded },
        { transaction },
      )
      domainRows.set(domain.host, { id: row.id, capitalsMatter, trailingSlashMatters: false })
      entries.push({
        at: founded,
        ...actors[0]!,
        action: 'create',
        subjectKind: 'domain',
        subjectId: row.id,
        subjectLabel: domain.host,
        reason: '',
        beforeState: null,
        afterState: { ...domain },
      })
    }

    const links = portAnselLinks()
    const tagIds = new Map(
      [...new Set(links.flatMap((link) => link.tags))].sort().map((name, index) => [name, index + 1]),
    )
    await db.Tag.bulkCreate(
      [...tagIds].map(([name, id]) => ({ id, name })),
      { transaction },
    )

    const random = seeded(90)
    const rows = links.map((link, index) => {
      const id = index + 1
      const domain = domainRows.get(link.host)!
      const canonical = canonicalSlug(link.slug, domain)!
      const story = tellStory(link, { id, domainId: domain.id, canonical, now, random, actors })
      entries.push(...story.entries)
      return {
        id,
        domainId: domain.id,
        slug: link.slug,
        canonical,
        destination: link.destination,
        destinationHash: destinationHash(link.destination),
        status: link.status,
        query: link.query,
        title: link.title,
        note: link.note,
        owner: link.owner,
        standing: link.standing,
        startsAt: story.startsAt,
        endsAt: story.endsAt,
        endedDestination: link.endedDestination,
        searchText: searchText(link.host, link),
        version: story.entries.length,
        createdAt: story.entries[0]!.at,
        updatedAt: story.entries.at(-1)!.at,
      }
    })
    await db.Link.bulkCreate(rows, { transaction })
    await db.LinkTag.bulkCreate(
      links.flatMap((link, index) => link.tags.map((tag) => ({ linkId: index + 1, tagId: tagIds.get(tag)! }))),
      { transaction },
    )

    const made = new Date(now.getTime() - 200 * DAY_MS)
    const rules = PORT_ANSEL_RULES.map((rule, index) => ({
      id: index + 1,
      domainId: domainRows.get(rule.host)!.id,
      position: PORT_ANSEL_RULES.slice(0, index + 1).filter((other) => other.host === rule.host).length,
      title: rule.title,
      syntax: rule.syntax,
      pattern: rule.pattern,
      destination: rule.destination,
      status: rule.status,
      condition: rule.condition ?? [],
      active: rule.active ?? true,
      note: rule.note ?? '',
      createdAt: made,
      updatedAt: made,
    }))
    await db.Rule.bulkCreate(rules, { transaction })
    for (const rule of rules) {
      entries.push({
        at: made,
        ...actors[0]!,
        action: 'create',
        subjectKind: 'rule',
        subjectId: rule.id,
        subjectLabel: `${PORT_ANSEL_RULES[rule.id - 1]!.host} ${rule.pattern}`,
        reason: '',
        beforeState: null,
        afterState: stateOf(RULE_FIELDS, { ...fallbacksOf(RULE_FIELDS), ...rule }),
      })
    }
    await db.Placement.bulkCreate(
      links.flatMap((link, index) =>
        PORT_ANSEL_PLACEMENTS.filter((put) => put.host === link.host && put.slug.test(link.slug)).map(
          ({ medium, place, copies, changeable }) => ({
            linkId: index + 1,
            medium,
            place,
            copies,
            changeable,
            placedOn: inDays(-link.madeAgo),
            createdAt: founded,
          }),
        ),
      ),
      { transaction },
    )

    await writeDays(db, links, now, transaction)

    entries.sort((a, b) => a.at.getTime() - b.at.getTime())
    await db.LedgerEntry.bulkCreate(
      entries.map((entry, index) => ({ ...entry, revision: index + 1 })),
      { transaction },
    )
    await db.Organisation.update({ revision: entries.length }, { where: { id: 1 }, transaction })
  })
  return true
}

interface Entry {
  at: Date
  memberId: number
  actor: string
  action: string
  subjectKind: 'link' | 'domain' | 'rule'
  subjectId: number
  subjectLabel: string
  reason: string
  beforeState: Record<string, unknown> | null
  afterState: Record<string, unknown> | null
}

/**
 * The ledger entries that lead to a link as it is: its making, each change of destination, a decision on its standing.
 */
function tellStory(
  link: DemoLink,
  about: {
    id: number
    domainId: number
    canonical: string
    now: Date
    random: () => number
    actors: { memberId: number; actor: string }[]
  },
): { entries: Entry[]; startsAt: Date | null; endsAt: Date | null } {
  const ago = (days: number) =>
    new Date(about.now.getTime() - days * DAY_MS - Math.floor(about.random() * 8 * 3_600_000))
  const startsAt = link.startsAgo === null ? null : ago(link.startsAgo)
  const endsAt = link.endsAgo === null ? null : ago(link.endsAgo)
  const state = {
    ...stateOf(LINK_FIELDS, {
      ...fallbacksOf(LINK_FIELDS),
      ...link,
      domainId: about.domainId,
      canonical: about.canonical,
      destination: link.earlier[0]?.destination ?? link.destination,
      standing: 'live',
      startsAt,
      endsAt,
    }),
    tags: [...link.tags].sort(),
  }
  const whose = () => about.actors[about.random() < 0.7 ? 1 : 0]!
  const entry = (at: Date, action: string, before: object | null, after: object, reason = ''): Entry => ({
    at,
    ...whose(),
    action,
    subjectKind: 'link',
    subjectId: about.id,
    subjectLabel: `${link.host}/${link.slug}`,
    reason,
    beforeState: before as Entry['beforeState'],
    afterState: after as Entry['afterState'],
  })
  const entries = [entry(ago(link.madeAgo), 'create', null, state)]
  let current: Record<string, unknown> = state
  link.earlier.forEach((earlier, index) => {
    const after = { ...current, destination: link.earlier[index + 1]?.destination ?? link.destination }
    entries.push(entry(ago(earlier.until), 'change-destination', current, after, 'The page moved with the season.'))
    current = after
  })
  if (link.standing !== 'live') {
    const after = { ...current, standing: link.standing }
    const action = { paused: 'pause', ended: 'end', retired: 'retire' }[link.standing]
    entries.push(
      entry(
        ago(1 + about.random() * 15),
        action,
        current,
        after,
        link.standing === 'paused' ? 'The page is being rewritten.' : 'No longer needed.',
      ),
    )
  }
  return { entries, startsAt, endsAt }
}
