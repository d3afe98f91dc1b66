import { getHeader, type H3Event } from 'h3'
import { forwardedAddress, forwardedScheme } from '../../core/visits'
import { plainAddress, trustedBy } from '../../environment/peer'
import { agentOf, type Caller } from '../usecases/people/caller'
import { useSettings } from './context'

/** Where a request came from: told by the connection, or by a trusted proxy's fields and by nobody else's. */
export function callerOf(event: H3Event): Caller {
  const isTrusted = trustedBy(useSettings().FIDES_TRUSTED_PROXIES)
  const socket = plainAddress(event.node.req.socket.remoteAddress)
  const trusted = isTrusted(socket)
  const forwarded = getHeader(event, 'forwarded')
  const xForwardedFor = getHeader(event, 'x-forwarded-for')
  const peer = (trusted && forwardedAddress({ forwarded, xForwardedFor }, isTrusted)) || socket
  const scheme =
    trusted && forwardedScheme({ forwarded, xForwardedProto: getHeader(event, 'x-forwarded-proto') }) === 'https'
      ? 'https'
      : 'http'
  return {
    peer,
    agent: agentOf(getHeader(event, 'user-agent')),
    origin: `${scheme}://${getHeader(event, 'host') ?? ''}`,
  }
}

/**
 * Whether a request that changes something came from a page of our own: by Fetch Metadata where the browser sends it,
 * else by Origin (RFC 6454 §7). One that says neither is none of a browser of today.
 */
export function isSameOrigin(event: H3Event): boolean {
  const site = getHeader(event, 'sec-fetch-site')
  if (site !== undefined) return site === 'same-origin'
  const origin = getHeader(event, 'origin')
  if (origin === undefined || !URL.canParse(origin)) return false
  // The scheme is left to the cookie, which is bound to it: behind a proxy we need not know it.
  return new URL(origin).host === getHeader(event, 'host')
}
