import { readHost, readTypedAddress } from '../../core/address'
import type { Limited } from '../contract/operation'
import type { Database } from '../database/open'
import { Problem } from '../usecases/problem'

const BEYOND = (what: string) => new Problem(403, 'Beyond this token', `This token is limited to some domains: ${what}`)

/**
 * Refuses what a token that is limited to domains may not do: an operation that touches no domain it could be held to,
 * or another domain than its own. Links of other domains are not there for it.
 */
export async function enforceTokenScope(
  db: Database,
  limited: Limited | undefined,
  domains: readonly number[],
  call: { id: number; query: unknown; body: unknown },
): Promise<void> {
  const named = async (host: unknown) => {
    const domain = typeof host === 'string' ? await db.Domain.findOne({ where: { host } }) : null
    return domain !== null && domains.includes(domain.id)
  }
  switch (limited) {
    case undefined:
      throw BEYOND('it may list, read, make and change links of theirs, and nothing else.')
    case 'nothing':
      return
    case 'query':
      if (!(await named((call.query as { domain?: unknown }).domain))) throw BEYOND('name one of them as “domain”.')
      return
    case 'address': {
      const typed = readTypedAddress(String((call.query as { address?: unknown }).address ?? ''))
      const host = typed.ok && typed.host !== undefined ? readHost(typed.host) : undefined
      if (!host?.ok || !(await named(host.host))) throw BEYOND('ask for an address of theirs.')
      return
    }
    case 'body':
      if (!(await named((call.body as { domain?: unknown }).domain)))
        throw BEYOND('the link must stand on one of them.')
      return
    case 'rows':
      // Each row is judged by itself, as one that came alone.
      return
    case 'link': {
      const link = await db.Link.findByPk(call.id, { attributes: ['domainId'] })
      if (!link || !domains.includes(link.domainId)) throw new Problem(404, 'Not found', 'This link does not exist.')
      const to = (call.body as { domain?: unknown } | undefined)?.domain
      if (to !== undefined && !(await named(to))) throw BEYOND('the link must stay on one of them.')
    }
  }
}
