// What the gateway would answer of a file that was read: its own table, compiled and asked.
import { canonicalSlug, readDestination, type Sameness } from '../../../core/address'
import { inOurOrder, type Reading } from '../../../core/formats'
import { answer, compile, type Table } from '../../../core/table'
import { domainRow, linkRow, ruleRow } from '../../unit/table/rows'
import type { Told } from './servers'

export const EXACT: Sameness = { capitalsMatter: true, trailingSlashMatters: true }

/** The table of a reading, for the hosts it names, `host` where it names none. */
export function tableFor(reading: Reading, host: string, sameness: Sameness = EXACT): Table {
  const hostOf = (named: string | null) => named ?? host
  const { links, rules } = inOurOrder(reading, hostOf, () => sameness)
  const hosts = [
    ...new Set([host, ...links.map((link) => hostOf(link.host)), ...rules.map((rule) => hostOf(rule.host))]),
  ]
  const idOf = new Map(hosts.map((name, index) => [name, index + 1]))
  return compile(
    hosts.map((name) => domainRow({ id: idOf.get(name)!, host: name, ...sameness })),
    links.flatMap((link, index) => {
      if (link.slug === null) return []
      const canonical = canonicalSlug(link.slug, sameness)
      const read = readDestination(link.destination ?? `https://${host}/`)
      if (canonical === undefined || !read.ok) return []
      return [
        linkRow({
          id: index + 1,
          domainId: idOf.get(hostOf(link.host))!,
          slug: link.slug,
          canonical,
          destination: read.destination,
          status: link.status ?? 302,
          query: link.query ?? 'discard',
          queryConflict: link.queryConflict ?? 'destination',
          standing: link.destination === null ? 'retired' : 'live',
        }),
      ]
    }),
    1,
    rules.map((rule, index) =>
      ruleRow({
        id: index + 1,
        position: index + 1,
        domainId: idOf.get(hostOf(rule.host))!,
        syntax: rule.syntax,
        pattern: rule.pattern,
        destination: rule.destination,
        condition: rule.condition,
        status: rule.status ?? 302,
        query: rule.query ?? 'discard',
        queryConflict: rule.queryConflict ?? 'destination',
      }),
    ),
  )
}

/** What the gateway answers, as far as a redirect goes. */
export function askTable(table: Table, host: string, target: string): Told {
  const given = answer(table, { method: 'GET', host, target }, 0)
  return { status: given.status, location: given.location ?? null }
}

/** The same for whoever only wants to know where they are led: all that is no redirect and not gone is one. */
export const asLed = ({ status, location }: Told): string =>
  status >= 300 && status < 400 ? `${status} ${location}` : status === 410 ? 'gone' : 'nowhere'

/** Addresses around those a file speaks of: as strangers mistype, extend and ask them. */
export function neighboursOf(paths: readonly string[]): string[] {
  const around = new Set<string>(['/', '/no-such-address'])
  for (const path of paths) {
    around.add(path)
    around.add(`${path}/`)
    around.add(`${path}/more`)
    around.add(`${path}x`)
    around.add(path.length > 2 ? path.slice(0, -1) : path)
    around.add(path.toUpperCase().replace(/%[0-9A-F]{2}/gi, (escape) => escape))
    around.add(path.replace(/[a-z]/, (letter) => `%${letter.charCodeAt(0).toString(16)}`))
    for (const query of ['?a=1', '?id=5', '?id=5&a=1', '?a=1&id=5', '?id=50', '?b%20c=d%2Fe', '?lang=en'])
      around.add(path + query)
  }
  return [...around].filter((path) => path.startsWith('/'))
}

/** Further ones: as texts, keyboards and strangers spoil them. */
export function spoiledOf(paths: readonly string[]): string[] {
  const around = new Set<string>()
  for (const path of paths) {
    around.add(`${path}.`)
    around.add(`${path})`)
    around.add(`${path}%20`)
    around.add(`${path}//`)
    around.add(`/${path}`)
    around.add(`/x${path}`)
    around.add(path.replace(/(\w)(\w)$/, '$2$1'))
    around.add(path.replace(/(\w)(?=\w)/, '$1$1'))
    around.add(path.replace(/^\/(.)/, (_, first: string) => `/${first.toUpperCase()}`))
    around.add(path.replace(/^\/(.)/, (_, first: string) => `/./${first}`))
    around.add(path.replace(/^\//, '/a/../'))
  }
  return [...around]
}
