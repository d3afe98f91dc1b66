import { QueryTypes } from 'sequelize'
import type { Evidence } from '../../../core/targets'
import { ask } from '../../names/ask'
import type { NamesContext } from '../../names/context'
import type { Asker } from '../../targets/asker'
import { connectTo } from '../../targets/connect'
import type { Database } from '../../database/open'

/** What was found stands so long. */
const KEPT_MS = 10_000
/** Hosts tried before we count as cut off. */
const MAX_HOSTS = 3
/** Of the targets checked last, so many are looked at for their hosts. */
const LOOKED_AT = 60
const PATIENCE_MS = 4000

/** Faults that could be this machine’s own as well. */
const OURS_PERHAPS = new Set(['no-name', 'no-address', 'names-silent', 'refused-connection', 'timeout', 'reset'])

/**
 * Makes what tells whether this machine itself is cut off, by two independent things: resolvers answer for the root,
 * and one of the hosts that answered last can be connected to. Asked only where a check failed in a way that could be
 * our fault; where no other host is known yet, resolvers alone decide.
 */
export function makeOnline(db: Database, names: NamesContext): (asker: Asker, evidence: Evidence) => Promise<boolean> {
  let kept: { at: number; online: Promise<boolean> } | undefined
  return (asker, evidence) => {
    const { fault, url } = evidence.hops.at(-1)!
    if (!fault || !OURS_PERHAPS.has(fault.kind)) return Promise.resolve(true)
    if (kept && Date.now() - kept.at < KEPT_MS) return kept.online
    const online = look(db, names, asker, new URL(url).hostname)
    kept = { at: Date.now(), online }
    return online
  }
}

async function look(db: Database, names: NamesContext, asker: Asker, besides: string): Promise<boolean> {
  const resolvers = await Promise.all(
    names.resolvers.slice(0, MAX_HOSTS).map((one) => ask(one, '.', 'NS', { recursive: true, retries: 0 })),
  )
  if (!resolvers.some((asked) => asked.ok)) return false
  const hosts = await db.sequelize.query<{ host: string; destination: string }>(
    `SELECT host, destination FROM target WHERE confidence = 'sound' AND host <> ?
     ORDER BY checked_at DESC LIMIT ${LOOKED_AT}`,
    { replacements: [besides], type: QueryTypes.SELECT },
  )
  const each = new Map(hosts.map(({ host, destination }) => [host, destination]))
  if (each.size === 0) return true
  const answered = await Promise.all(
    [...each.values()].slice(0, MAX_HOSTS).map((destination) => connects(asker, destination)),
  )
  return answered.some(Boolean)
}

/** Whether a host takes a connection; nothing is asked over it. */
async function connects(asker: Asker, destination: string): Promise<boolean> {
  const url = new URL(destination)
  const looked = await asker.lookUp(url.hostname)
  const port = Number(url.port) || (url.protocol === 'https:' ? 443 : 80)
  const address = looked.ok ? looked.addresses.find((one) => asker.mayAsk(one, port)) : undefined
  if (!address) return false
  try {
    const { socket } = await connectTo(asker.way(address, port), url.hostname, { tls: false, timeoutMs: PATIENCE_MS })
    socket.destroy()
    return true
  } catch {
    return false
  }
}
