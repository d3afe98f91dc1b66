import { randomBytes } from 'node:crypto'
import { request } from 'node:http'
import { REACH_PATH, reachProof } from '../../environment/secrets'
import { nameOfHost } from '../../core/dns'
import type { Reach } from '../../core/schemas'
import { ask } from './ask'
import type { NamesContext } from './context'

const TIMEOUT_MS = 5000
const MAX_OCTETS = 65_536

export interface Page {
  status: number
  location: string | null
  title: string | null
  body: string
}

/** Addresses a resolver gives for a host, aliases followed; `undefined` where no resolver answers. */
export async function addressesOf(
  names: NamesContext,
  host: string,
  pace?: () => Promise<void>,
): Promise<string[] | undefined> {
  const found: string[] = []
  let answered = false
  for (const type of ['A', 'AAAA']) {
    for (const resolver of names.resolvers) {
      const asked = await ask(resolver, nameOfHost(host), type, { recursive: true, pace })
      if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN')) continue
      answered = true
      found.push(...asked.message.answer.filter((record) => record.type === type).map((record) => record.data))
      break
    }
  }
  return answered ? found : undefined
}

/** Nobody asked: an address inside somebody's own network is none of ours to ask. */
export class NotAsked extends Error {}

/** Fetches a page by plain HTTP from an address, under a host's name; no redirects, no cookies. Rejects in words. */
export function fetchPage(names: NamesContext, address: string, host: string, path: string): Promise<Page> {
  if (!names.mayAsk(address, 80)) return Promise.reject(new NotAsked(`${address} is not a public address`))
  const way = names.way(address, 80)
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        host: way.host,
        port: way.port,
        path,
        headers: { host, 'user-agent': 'Fides (domain check)', accept: 'text/html, text/plain' },
        signal: AbortSignal.timeout(TIMEOUT_MS),
        agent: false,
      },
      (response) => {
        let body = ''
        response.setEncoding('utf8')
        const end = () =>
          resolve({
            status: response.statusCode!,
            location: response.headers.location ?? null,
            title: /<title[^>]*>([^<]{1,300})/i.exec(body)?.[1]?.trim() ?? null,
            body,
          })
        response.on('data', (piece: string) => {
          body += piece
          if (body.length > MAX_OCTETS) response.destroy()
        })
        response.on('close', end)
        response.on('error', () => undefined)
      },
    )
    sent.on('error', (error: NodeJS.ErrnoException) =>
      reject(
        new Error(
          error.name === 'TimeoutError' || error.name === 'AbortError'
            ? `${address} does not answer on port 80`
            : error.code === 'ECONNREFUSED'
              ? `${address} refuses connections on port 80`
              : `${address}: ${error.message}`,
        ),
      ),
    )
    sent.end()
  })
}

/**
 * Proves that a name reaches this gateway: asks, by HTTP at the address resolvers give, for a path with a word made
 * for this once, to which only a gateway of this installation knows the answer. `undefined` where no resolver answers.
 * With `through` it is asked at those addresses, or at those of that name, instead: where the records should lead,
 * whatever resolvers hold.
 */
export async function checkReach(
  names: NamesContext,
  host: string,
  now: Date,
  { pace, through }: { pace?: () => Promise<void>; through?: string | readonly string[] } = {},
): Promise<Reach | undefined> {
  const at = now.toISOString()
  const addresses = typeof through === 'object' ? through : await addressesOf(names, through ?? host, pace)
  if (!addresses) return undefined
  const [address] = addresses
  if (!address) return { ok: false, sentence: `No resolver has an address for ${host} yet.`, address: null, at }
  const nonce = randomBytes(18).toString('base64url')
  try {
    const page = await fetchPage(names, address, host, REACH_PATH + nonce)
    if (page.status === 200 && page.body.trim() === reachProof(names.reachKey, host, nonce))
      return { ok: true, sentence: `http://${host}/ at ${address} is answered by this gateway.`, address, at }
    return {
      ok: false,
      sentence:
        `http://${host}/ at ${address} is answered by another server (status ` +
        `${page.status}${page.title ? `, “${page.title}”` : ''}).`,
      address,
      at,
    }
  } catch (error) {
    return { ok: false, sentence: `http://${host}/ cannot be reached: ${(error as Error).message}.`, address, at }
  }
}
