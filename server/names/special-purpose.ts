import { BlockList, isIP } from 'node:net'
import ipaddr from 'ipaddr.js'

/**
 * Blocks of the IANA IPv4 and IPv6 Special-Purpose Address Registries (RFC 6890, with what was added since) and of
 * multicast that no visitor's browser reaches across the internet. Blocks the registries call globally reachable, as
 * those of AS112, are anycast services and no website; they are left out of reach as well.
 */
export const SPECIAL_PURPOSE = [
  ['0.0.0.0/8', '“this network”, RFC 791'],
  ['10.0.0.0/8', 'private use, RFC 1918'],
  ['100.64.0.0/10', 'shared address space, RFC 6598'],
  ['127.0.0.0/8', 'loopback, RFC 1122'],
  ['169.254.0.0/16', 'link local, RFC 3927'],
  ['172.16.0.0/12', 'private use, RFC 1918'],
  ['192.0.0.0/24', 'IETF protocol assignments, RFC 6890'],
  ['192.0.2.0/24', 'documentation, RFC 5737'],
  ['192.31.196.0/24', 'AS112-v4, RFC 7535'],
  ['192.52.193.0/24', 'AMT, RFC 7450'],
  ['192.88.99.0/24', 'deprecated 6to4 relay anycast, RFC 7526'],
  ['192.168.0.0/16', 'private use, RFC 1918'],
  ['192.175.48.0/24', 'direct delegation AS112, RFC 7534'],
  ['198.18.0.0/15', 'benchmarking, RFC 2544'],
  ['198.51.100.0/24', 'documentation, RFC 5737'],
  ['203.0.113.0/24', 'documentation, RFC 5737'],
  ['224.0.0.0/4', 'multicast, RFC 5771'],
  ['240.0.0.0/4', 'reserved and limited broadcast, RFC 1112, RFC 919'],
  ['::/128', 'unspecified, RFC 4291'],
  ['::1/128', 'loopback, RFC 4291'],
  ['::/96', 'deprecated IPv4-compatible, RFC 4291'],
  ['::ffff:0:0:0/96', 'IPv4-translated, RFC 2765'],
  ['64:ff9b:1::/48', 'local-use IPv4/IPv6 translation, RFC 8215'],
  ['100::/64', 'discard-only, RFC 6666'],
  ['100:0:0:1::/64', 'dummy prefix, RFC 9780'],
  ['2001::/23', 'IETF protocol assignments, RFC 2928: Teredo, benchmarking, ORCHID and others'],
  ['2001:db8::/32', 'documentation, RFC 3849'],
  ['2620:4f:8000::/48', 'direct delegation AS112, RFC 7534'],
  ['3fff::/20', 'documentation, RFC 9637'],
  ['5f00::/16', 'segment routing SIDs, RFC 9602'],
  ['fc00::/7', 'unique local, RFC 4193'],
  ['fe80::/10', 'link local, RFC 4291'],
  ['fec0::/10', 'deprecated site local, RFC 3879'],
  ['ff00::/8', 'multicast, RFC 4291'],
] as const

/** Blocks whose addresses carry an IPv4 address, and where in their 16 octets: such an address is as public as that. */
const CARRIERS = [
  { block: ['::ffff:0:0', 96], at: 12 },
  { block: ['64:ff9b::', 96], at: 12 },
  { block: ['2002::', 16], at: 2 },
] as const

const special = new BlockList()
for (const [block] of SPECIAL_PURPOSE) {
  const [network, prefix] = block.split('/') as [string, string]
  special.addSubnet(network, Number(prefix), network.includes(':') ? 'ipv6' : 'ipv4')
}

/**
 * Whether an address can be a visitor's destination on the public internet. IPv4 addresses inside IPv6 ones (mapped,
 * NAT64 of RFC 6052, 6to4 of RFC 3056) are judged as what they carry. What is no address is not public.
 */
export function isPublicAddress(address: string): boolean {
  const bare = address.split('%')[0]!
  if (isIP(bare) === 0) return false
  const parsed = ipaddr.parse(bare)
  if (parsed.kind() === 'ipv4') return !special.check(parsed.toString(), 'ipv4')
  const octets = parsed.toByteArray()
  for (const { block, at } of CARRIERS)
    if ((parsed as ipaddr.IPv6).match(ipaddr.IPv6.parse(block[0]), block[1]))
      return !special.check(octets.slice(at, at + 4).join('.'), 'ipv4')
  // Only 2000::/3 is global unicast today (RFC 4291 §2.4, IANA IPv6 Address Space).
  return octets[0]! >> 5 === 1 && !special.check(parsed.toNormalizedString(), 'ipv6')
}
