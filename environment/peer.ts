import type { BlockList } from 'node:net'

/** An address as it is compared: one of IPv4 that came by an IPv6 socket is one of IPv4 (RFC 4291 §2.5.5.2). */
export const plainAddress = (address: string | undefined): string =>
  address?.startsWith('::ffff:') ? address.slice(7) : (address ?? '')

/** Whether an address is one of our own proxies; nobody else's fields are believed. */
export const trustedBy =
  (proxies: BlockList) =>
  (address: string): boolean => {
    try {
      return proxies.check(address, address.includes(':') ? 'ipv6' : 'ipv4')
    } catch {
      return false
    }
  }
