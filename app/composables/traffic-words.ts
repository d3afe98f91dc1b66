import { REFERRER_KINDS, type ReferrerKind } from '~~/core/visits/referrers'
import type { TrafficGroup } from '~~/core/schemas/traffic'

/** What visits can be put together by, as people call it. */
export const GROUP_TITLES: Record<TrafficGroup, string> = {
  link: 'Link',
  tag: 'Tag',
  domain: 'Domain',
  owner: 'Owner',
  channel: 'Placement',
  referrer: 'Referrer',
  'referrer-kind': 'Referrer type',
  country: 'Country',
  device: 'Device',
  system: 'System',
  browser: 'Browser',
  language: 'Language',
  hour: 'Hour of the week',
}
export const GROUP_ITEMS = Object.entries(GROUP_TITLES).map(([value, title]) => ({
  value: value as TrafficGroup,
  title,
}))

const REFERRER_TITLES: Record<ReferrerKind, string> = {
  none: 'None (typed, scanned or not sent)',
  internal: 'Our own pages',
  search: 'Search engines',
  social: 'Social networks',
  mail: 'Mail',
  chat: 'Chat',
  other: 'Other websites',
}
const DEVICE_TITLES: Record<string, string> = {
  mobile: 'Phone',
  tablet: 'Tablet',
  desktop: 'Computer',
  tv: 'Television',
}
/** What stands where nothing was told. */
const NOTHING: Record<TrafficGroup, string> = {
  link: 'Rules and the domains’ own pages',
  tag: 'No tag',
  domain: 'No domain',
  owner: 'No owner',
  channel: 'No mark (typed or copied)',
  referrer: 'None (typed, scanned or not sent)',
  'referrer-kind': '',
  country: 'Unknown',
  device: 'Unknown',
  system: 'Unknown',
  browser: 'Unknown',
  language: 'Not sent',
  hour: '',
}
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const regions = new Intl.DisplayNames('en', { type: 'region', fallback: 'code' })
const languages = new Intl.DisplayNames('en', { type: 'language', fallback: 'code' })

const named = (names: Intl.DisplayNames, code: string) => {
  try {
    return names.of(code) ?? code
  } catch {
    return code
  }
}

/** What a value of a group or filter is called. */
export function valueTitle(group: TrafficGroup, key: string, label = key): string {
  if (key === '(few)') return 'Other countries (too few people)'
  if (key === '' || (group === 'link' && key === '0')) return NOTHING[group]
  switch (group) {
    case 'country':
      return named(regions, key)
    case 'language':
      return named(languages, key)
    case 'referrer-kind':
      return (REFERRER_KINDS as readonly string[]).includes(key) ? REFERRER_TITLES[key as ReferrerKind] : key
    case 'device':
      return DEVICE_TITLES[key] ?? key
    case 'hour':
      return `${DAYS[Math.floor(Number(key) / 24)]} ${Number(key) % 24} to ${(Number(key) % 24) + 1}`
    default:
      return label
  }
}

/** A change in words: “8 % more than”, “12 % fewer than”. */
export function changeWords(now: number, before: number | null): string {
  if (before === null) return ''
  if (before === 0) return now === 0 ? 'none before either' : 'none before'
  const share = (now - before) / before
  const percent = Math.round(Math.abs(share) * 100)
  if (percent === 0) return 'no change from'
  return `${percent.toLocaleString('en')}% ${share > 0 ? 'more' : 'fewer'} than`
}

/** A change in a table’s cell: “+8 %”, “new”. */
export function changeCell(now: number, before: number | null): string {
  if (before === null) return ''
  if (before === 0) return now === 0 ? '' : 'new'
  if (now === 0) return 'gone'
  const percent = Math.round(((now - before) / before) * 100)
  return percent === 0 ? '±0%' : `${percent > 0 ? '+' : '−'}${Math.abs(percent).toLocaleString('en')}%`
}
