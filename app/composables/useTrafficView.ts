import { DateTime } from 'luxon'
import { computed } from 'vue'
import type { LocationQueryValue } from 'vue-router'
import { TRAFFIC_FILTERS, TRAFFIC_GROUPS, type TrafficGroup } from '~~/core/schemas/traffic'

/** The periods there are, as people choose them. */
export const PERIODS = [
  { value: '2h', title: '2 h', days: 0 },
  { value: 'day', title: 'Today', days: 1 },
  { value: '7', title: '7 days', days: 7 },
  { value: '28', title: '28 days', days: 28 },
  { value: '90', title: '90 days', days: 90 },
  { value: 'year', title: 'Year', days: 365 },
  { value: 'all', title: 'All', days: -1 },
] as const
export type PeriodName = (typeof PERIODS)[number]['value'] | 'own'

export const KINDS = [
  { value: 'visit', title: 'People' },
  { value: 'robot', title: 'Robots' },
  { value: 'preview', title: 'Previews' },
] as const

/** Before this nobody counted. */
const FIRST = '2020-01-01T00:00:00Z'
const USUAL = { period: '28', by: 'link', kind: 'visit', compare: 'before' } as const
const quarterUp = (at: DateTime) => at.plus({ minutes: 15 - (at.minute % 15) }).startOf('minute')

type Query = Record<string, LocationQueryValue | LocationQueryValue[] | undefined>
const one = (value: Query[string]) => (Array.isArray(value) ? value[0] : value) ?? undefined
const many = (value: Query[string]): string[] =>
  value === undefined ? [] : (Array.isArray(value) ? value : [value]).map((text) => text ?? '')

/**
 * The period, filters and grouping of the traffic page, held in its URL: the same URL shows the same figures.
 */
export function useTrafficView() {
  const route = useRoute()
  const { zone } = useMoments()
  const period = computed(() => (one(route.query.period) ?? USUAL.period) as PeriodName)
  const by = computed((): TrafficGroup => {
    const told = one(route.query.by) as TrafficGroup
    return TRAFFIC_GROUPS.includes(told) ? told : USUAL.by
  })
  const kind = computed(() => KINDS.find(({ value }) => value === one(route.query.kind))?.value ?? USUAL.kind)
  /** The first day of the period of choice that this one is compared with, as YYYY-MM-DD; empty without one. */
  const against = computed(() => {
    const day = DateTime.fromISO(one(route.query.against) ?? '')
    return day.isValid ? day.toISODate() : ''
  })
  const compare = computed(() => {
    const told = one(route.query.compare)
    if (period.value === 'all') return 'none'
    if (told === 'own') return against.value ? told : USUAL.compare
    return told === 'year' || told === 'none' ? told : USUAL.compare
  })
  const filters = computed(() =>
    TRAFFIC_FILTERS.flatMap((name) =>
      many(route.query[name]).map((value) => ({ name: name as TrafficGroup, value, label: value })),
    ),
  )
  /** From when to when, in ISO 8601; a new one each minute, so that what came is in it. */
  const now = useNow({ interval: 60_000 })
  const bounds = computed(() => {
    const here = DateTime.fromJSDate(now.value).setZone(zone())
    if (period.value === 'own') {
      const day = (text: string | undefined, add: number) => {
        const read = DateTime.fromISO(text ?? '', { zone: zone() })
        return (read.isValid ? read : here.startOf('day'))
          .plus({ days: text?.length === 10 ? add : 0 })
          .toUTC()
          .toISO()!
      }
      return { from: day(one(route.query.from), 0), to: day(one(route.query.to), 1) }
    }
    const to = quarterUp(here)
    const days = PERIODS.find(({ value }) => value === period.value)?.days ?? 28
    if (days === -1) return { from: FIRST, to: to.toUTC().toISO()! }
    const from = days === 0 ? to.minus({ hours: 2 }) : here.startOf('day').minus({ days: days - 1 })
    return { from: from.toUTC().toISO()!, to: to.toUTC().toISO()! }
  })
  /** What is asked of the API, but for the grouping. */
  const asked = computed(() => {
    const values: Record<string, string | string[]> = {}
    for (const { name, value } of filters.value) values[name] = [...((values[name] as string[]) ?? []), value]
    const own = compare.value === 'own' && { against: against.value }
    return { ...bounds.value, kind: kind.value, compare: compare.value, ...own, ...values }
  })

  // Ahead of the address for a moment, so that two quick choices both count.
  let coming: Query | undefined
  const current = () => coming ?? route.query
  const go = (change: Query) => {
    const query: Query = { ...current(), ...change }
    for (const [name, usual] of Object.entries(USUAL)) if (query[name] === usual) query[name] = undefined
    coming = query
    return Promise.resolve(navigateTo({ query })).finally(() => {
      if (coming === query) coming = undefined
    })
  }
  return {
    period,
    by,
    kind,
    compare,
    against,
    filters,
    bounds,
    asked,
    choosePeriod: (value: PeriodName) => go({ period: value, from: undefined, to: undefined }),
    chooseOwn: (from: string, to: string) => go({ period: 'own', from, to }),
    chooseBy: (value: TrafficGroup) => go({ by: value }),
    chooseKind: (value: string) => go({ kind: value }),
    chooseCompare: (value: string) => go({ compare: value, against: undefined }),
    compareWith: (day: string) => go({ compare: 'own', against: day }),
    /** Narrows to one value more. */
    narrow: (name: TrafficGroup, value: string) => {
      const there = many(current()[name])
      if (!there.includes(value)) void go({ [name]: [...there, value] })
    },
    widen: (name: TrafficGroup, value: string) =>
      go({ [name]: many(current()[name]).filter((text) => text !== value) }),
  }
}
