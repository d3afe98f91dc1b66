import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { referrerKind, REFERRER_KINDS, type Dimension, type Grouping, type Vocabulary } from '../../../core/visits'
import { TRAFFIC_FILTERS, type TrafficGroup, type TrafficQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'

/** What links are, as far as their visits are grouped by it. */
export interface LinkFacts {
  tags: Map<number, string[]>
  owners: Map<number, string>
  /** Links whose address another took over, with that one. */
  heirs: Map<number, number>
}

const NO_FACTS: LinkFacts = { tags: new Map(), owners: new Map(), heirs: new Map() }

const remembered = new WeakMap<Database, { revision: number; whole: boolean; facts: LinkFacts }>()

/**
 * What a question needs to know of links; all of them where it is about their tags or owners. It is remembered until
 * the ledger has a newer entry.
 */
export async function readFacts(db: Database, query: TrafficQuery): Promise<LinkFacts> {
  const about = (name: TrafficGroup) => query.by === name || query[name] !== undefined
  const whole = about('tag') || about('owner')
  if (!whole && !about('link')) return NO_FACTS
  const organisation = await db.Organisation.findByPk(1, { attributes: ['revision'] })
  const revision = Number(organisation?.revision ?? 0)
  const known = remembered.get(db)
  if (known?.revision === revision && (known.whole || !whole)) return known.facts
  const facts: LinkFacts = { tags: new Map(), owners: new Map(), heirs: new Map() }
  const select = (sql: string) => db.sequelize.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT })
  for (const row of await select('SELECT link_id, heir_id FROM link_heir'))
    facts.heirs.set(Number(row.link_id), Number(row.heir_id))
  if (whole) {
    for (const row of await select("SELECT id, owner FROM link WHERE owner <> ''"))
      facts.owners.set(Number(row.id), row.owner as string)
    const names = new Map((await select('SELECT id, name FROM tag')).map((row) => [Number(row.id), row.name as string]))
    for (const row of await select('SELECT link_id, tag_id FROM link_tag')) {
      const link = Number(row.link_id)
      const there = facts.tags.get(link)
      const name = names.get(Number(row.tag_id))!
      if (there) there.push(name)
      else facts.tags.set(link, [name])
    }
  }
  remembered.set(db, { revision, whole, facts })
  return facts
}

const heirOf = (facts: LinkFacts, id: number) => facts.heirs.get(id) ?? id

/** Domains by their hosts. */
export const readDomainIds = async (db: Database): Promise<Map<string, number>> =>
  new Map((await db.Domain.findAll({ attributes: ['id', 'host'] })).map(({ id, host }) => [showHost(host), id]))

export interface Keyed {
  grouping: Grouping
  /** What each group is called. */
  keyOf(group: number): string
}

/** Groups of links as they were made last, of what was known of links and of words then. */
const groupings = new WeakMap<Vocabulary, Map<TrafficGroup, { facts: LinkFacts; words: number; keyed: Keyed }>>()

/** The groups a question asks for. The vocabulary must hold all words already. */
export function groupingOf(
  by: TrafficGroup,
  vocabulary: Vocabulary,
  facts: LinkFacts,
  ownHosts: ReadonlySet<string>,
): Keyed {
  if (by === 'hour') return { grouping: { by: 'hours' }, keyOf: String }
  if (by === 'tag' || by === 'owner') {
    const { words } = vocabulary.words('link')
    const known = groupings.get(vocabulary)?.get(by)
    if (known?.facts === facts && known.words === words.length) return known.keyed
    const keys = new Keys()
    const groupsOf = (word: number): string[] => {
      const id = heirOf(facts, word)
      return by === 'tag' ? (facts.tags.get(id) ?? ['']) : [facts.owners.get(id) ?? '']
    }
    const sets = words.map((word) => (word === 0 ? [] : groupsOf(word as number).map((key) => keys.place(key))))
    const starts = new Uint32Array(words.length + 1)
    for (const [at, set] of sets.entries()) starts[at + 1] = starts[at]! + set.length
    const keyed: Keyed = {
      grouping: {
        by: 'sets',
        dimension: 'link',
        starts,
        groups: Uint32Array.from(sets.flat()),
        size: keys.all.length,
      },
      keyOf: (group) => keys.all[group]!,
    }
    const made = groupings.get(vocabulary) ?? new Map<TrafficGroup, { facts: LinkFacts; words: number; keyed: Keyed }>()
    groupings.set(vocabulary, made.set(by, { facts, words: words.length, keyed }))
    return keyed
  }
  if (by === 'referrer-kind') {
    const { words } = vocabulary.words('referrer')
    const groupOf = Int32Array.from(words, (word) => REFERRER_KINDS.indexOf(referrerKind(word as string, ownHosts)))
    return {
      grouping: { by: 'groups', dimension: 'referrer', groupOf, size: REFERRER_KINDS.length },
      keyOf: (group) => REFERRER_KINDS[group]!,
    }
  }
  const { words } = vocabulary.words(by)
  const grouping: Grouping = { by: 'words', dimension: by, size: words.length }
  if (by !== 'link') return { grouping, keyOf: (group) => String(words[group]) }
  return { grouping, keyOf: (group) => String(heirOf(facts, words[group] as number)) }
}

class Keys {
  readonly all: string[] = []
  private readonly places = new Map<string, number>()
  place(key: string): number {
    let place = this.places.get(key)
    if (place === undefined) this.places.set(key, (place = this.all.push(key) - 1))
    return place
  }
}

/** Which words of a dimension a question's filters let count. */
export function filtersOf(
  query: TrafficQuery,
  vocabulary: Vocabulary,
  facts: LinkFacts,
  domains: ReadonlyMap<string, number>,
  own: ReadonlySet<string>,
): { dimension: Dimension; allowed: Uint8Array }[] {
  const where = (dimension: Dimension, counts: (word: string | number) => boolean) => ({
    dimension,
    allowed: Uint8Array.from(vocabulary.words(dimension).words, (word) => (counts(word) ? 1 : 0)),
  })
  return TRAFFIC_FILTERS.flatMap((name) => {
    const values = query[name]
    if (values === undefined || name === 'hour') return []
    const wanted = new Set<string | number>(values)
    switch (name) {
      case 'link':
        return [where('link', (id) => wanted.has(heirOf(facts, id as number)))]
      case 'tag':
        return [
          where('link', (id) => {
            const tags = facts.tags.get(heirOf(facts, id as number))
            return id !== 0 && (tags ? tags.some((tag) => wanted.has(tag)) : wanted.has(''))
          }),
        ]
      case 'owner':
        return [where('link', (id) => id !== 0 && wanted.has(facts.owners.get(heirOf(facts, id as number)) ?? ''))]
      case 'domain': {
        const ids = new Set(values.map((host) => domains.get(String(host)) ?? -1))
        return [where('domain', (id) => ids.has(id as number))]
      }
      case 'referrer-kind':
        return [where('referrer', (host) => wanted.has(referrerKind(host as string, own)))]
      default:
        return [where(name, (word) => wanted.has(word))]
    }
  })
}
