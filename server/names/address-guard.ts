import type { BlockList } from 'node:net'
import ipaddr from 'ipaddr.js'

export { isPublicAddress } from './special-purpose'

/** Whether an operator listed the network an address lies in, mapped forms included. */
export function isListed(address: string, networks: BlockList): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  return networks.check(parsed.toString(), parsed.kind())
}
