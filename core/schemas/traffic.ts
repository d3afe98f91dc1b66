import { z } from 'zod'
import { REFERRER_KINDS } from '../visits/referrers'
import { STEPS } from '../visits/calendar'
import { VISIT_KINDS } from '../visits/kind'
import { moment } from './values'

/** By what visits can be put together in rows. */
export const TRAFFIC_GROUPS = [
  'link',
  'tag',
  'domain',
  'owner',
  'channel',
  'referrer',
  'referrer-kind',
  'country',
  'device',
  'system',
  'browser',
  'language',
  'hour',
] as const
export type TrafficGroup = (typeof TRAFFIC_GROUPS)[number]

/** So many values of one filter, and so many rows, at most. */
const MAX_VALUES = 50
const MAX_ROWS = 1000
/** Longer ago than anybody counted. */
const EARLIEST = Date.UTC(2000, 0, 1)
const LATEST = Date.UTC(2200, 0, 1)

const when = moment.refine(
  (text) => Date.parse(text) >= EARLIEST && Date.parse(text) <= LATEST,
  'Give a moment from 2000 to 2199.',
)
/** One value, or several: then it stands several times in the query. */
const values = <Value extends z.ZodType>(one: Value, what: string) =>
  z
    .preprocess(
      (given) => (given === undefined || Array.isArray(given) ? given : [given]),
      z.array(one, `Give ${what}.`).max(MAX_VALUES, `At most ${MAX_VALUES} values.`).optional(),
    )
    .optional()
const text = (what: string) => values(z.string(`Give ${what}.`).max(300, 'At most 300 characters.'), what)
const number = z
  .string()
  .regex(/^[0-9]{1,15}$/, 'Give a number.')
  .transform(Number)

const filters = {
  link: values(number, 'the number of a link'),
  tag: text('a tag'),
  domain: text('a domain'),
  owner: text('an owner'),
  channel: text('the mark of a placement'),
  referrer: text('a referrer’s host'),
  'referrer-kind': values(z.enum(REFERRER_KINDS, `Choose one of ${REFERRER_KINDS.join(', ')}.`), 'a kind of referrer'),
  country: text('a country'),
  device: text('a kind of device'),
  system: text('a system'),
  browser: text('a browser'),
  language: text('a language'),
  hour: values(
    number.refine((hour) => hour < 168, 'Enter an hour of the week, 0 to 167, from Monday 00:00.'),
    'an hour of the week',
  ),
}

export const trafficQuery = z.strictObject({
  from: when,
  to: when,
  by: z.enum(TRAFFIC_GROUPS, `Choose one of ${TRAFFIC_GROUPS.join(', ')}.`).optional(),
  step: z.enum(STEPS, `Choose one of ${STEPS.join(', ')}.`).optional(),
  kind: z.enum(VISIT_KINDS, `Choose one of ${VISIT_KINDS.join(', ')}.`).default('visit'),
  compare: z.enum(['none', 'before', 'year', 'own'], 'Choose “none”, “before”, “year” or “own”.').default('none'),
  /** With “own”: the first day of the period to compare with, which is as long as the one asked about. */
  against: z.iso.date('Enter a day, for example 2026-11-02.').optional(),
  sort: z.enum(['visits', 'people', 'change'], 'Choose “visits”, “people” or “change”.').default('visits'),
  limit: z.coerce
    .number('Give a number of rows.')
    .int('Give a whole number of rows.')
    .min(1, 'At least 1 row.')
    .max(MAX_ROWS, `At most ${MAX_ROWS.toLocaleString('en')} rows.`)
    .default(100),
  /** The figures are taken out as a file, which the ledger notes; CSV and spreadsheets always are. */
  file: z.literal('1', 'Give 1, or leave it out.').optional(),
  ...filters,
})
export type TrafficQuery = z.output<typeof trafficQuery>
export const TRAFFIC_FILTERS = Object.keys(filters) as (keyof typeof filters)[]

const step = z.object({
  at: z.string(),
  /** None where nobody was there to count. */
  visits: z.int().nullable(),
  people: z.int().nullable(),
  /** It is not over yet. */
  unfinished: z.boolean(),
})
const row = z.object({
  key: z.string(),
  label: z.string(),
  /** What a link is called beside its address. */
  title: z.string(),
  visits: z.int(),
  people: z.int().nullable(),
  /** Visits of the period it is compared with. */
  before: z.int().nullable(),
  /** By how much of that it is more or less: 0.1 for a tenth more; none where there was nothing before. */
  change: z.number().nullable(),
})
const period = z.object({
  from: z.string(),
  to: z.string(),
  total: z.int(),
  /** None where the visits of groups of links are only known as sums. */
  people: z.int().nullable(),
  series: z.array(step),
})
export const traffic = period.extend({
  step: z.enum(STEPS),
  zone: z.string(),
  /** Of the visits, those by the same person to the same link within ten seconds. */
  repeats: z.int().nullable(),
  compared: period.nullable(),
  rows: z.array(row),
  /** How many rows there are in all. */
  groups: z.int(),
  /** Whether everything asked about is still known; else from when on it is. */
  complete: z.boolean(),
  since: z.string().nullable(),
})
export type Traffic = z.infer<typeof traffic>
export type TrafficRow = z.infer<typeof row>
export type TrafficStep = z.infer<typeof step>

export const moversQuery = z.strictObject({
  days: z.coerce
    .number('Give days.')
    .int('Give whole days.')
    .min(14, 'At least 14 days.')
    .max(400, 'At most 400 days.')
    .default(90),
})
const mover = z.object({
  link: z.int(),
  address: z.string(),
  title: z.string(),
  /** The first day of the new level. */
  since: z.string(),
  /** Visits a usual day, before and since. */
  before: z.number(),
  after: z.number(),
})
export const movers = z.object({ from: z.string(), to: z.string(), items: z.array(mover) })
export type Movers = z.infer<typeof movers>

/** What is told of visits as they come. */
export interface LiveTold {
  /** Visits of people in the last minute. */
  minute: number
  /** Visits since the last telling, by link; 0 for those of no link. */
  links: Record<number, number>
  /** Changes with any change of cases. */
  cases: string
  /** The ledger’s newest revision. */
  revision: number
}
