import { createHmac } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import type { BlockList } from 'node:net'
import type { Answer } from '../core/table'
import { firstLanguage, forwardedAddress, readDevice, referrerHost, visitKind, writeEvent, type Device } from '../core/visits'
import type { CountryOf } from './country'

const REMEMBERED = 20_000

interface Visitor {
  token: string
  country: string
}

/** What the observer needs from outside. */
export interface ObserverSources {
  /** The day's secret for visitor tokens. */
  secretAt(now: number): Buffer
  countryOf: CountryOf
  trustedProxies: BlockList
}

/**
 * Makes the spool's line for an answered request. User agents and visitors repeat, so what is computed from them is
 * remembered, within bounds; the memory of visitors goes with the day's secret.
 */
export function createObserver(sources: ObserverSources) {
  const devices = new Map<string, Device>()
  let visitors = new Map<string, Visitor>()
  let visitorsSecret: Buffer | undefined

  const isTrusted = (address: string) => {
    try {
      return sources.trustedProxies.check(address, address.includes(':') ? 'ipv6' : 'ipv4')
    } catch {
      return false
    }
  }

  function visitorOf(address: string, userAgent: string, now: number): Visitor {
    const secret = sources.secretAt(now)
    if (secret !== visitorsSecret) {
      visitors = new Map()
      visitorsSecret = secret
    }
    const key = address + '\n' + userAgent
    let visitor = visitors.get(key)
    if (!visitor) {
      visitor = { token: createHmac('sha256', secret).update(key).digest('hex').slice(0, 32), country: sources.countryOf(address) }
      if (visitors.size >= REMEMBERED) visitors.clear()
      visitors.set(key, visitor)
    }
    return visitor
  }

  function deviceOf(userAgent: string): Device {
    let device = devices.get(userAgent)
    if (!device) {
      device = readDevice(userAgent)
      if (devices.size >= REMEMBERED) devices.clear()
      devices.set(userAgent, device)
    }
    return device
  }

  return function observe(request: IncomingMessage, answer: Answer, now: number): string {
    const headers = request.headers
    const userAgent = headers['user-agent']?.slice(0, 500) ?? ''
    let address = (request.socket.remoteAddress ?? '').replace(/^::ffff:/, '')
    if ((headers.forwarded ?? headers['x-forwarded-for']) !== undefined && isTrusted(address)) {
      address =
        forwardedAddress({ forwarded: headers.forwarded, xForwardedFor: headers['x-forwarded-for'] as string | undefined }, isTrusted) ?? address
    }
    const visitor = visitorOf(address, userAgent, now)
    const device = deviceOf(userAgent)
    const purpose = headers['sec-purpose'] ?? headers.purpose
    return writeEvent({
      at: now,
      domainId: answer.domainId,
      linkId: answer.linkId,
      kind: visitKind({
        method: request.method ?? '',
        redirected: answer.outcome === 'redirect',
        userAgent,
        purpose: typeof purpose === 'string' ? purpose : '',
      }),
      status: answer.status,
      outcome: answer.outcome,
      path: answer.linkId === 0 ? answer.canonical : '',
      referrer: referrerHost(headers.referer),
      country: visitor.country,
      language: firstLanguage(headers['accept-language']),
      device: device.device,
      system: device.system,
      browser: device.browser,
      visitor: visitor.token,
    })
  }
}
