import { QueryTypes } from 'sequelize'
import { readHost, readSlug, readTypedAddress } from '../../../core/address'
import { hostIn } from '../../../core/table'
import { MAX_CHANGED, type ChangeSelection } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { linkWhere } from '../links/link-where'
import { fieldProblem } from '../problem'

export interface Selected {
  /** In the order of the register: those with most visits first. */
  links: number[]
  /** Pasted addresses that are none of ours. */
  unknown: string[]
}

/** Which links a selection means; each once, slugs that forward by the link they forward to. */
export async function selectLinks(db: Database, selection: ChangeSelection): Promise<Selected> {
  if (selection.links)
    return { links: await known(db, 'l.id IN (:ids)', { ids: [...selection.links, 0] }), unknown: [] }
  if (selection.filters) {
    const { sql, replacements } = linkWhere(selection.filters, new Date())
    return { links: await known(db, sql, replacements), unknown: [] }
  }
  if (selection.host !== undefined) return { links: await leadingTo(db, selection.host), unknown: [] }
  return byAddresses(db, selection.addresses ?? [])
}

async function known(db: Database, sql: string, replacements: Record<string, unknown>): Promise<number[]> {
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT l.id FROM link l WHERE l.forwards_to IS NULL AND ${sql} ORDER BY l.visits_28 DESC, l.id LIMIT :most`,
    { replacements: { ...replacements, most: MAX_CHANGED + 1 }, type: QueryTypes.SELECT },
  )
  if (rows.length > MAX_CHANGED)
    throw fieldProblem(
      'select',
      `Too many links: the maximum in one change is ${MAX_CHANGED.toLocaleString('en')}. ` +
        'Restrict the selection, for example to a domain or tag.',
    )
  return rows.map(({ id }) => Number(id))
}

/** The links whose destination is on a host, whatever its scheme, port and capitals. */
async function leadingTo(db: Database, typed: string): Promise<number[]> {
  const reading = readHost(
    typed
      .trim()
      .replace(/^[a-z]+:\/\//i, '')
      .replace(/[/?#].*$/, ''),
  )
  if (!reading.ok) throw fieldProblem('select', 'This is no host; give one like www.example.')
  const rows = await db.sequelize.query<{ id: number; destination: string }>(
    `SELECT l.id, l.destination FROM link l WHERE l.forwards_to IS NULL
       AND (l.destination LIKE :http OR l.destination LIKE :https) ORDER BY l.visits_28 DESC, l.id LIMIT :most`,
    {
      replacements: { http: `http://${reading.host}%`, https: `https://${reading.host}%`, most: MAX_CHANGED + 1 },
      type: QueryTypes.SELECT,
    },
  )
  const ids = rows.filter(({ destination }) => hostIn(destination) === reading.host).map(({ id }) => Number(id))
  if (ids.length > MAX_CHANGED)
    throw fieldProblem('select', `More than ${MAX_CHANGED.toLocaleString('en')} links lead there; narrow it down.`)
  return ids
}

const PAGE = 1000

/** The links of addresses as somebody pasted them, each on a line of its own or a host’s path. */
async function byAddresses(db: Database, addresses: readonly string[]): Promise<Selected> {
  const domains = await db.Domain.findAll()
  const byHost = new Map(domains.map((domain) => [domain.host, domain]))
  const wanted: { address: string; domainId: number; canonical: string }[] = []
  const unknown: string[] = []
  for (const address of addresses) {
    const text = address.trim()
    if (text === '') continue
    const typed = readTypedAddress(text)
    const host = typed.ok && typed.host !== undefined ? readHost(typed.host) : undefined
    const domain = host?.ok ? byHost.get(host.host) : undefined
    const path = typed.ok ? typed.target.replace(/[?#].*$/, '') : '/'
    const reading = domain && readSlug(path, domain)
    const canonical = reading?.ok ? reading.canonical : ''
    if (!domain || canonical === '') unknown.push(text)
    else wanted.push({ address: text, domainId: domain.id, canonical })
  }
  const found = new Map<string, number>()
  for (let from = 0; from < wanted.length; from += PAGE) {
    const rows = await db.sequelize.query<{
      id: number
      domain_id: number
      canonical: string
      forwards_to: number | null
    }>('SELECT id, domain_id, canonical, forwards_to FROM link WHERE (domain_id, canonical) IN (:pairs)', {
      replacements: { pairs: wanted.slice(from, from + PAGE).map((one) => [one.domainId, one.canonical]) },
      type: QueryTypes.SELECT,
    })
    for (const row of rows) found.set(`${row.domain_id}/${row.canonical}`, Number(row.forwards_to ?? row.id))
  }
  const links: number[] = []
  for (const { address, domainId, canonical } of wanted) {
    const id = found.get(`${domainId}/${canonical}`)
    if (id === undefined) unknown.push(address)
    else links.push(id)
  }
  return { links: [...new Set(links)], unknown }
}
