import { showHost } from '../../../core/address'
import type { Database } from '../../database/open'

type Half = Record<string, unknown> | null

/** The names of all domains by their numbers. */
export const readHosts = async (db: Database): Promise<Map<number, string>> =>
  new Map((await db.Domain.findAll({ attributes: ['id', 'host'] })).map(({ id, host }) => [id, host]))

/** A part of an entry as people read it: a domain by its name. */
export function withHost(half: Half, hosts: ReadonlyMap<number, string>): Half {
  if (typeof half?.domainId !== 'number') return half
  const { domainId, ...rest } = half
  return { domain: showHost(hosts.get(domainId) ?? ''), ...rest }
}
