import { isIP } from 'node:net'
import { LRUCache } from 'lru-cache'
import { nameOfHost } from '../../core/dns'
import { ask } from '../names/ask'
import type { NamesContext } from '../names/context'

/** What resolvers say of a host’s addresses. */
export type LookedUp =
  { ok: true; addresses: string[] } | { ok: false; reason: 'no-name' | 'no-address' | 'names-silent'; text: string }

/** Answers are kept as long as their TTL, within these bounds. */
const MIN_MS = 5_000
const MAX_MS = 300_000
const MAX_NAMES = 20_000

/**
 * Makes what looks hosts up: A and AAAA at the installation’s resolvers, one after the other until one answers, kept
 * for the answer’s TTL. Address literals are themselves.
 */
export function makeLookUp(names: NamesContext): (host: string) => Promise<LookedUp> {
  const kept = new LRUCache<string, Promise<LookedUp>>({ max: MAX_NAMES, ttl: MAX_MS })
  return (host) => {
    const literal = host.startsWith('[') ? host.slice(1, -1) : host
    if (isIP(literal) !== 0) return Promise.resolve({ ok: true, addresses: [literal] })
    const known = kept.get(host)
    if (known) return known
    const asked = lookUp(names, host).then(({ answer, ttlMs }) => {
      kept.set(host, asked, { ttl: ttlMs })
      return answer
    })
    kept.set(host, asked, { ttl: MAX_MS })
    return asked
  }
}

interface Typed {
  status: 'answered' | 'no-name' | 'no-address' | 'failed'
  addresses: string[]
  ttl: number
}

async function lookUp(names: NamesContext, host: string): Promise<{ answer: LookedUp; ttlMs: number }> {
  let name: string
  try {
    name = nameOfHost(host.replace(/\.$/, ''))
  } catch {
    return { answer: { ok: false, reason: 'no-name', text: `${host} is no name` }, ttlMs: MAX_MS }
  }
  const [four, six] = await Promise.all([askFor(names, name, 'A'), askFor(names, name, 'AAAA')])
  const addresses = [...four.addresses, ...six.addresses]
  const ttlMs = Math.min(MAX_MS, Math.max(MIN_MS, Math.min(four.ttl, six.ttl) * 1000))
  if (addresses.length > 0) return { answer: { ok: true, addresses }, ttlMs }
  const fail = (reason: 'no-name' | 'no-address' | 'names-silent', text: string) => ({
    answer: { ok: false as const, reason, text },
    ttlMs: MIN_MS,
  })
  if (four.status === 'no-name') return fail('no-name', 'resolvers say that this name does not exist (NXDOMAIN)')
  if (four.status === 'failed' || six.status === 'failed')
    return fail('names-silent', 'no resolver could say where it is')
  return fail('no-address', 'the name has neither A nor AAAA records')
}

async function askFor(names: NamesContext, name: string, type: 'A' | 'AAAA'): Promise<Typed> {
  for (const resolver of names.resolvers) {
    const asked = await ask(resolver, name, type, { recursive: true, retries: 0 })
    if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN')) continue
    const own = asked.message.answer.filter((record) => record.type === type)
    return {
      status: own.length > 0 ? 'answered' : asked.message.rcode === 'NXDOMAIN' ? 'no-name' : 'no-address',
      addresses: own.map((record) => record.data),
      ttl: own.length > 0 ? Math.min(...asked.message.answer.map((record) => record.ttl)) : 60,
    }
  }
  return { status: 'failed', addresses: [], ttl: 0 }
}
