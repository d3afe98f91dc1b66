import type { BlockList } from 'node:net'
import ipaddr from 'ipaddr.js'

/**
 * Whether an address belongs to the public internet: not to a special-purpose registry (RFC 6890), nor mapped into one.
 */
export const isPublicAddress = (address: string): boolean => ipaddr.process(address).range() === 'unicast'

/** Whether an operator listed the network an address lies in, mapped forms included. */
export function isListed(address: string, networks: BlockList): boolean {
  const parsed = ipaddr.process(address)
  return networks.check(parsed.toString(), parsed.kind())
}
