import { canonicalSlug, decodePath, readDestination } from '../../../core/address'
import type { OldPaths } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { inChild } from '../../threads/in-child'
import { findDomain } from './find-domain'
import { fieldProblem, Problem } from '../problem'

export const MAX_LOG_OCTETS = 32_000_000
const MAX_PATHS = 200

/**
 * Reads the old website's access log: the paths people asked for, the slug each would have here, whether that is
 * taken, and where it would lead when `to` is where the old pages are found from now on.
 */
export async function readOldPaths(db: Database, id: number, octets: Buffer, to: string): Promise<OldPaths> {
  const domain = await findDomain(db, id)
  if (octets.length > MAX_LOG_OCTETS)
    throw new Problem(
      413,
      'Too large',
      `The log is larger than ${MAX_LOG_OCTETS / 1e6} MB, which is the most that is taken. The last weeks ` +
        'of it are enough.',
    )
  if (to !== '') {
    const destination = readDestination(to)
    if (!destination.ok)
      throw fieldProblem('to', 'Give where the old pages are from now on, like “https://www.portanseltransit.example”.')
  }
  const reading = await inChild(
    'read-log',
    { octets, most: MAX_PATHS },
    { what: 'Reading the log', instead: 'Send only its last weeks.' },
  )
  if (reading.lines === reading.unread)
    throw fieldProblem(
      'log',
      'No line of this is in Common or Combined Log Format, like: 192.0.2.1 - - [24/Nov/2026:10:00:00 ' +
        '+0000] "GET /page HTTP/1.1" 200 123',
    )
  const items = reading.paths.map((seen) => {
    const decoded = decodePath(seen.path)
    const slug = (decoded.ok ? decoded.text : seen.path).replace(/^\/+|\/+$/g, '')
    return { ...seen, slug, canonical: canonicalSlug(slug, domain) }
  })
  const taken = new Set(
    (
      await db.Link.findAll({
        where: {
          domainId: domain.id,
          canonical: items.map((item) => item.canonical).filter((canonical) => canonical !== undefined),
        },
        attributes: ['canonical'],
      })
    ).map((link) => link.canonical),
  )
  const base = to.replace(/\/+$/, '')
  return {
    lines: reading.lines,
    unread: reading.unread,
    requests: reading.requests,
    items: items.map(({ path, slug, canonical, visits, lastAt }) => ({
      path,
      slug,
      visits,
      lastAt: lastAt === undefined ? null : new Date(lastAt).toISOString(),
      destination: base === '' ? '' : base + path,
      taken: canonical !== undefined && taken.has(canonical),
    })),
  }
}
