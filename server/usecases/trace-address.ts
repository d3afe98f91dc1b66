import { QueryTypes } from 'sequelize'
import type { z } from 'zod'
import { readHost, readSlug, readTarget, readTypedAddress } from '../../core/address'
import { compile, explain, type DomainRow, type LinkRow } from '../../core/table'
import type { Trace, traceRequest } from '../../core/schemas'
import { isOpenStanding } from '../../core/schemas'
import type { Database } from '../database/open'
import type { LinkModel } from '../database/models/link'
import { fieldProblem } from './problem'

/**
 * What a stranger asking for this address would be answered, step by step, by the gateway's own code. The table is
 * made of all domains and of those links that could be found under the address.
 */
export async function traceAddress(db: Database, request: z.output<typeof traceRequest>): Promise<Trace> {
  const typed = readTypedAddress(request.address)
  if (!typed.ok) throw fieldProblem('address', typed.reason === 'scheme' ? 'Only http:// and https:// addresses can be traced.' : 'Give a short address, like ansl.example/fares.')
  const domains = await db.Domain.findAll({ order: ['id'] })
  const rows: DomainRow[] = domains.map((domain) => ({ ...domain.get(), id: Number(domain.id), open: isOpenStanding(domain.standing) }))
  const host = typed.host ?? (domains.find((domain) => isOpenStanding(domain.standing)) ?? domains[0])?.host
  const [{ revision } = { revision: 0 }] = await db.sequelize.query<{ revision: number }>('SELECT revision FROM organisation WHERE id = 1', { type: QueryTypes.SELECT })

  const table = compile(rows, await linksInReach(db, rows, host, typed.target), Number(revision))
  const now = request.as.at === null ? Date.now() : Date.parse(request.as.at)
  const told = explain(table, { method: request.as.method, host, target: typed.target }, now)
  return {
    address: (host ?? '') + typed.target,
    revision: table.revision,
    at: new Date(now).toISOString(),
    status: told.answer.status,
    location: told.answer.location,
    headers: Array.from({ length: told.headers.length / 2 }, (_, index) => [told.headers[2 * index]!, told.headers[2 * index + 1]!]),
    verdict: told.verdict,
    steps: told.steps,
    linkId: told.answer.linkId || null,
  }
}

async function linksInReach(db: Database, domains: DomainRow[], host: string | undefined, target: string): Promise<LinkRow[]> {
  const readHostName = host === undefined ? undefined : readHost(host)
  const domain = readHostName?.ok ? domains.find((row) => row.host === readHostName.host) : undefined
  const split = readTarget(target)
  if (!domain || !split.ok) return []
  const reading = readSlug(split.path, domain)
  if (!reading.ok) return []
  const links = await db.Link.findAll({ where: { domainId: domain.id, canonical: [split.path.slice(1), reading.canonical] } })
  return links.map(linkRow)
}

const moment = (date: Date | null) => date?.getTime() ?? null

function linkRow(link: LinkModel): LinkRow {
  return {
    ...link.get(),
    id: Number(link.id),
    domainId: Number(link.domainId),
    startsAt: moment(link.startsAt),
    endsAt: moment(link.endsAt),
    resumesAt: moment(link.resumesAt),
  }
}
