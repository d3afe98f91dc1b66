import { DateTime } from 'luxon'
import { TRAFFIC_GROUPS, type TrafficGroup, type TrafficQuery } from '../../core/schemas'
import { referrerKind, type VisitEvent } from '../../core/visits'

/** What counting needs to know of a link. */
export interface PlainLink {
  id: number
  tags: string[]
  owner: string
}

const HOSTS = ['', 'ansl.example', 'rider.example']
const OWN = new Set(['ansl.example', 'rider.example'])
/** What an event has of something: none, one or several values, as people would say it. */
export function valuesByHand(
  one: VisitEvent,
  group: TrafficGroup,
  zone: string,
  links: readonly PlainLink[],
): string[] {
  const link = links.find(({ id }) => id === one.linkId)
  switch (group) {
    case 'link':
      return [String(one.linkId)]
    case 'tag':
      return link ? (link.tags.length > 0 ? link.tags : ['']) : []
    case 'owner':
      return link ? [link.owner] : []
    case 'domain':
      return [HOSTS[one.domainId]!]
    case 'referrer-kind':
      return [referrerKind(one.referrer, OWN)]
    case 'hour': {
      const local = DateTime.fromMillis(one.at, { zone })
      return [String((local.weekday - 1) * 24 + local.hour)]
    }
    default:
      return [one[group] ?? '']
  }
}

/** The same counted by hand: event by event, with the days of another library’s calendar. */
export function countByHand(
  query: TrafficQuery,
  zone: string,
  events: readonly VisitEvent[],
  links: readonly PlainLink[],
) {
  const [from, to] = [Date.parse(query.from), Date.parse(query.to)]
  const counted = events.filter(
    (one) =>
      one.at >= from &&
      one.at < to &&
      one.kind === query.kind &&
      TRAFFIC_GROUPS.every((name) => {
        const wanted = query[name] as (string | number)[] | undefined
        return !wanted || valuesByHand(one, name, zone, links).some((value) => wanted.map(String).includes(value))
      }),
  )
  const dayOf = (one: VisitEvent) => DateTime.fromMillis(one.at, { zone }).toISODate()
  const person = (one: VisitEvent) => `${dayOf(one)} ${Math.floor(one.at / 86_400_000)} ${one.visitor}`
  const people = (some: readonly VisitEvent[]) =>
    new Set(some.filter(({ visitor }) => visitor !== '').map((one) => person(one))).size
  const groups = new Map<string, VisitEvent[]>()
  const days = new Map<string, VisitEvent[]>()
  const add = (to: Map<string, VisitEvent[]>, key: string, one: VisitEvent) =>
    to.set(key, [...(to.get(key) ?? []), one])
  for (const one of counted) {
    add(days, dayOf(one)!, one)
    if (query.by) for (const value of new Set(valuesByHand(one, query.by, zone, links))) add(groups, value, one)
  }
  return {
    total: counted.length,
    people: people(counted),
    days: new Map([...days].map(([day, some]) => [day, { visits: some.length, people: people(some) }])),
    rows: new Map([...groups].map(([key, some]) => [key, { visits: some.length, people: people(some) }])),
  }
}
