import { readHost } from '../address'
import { NOBODY, type Visitor } from '../conditions'
import { answer } from './answer'
import type { Table } from './compile'

/** As many redirects as browsers follow. */
const MAX_HOPS = 20

export interface Way {
  /** Addresses of ours passed, the first one first. */
  via: string[]
  links: number[]
  rules: number[]
  /** The position in `via` that the way came back to. */
  loopsTo: number | undefined
  /** Where it leads in the end, or what our last address answers. */
  end: string | undefined
  status: number
}

/** A table at a moment. */
export interface TableAt {
  table: Table
  /** Milliseconds. */
  now: number
}

/** Follows an address through our own table, all domains and routes, by the gateway's own code. */
export function follow(
  { table, now }: TableAt,
  host: string,
  target: string,
  visitor: Omit<Visitor, 'query'> = NOBODY,
): Way {
  const way: Way = { via: [], links: [], rules: [], loopsTo: undefined, end: undefined, status: 0 }
  const seen = new Map<string, number>()
  for (let hop = 0; hop <= MAX_HOPS; hop++) {
    const result = answer(table, { method: 'GET', host, target, visitor }, now)
    const question = target.indexOf('?')
    const key = `${host}/${result.canonical}${question === -1 ? '' : target.slice(question)}`
    const before = seen.get(key)
    if (before !== undefined) return { ...way, loopsTo: before }
    seen.set(key, way.via.length)
    way.via.push(`${host}/${result.canonical}`)
    if (result.linkId) way.links.push(result.linkId)
    if (result.ruleId) way.rules.push(result.ruleId)
    way.status = result.status
    if (result.location === null) return way
    const next = ours(table, result.location)
    if (!next) return { ...way, end: result.location }
    host = next.host
    target = next.target
  }
  // A query that grows with each step never comes back as it was; the address does.
  const last = way.via.at(-1)!
  return { ...way, loopsTo: Math.max(0, way.via.indexOf(last) === way.via.length - 1 ? 0 : way.via.indexOf(last)) }
}

/** Follows a destination on, where it is on one of our own hosts. */
export function followOn(at: TableAt, destination: string): Way | undefined {
  const next = ours(at.table, destination)
  return next && follow(at, next.host, next.target)
}

/** The host of a web address, in lower case and without port or last dot. */
export const hostIn = (destination: string): string | undefined =>
  /^https?:\/\/([^/?#:]+)/i.exec(destination)?.[1]?.toLowerCase().replace(/\.$/, '')

/** Whether a destination is on one of a table's hosts. */
export function isOnHosts(table: Table, destination: string): boolean {
  const host = hostIn(destination)
  return host !== undefined && table.hosts.has(host)
}

/** Where on our own hosts a Location leads; `undefined` where it leads away. */
function ours(table: Table, location: string): { host: string; target: string } | undefined {
  if (!isOnHosts(table, location)) return undefined
  try {
    const url = new URL(location)
    const host = readHost(url.hostname)
    return host.ok && /^https?:$/.test(url.protocol)
      ? { host: host.host, target: url.pathname + url.search }
      : undefined
  } catch {
    return undefined
  }
}
