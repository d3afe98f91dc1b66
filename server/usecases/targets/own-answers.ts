import { canonicalSlug, readHost, readSlug, readTarget } from '../../../core/address'
import { answer, compile, putLink, type Table } from '../../../core/table'
import type { Database } from '../../database/open'
import { readDomainRows, readLinkRow, readRuleRows } from '../../../core/rows'
import { queryOf } from '../../database/query'

/** What our own gateway answers for one of our addresses. */
export interface OwnAnswer {
  status: number
  location: string | null
}

/** Domains and rules are read anew after this. */
const KEPT_MS = 3000

/**
 * Makes what answers for addresses of our own domains by the gateway’s own code, without asking over the network;
 * `undefined` for every other address.
 */
export function makeOwnAnswers(db: Database): (url: string) => Promise<OwnAnswer | undefined> {
  const query = queryOf(db)
  let kept: { at: number; rows: ReturnType<typeof read> } | undefined
  const read = async () => ({ domains: await readDomainRows(query), rules: await readRuleRows(query) })
  return async (url) => {
    const { hostname, pathname, search } = new URL(url)
    const host = readHost(hostname)
    if (!host.ok) return undefined
    if (!kept || Date.now() - kept.at > KEPT_MS) kept = { at: Date.now(), rows: read() }
    const { domains, rules } = await kept.rows.catch((error: Error) => {
      kept = undefined
      throw error
    })
    const domain = domains.find((row) => row.host === host.host)
    // One that is not open yet may be somebody’s website still.
    if (!domain?.open) return undefined
    const table: Table = compile(
      domains,
      [],
      0,
      rules.filter((rule) => rule.domainId === domain.id),
    )
    const split = readTarget(pathname)
    const reading = split.ok ? readSlug(split.path, domain) : undefined
    if (split.ok && reading?.ok) {
      const bare = reading.canonical.replace(/(?:[^\p{L}\p{N}/%]|%[0-9A-F]{2})+$/u, '')
      for (const slug of new Set([reading.canonical, canonicalSlug(bare, domain)])) {
        const link = slug === undefined ? undefined : await readLinkRow(query, domain.id, slug)
        if (link) putLink(table, link)
      }
    }
    const given = answer(table, { method: 'GET', host: host.host, target: pathname + search }, Date.now())
    return { status: given.status, location: given.location }
  }
}
