import { z } from 'zod'
import { pageSettings, type PageSettings } from '../pages/settings'
import { appScheme, destination, yesOrNo } from '../schemas/values'
import { line } from '../schemas/line'
import { OPEN_RULES, type SlugRules } from '../slugs/slug-rules'
import * as field from './field'
import { orNull, rowOfState, rowReader, type RowOf } from './field'
import { redirectStatus } from './redirect'
import type { RedirectStatus } from './redirect-status'

export const DOMAIN_STANDINGS = ['not-proved', 'proved', 'spreading', 'open', 'drifted'] as const
export type DomainStanding = (typeof DOMAIN_STANDINGS)[number]
export const PRIVACY = ['unknown', 'on', 'off'] as const

/** Standings in which a domain answers; the links of one that does not are waiting. */
export const OPEN_STANDINGS: readonly DomainStanding[] = ['open', 'drifted']
export const isOpenStanding = (standing: DomainStanding) => OPEN_STANDINGS.includes(standing)

const price = z
  .number('Give a price as a number.')
  .min(0, 'A price cannot be below 0.')
  .max(1_000_000, 'At most 1,000,000.')
  .nullable()

const READ = ['table', 'survey', 'ledger'] as const
const fallbackAddress = () => orNull(field.longText({ readers: READ, schema: destination.nullable() }))
const mend = () => field.flag({ readers: READ, fallback: false, schema: yesOrNo })

/** A domain, field by field. */
export const DOMAIN_FIELDS = {
  id: field.id({ readers: ['table', 'survey'] }),
  /** Canonical host (A-labels). */
  host: field.exactText(253)({ readers: ['table', 'survey'] }),
  standing: field.oneOf(DOMAIN_STANDINGS)({
    readers: READ,
    fallback: 'not-proved',
    schema: z.enum(['not-proved'], 'A domain is closed with “not-proved”; to open one, use “open the domain”.'),
  }),
  capitalsMatter: field.flag({ readers: READ, fallback: true, schema: yesOrNo }),
  trailingSlashMatters: field.flag({ readers: READ, fallback: false, schema: yesOrNo }),
  slugRules: field.json<Partial<SlugRules>>()({ readers: ['survey', 'ledger'], fallback: {} }),
  mendPunctuation: mend(),
  mendCapitals: mend(),
  mendLookAlikes: mend(),
  defaultStatus: field.status<RedirectStatus>()({ readers: ['ledger'], fallback: 302, schema: redirectStatus }),
  /** How long a browser may keep a permanent answer. */
  permanenceSeconds: field.count({
    readers: READ,
    fallback: 86_400,
    schema: z
      .int('Give whole seconds.')
      .min(0, 'Give 0 seconds or more.')
      .max(31_536_000, 'At most 31,536,000 seconds, which is a year.'),
  }),
  rootDestination: fallbackAddress(),
  notFoundDestination: fallbackAddress(),
  endedDestination: fallbackAddress(),
  appSchemes: field.json<string[]>()({
    readers: ['ledger'],
    fallback: [],
    schema: z.array(appScheme).max(20, 'At most 20 schemes.'),
  }),
  /** What its own pages say and show. */
  pages: field.json<PageSettings>()({ readers: READ, fallback: {}, schema: pageSettings }),
  /** Whether who comes by http is sent to https at once. */
  httpsOnly: field.flag({ readers: READ, fallback: false, schema: yesOrNo }),
  /** How long browsers are to come by https alone (RFC 6797); none: never said, 0: taken back. */
  hstsSeconds: orNull(
    field.count({
      readers: READ,
      schema: z
        .int('Give whole seconds.')
        .min(0, 'Give 0 seconds or more.')
        .max(63_072_000, 'At most 63,072,000 seconds, which is two years.')
        .nullable(),
    }),
  ),
  /** Since when browsers have been told so without a break. */
  hstsSince: orNull(field.moment({ readers: ['ledger'] })),
  /** Whether CAA keeps the front's issuer from giving it a certificate, as the watch last saw. */
  issuerShutOut: field.flag({ readers: READ, fallback: false }),
  registrar: field.text(120)({ readers: ['ledger'], fallback: '', schema: line(120, 'The registrar') }),
  expiresOn: orNull(
    field.text(10)({ readers: ['ledger'], schema: z.iso.date('Enter a day, such as 2026-12-24.').nullable() }),
  ),
  firstYearPrice: orNull(field.price({ readers: ['ledger'], schema: price })),
  yearlyPrice: orNull(field.price({ readers: ['ledger'], schema: price })),
  currency: field.text(3)({
    readers: ['ledger'],
    fallback: 'EUR',
    schema: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z]{3}$/, 'Give the currency’s three letters (ISO 4217), like EUR.'),
  }),
  privacy: field.oneOf(PRIVACY)({
    readers: ['ledger'],
    fallback: 'unknown',
    schema: z.enum(PRIVACY, 'Say whether privacy is on, off or unknown.'),
  }),
}

/** Which parts of forgiveness a domain has switched on (semantics §1 item 7). */
export interface Forgiveness {
  punctuation: boolean
  capitals: boolean
  lookAlikes: boolean
}

type Read<R extends 'table' | 'survey'> = RowOf<typeof DOMAIN_FIELDS, R>
type Shaped<R> = Omit<R, 'standing' | 'mendPunctuation' | 'mendCapitals' | 'mendLookAlikes'> & {
  /** Whether the domain answers; a domain that is not yet open gives 421. */
  open: boolean
  forgiveness: Forgiveness
}

/** A domain as the table needs it. */
export type DomainRow = Shaped<Read<'table'>>
/** A domain as the finders need it. */
export type SurveyDomain = Omit<Shaped<Read<'survey'>>, 'slugRules'> & { slugRules: SlugRules }

function shape<R extends Read<'table'>>(read: R): Shaped<R> {
  const { standing, mendPunctuation, mendCapitals, mendLookAlikes, ...rest } = read
  return {
    ...rest,
    open: isOpenStanding(standing),
    forgiveness: { punctuation: mendPunctuation, capitals: mendCapitals, lookAlikes: mendLookAlikes },
  }
}

const table = rowReader(DOMAIN_FIELDS, 'table')
const survey = rowReader(DOMAIN_FIELDS, 'survey')

/** Columns of a domain for the table, and what makes a row of them. */
export const DOMAIN_COLUMNS = table.columns
export const toDomainRow = (raw: object): DomainRow => shape(table.fromColumns(raw))

/** A domain for the table, of its state as the ledger keeps it with its number and host. */
export const domainRowOfState = (state: object): DomainRow => shape(rowOfState(DOMAIN_FIELDS, 'table', state))

/** A domain's slug rules with what it never decided filled in. */
export const wholeSlugRules = (input: Partial<SlugRules>): SlugRules => ({ ...OPEN_RULES, ...input })

/** A domain for the finders, from its model. */
export function toSurveyDomain(model: object): SurveyDomain {
  const row = shape(survey.fromModel(model))
  return { ...row, slugRules: wholeSlugRules(row.slugRules) }
}
