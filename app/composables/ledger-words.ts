import { conditionWords, type Condition } from '~~/core/conditions'
import { actionAlone, actionWords } from '~~/core/ledger/actions'
import type { LedgerEntry } from '~~/core/schemas'

const FIELDS: Record<string, string> = {
  domain: 'Domain',
  slug: 'Slug',
  forwardsTo: 'Part of link',
  exception: 'Exception',
  pattern: 'Pattern',
  syntax: 'Syntax',
  position: 'Position',
  condition: 'Condition',
  except: 'Exceptions',
  placement: 'Placement',
  date: 'Date',
  url: 'Address',
  kinds: 'Notifications',
  httpsOnly: 'HTTPS only',
  hstsSeconds: 'HSTS (seconds)',
  mendPunctuation: 'Corrects punctuation',
  mendCapitals: 'Corrects capitals',
  mendLookAlikes: 'Corrects look-alikes',
  slugRules: 'Slug rules',
  destination: 'Destination',
  status: 'Redirect',
  query: 'Query',
  queryConflict: 'Query conflict',
  title: 'Title',
  note: 'Note',
  owner: 'Owner',
  standing: 'Standing',
  startsAt: 'Start',
  endsAt: 'End',
  resumesAt: 'Resumes',
  endedDestination: 'When ended',
  robots: 'Robots',
  referrerPolicy: 'Referrer',
  unlisted: 'Unlisted',
  pages: 'Visitor pages',
  noise: 'Noise',
  shape: 'Shape',
  page: 'Page',
  tags: 'Tags',
  permanenceSeconds: 'Permanence',
  rootDestination: 'Root',
  notFoundDestination: 'Not found',
  capitalsMatter: 'Case-sensitive',
  trailingSlashMatters: 'Trailing slash counts',
  defaultStatus: 'Default redirect',
  appSchemes: 'App schemes',
  role: 'Role',
  records: 'Records',
  tried: 'Tried',
  origin: 'Zone',
  source: 'Source',
  toldBy: 'Source of the record',
  server: 'Server',
  state: 'State',
  setAsideUntil: 'Until',
  registrar: 'Registrar',
  expiresOn: 'Expires',
  firstYearPrice: 'First-year price',
  yearlyPrice: 'Yearly price',
  currency: 'Currency',
  privacy: 'Privacy',
  active: 'Active',
  name: 'Name',
  scope: 'Scope',
  checkNetworks: 'Own networks',
  checkPerHost: 'Checks at once per host',
  checkPerSecond: 'Checks per second per host',
  checkContact: 'Contact',
  brokenAfter: 'Broken after',
  brokenOverMinutes: 'Over minutes',
  visitDays: 'Visit records kept (days)',
  keepNetwork: 'Networks kept',
  honourGpc: 'Sec-GPC honoured',
  fewPeople: 'Minimum people per country',
}

/** A field as people call it. */
export const fieldWords = (name: string): string => FIELDS[name] ?? name

/** What an entry did, in two or three words before its subject. */
export function sentenceOf(entry: LedgerEntry): string {
  const verb = actionWords(entry.action)
  const { kind } = entry.subject
  // These are called by what they are already.
  return kind === 'link' || kind === 'links' || kind === 'organisation' ? verb : `${verb} ${kind}`
}

/** The same beside its subject's own page, which need not be named. */
export const sentenceAlone = (entry: LedgerEntry): string => actionAlone(entry.action)

const RULE_FIELDS: Record<string, string> = {
  alphabet: 'alphabet',
  ownAlphabet: 'characters',
  separators: 'separators',
  otherScripts: 'other scripts',
  minLength: 'at least',
  maxLength: 'at most',
  depth: 'parts',
  prefixes: 'families',
  reserved: 'reserved',
  blocked: 'blocked',
  randomLength: 'random length',
}

/** What of the slug rules changed, told on both sides; long lists by their length. */
function showRules(rules: Record<string, unknown>, other: Record<string, unknown>): string {
  return Object.keys(RULE_FIELDS)
    .filter((key) => JSON.stringify(rules[key]) !== JSON.stringify(other[key]) && rules[key] !== undefined)
    .map(
      (key) =>
        `${RULE_FIELDS[key]} ` +
        (Array.isArray(rules[key]) && rules[key].length > 5
          ? `${rules[key].length} entries`
          : show(rules[key]) || 'none'),
    )
    .join('; ')
}

const show = (value: unknown): string =>
  value === null || value === undefined
    ? ''
    : Array.isArray(value)
      ? value.join(', ')
      : typeof value === 'boolean'
        ? value
          ? 'yes'
          : 'no'
        : String(value)

/** What a rule asks besides the address; what it was in an older form is not known to today’s words. */
const showCondition = (condition: unknown): string =>
  Array.isArray(condition) ? conditionWords(condition as Condition) || 'nothing' : ''

type States = Record<string, Record<string, unknown>>

/** So many different values of several links are shown. */
const MAX_VALUES = 3

/** What became of a field of several links: the values it had and has, a few of them. */
function fieldsOfMany(before: States, after: States): { name: string; before: string; after: string }[] {
  const names = [...new Set(Object.values(after).flatMap((state) => Object.keys(state)))]
  const values = (states: States, name: string) => {
    const all = [...new Set(Object.values(states).map((state) => show(state[name])))].filter(Boolean)
    const more = all.length - MAX_VALUES
    return all.slice(0, MAX_VALUES).join(', ') + (more > 0 ? ` and ${more} more` : '')
  }
  return names
    .filter((name) => name in FIELDS)
    .map((name) => ({ name: FIELDS[name]!, before: values(before, name), after: values(after, name) }))
    .filter((field) => field.before !== field.after)
}

/** The fields an entry changed, as people call them, before and after. A making shows where it leads only. */
export function changedFields(
  entry: Pick<LedgerEntry, 'before' | 'after'>,
): { name: string; before: string; after: string }[] {
  const { before, after } = entry
  if (before === null || after === null) {
    const destination = (after ?? before)?.destination
    return destination === undefined
      ? []
      : [{ name: FIELDS.destination!, before: after ? '' : show(destination), after: after ? show(destination) : '' }]
  }
  if (before.links && after.links) return fieldsOfMany(before.links as States, after.links as States)
  return Object.keys(FIELDS)
    .filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) =>
      key === 'slugRules'
        ? {
            name: FIELDS[key]!,
            before: showRules(
              (before[key] ?? {}) as Record<string, unknown>,
              (after[key] ?? {}) as Record<string, unknown>,
            ),
            after: showRules(
              (after[key] ?? {}) as Record<string, unknown>,
              (before[key] ?? {}) as Record<string, unknown>,
            ),
          }
        : key === 'condition'
          ? { name: FIELDS[key]!, before: showCondition(before[key]), after: showCondition(after[key]) }
          : { name: FIELDS[key]!, before: show(before[key]), after: show(after[key]) },
    )
}
