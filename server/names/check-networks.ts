import type { BlockList } from 'node:net'
import ipaddr from 'ipaddr.js'
import { SPECIAL_PURPOSE } from './special-purpose'

/**
 * Blocks that lead to this machine, to its provider’s metadata or to everybody at once: no check ever goes there,
 * whoever lists them.
 */
const NEVER = [
  '0.0.0.0/8',
  '127.0.0.0/8',
  '169.254.0.0/16',
  '192.0.0.0/24',
  '224.0.0.0/4',
  '240.0.0.0/4',
  '::/96',
  '::ffff:0:0/96',
  '::ffff:0:0:0/96',
  'fe80::/10',
  'ff00::/8',
  // Where providers’ metadata services answer within shared and unique local addresses.
  '100.100.100.200/32',
  'fd00:ec2::/32',
].map((block) => ipaddr.parseCIDR(block))

/** Blocks of the organisation’s own: whatever is not public, but for those above. */
const OWN = SPECIAL_PURPOSE.map(([block]) => ipaddr.parseCIDR(block)).filter(
  (block) => !NEVER.some((no) => holds(no, block)),
)

type Block = [address: ipaddr.IPv4 | ipaddr.IPv6, prefix: number]

/** Whether the first block holds the second. */
function holds([outer, length]: Block, [inner, longer]: Block): boolean {
  return outer.kind() === inner.kind() && length <= longer && inner.match(outer as never, length)
}

/** Why a network cannot be one that checks may ask, as a sentence; `undefined` where it can. */
export function refuseCheckNetwork(network: string): string | undefined {
  const block = blockOf(network)
  if (!block) return `${network} is no network; give one like 10.20.0.0/16.`
  if (NEVER.some((no) => holds(no, block)))
    return `${network} leads to this machine, to the next link or to many at once; checks never go there.`
  if (OWN.some((own) => holds(own, block))) return undefined
  return `${network} is not a private network; public addresses are checked anyway.`
}

function blockOf(network: string): Block | undefined {
  try {
    if (network.includes('/')) return ipaddr.parseCIDR(network)
    const address = ipaddr.parse(network)
    return [address, address.kind() === 'ipv4' ? 32 : 128]
  } catch {
    return undefined
  }
}

/** Whether an address lies in a listed network and may be asked: also where an older list holds more than it may. */
export function isOwnAddress(address: string, networks: BlockList): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  if (NEVER.some((no) => holds(no, [parsed, parsed.kind() === 'ipv4' ? 32 : 128]))) return false
  return networks.check(parsed.toString(), parsed.kind())
}
