import { getServers } from 'node:dns'
import { deriveKey } from '../../environment/secrets'
import { readEndpoint, type NamesVariables } from '../../environment/variables'
import { nameOfHost, type GatewayFacts } from '../../core/dns'
import { isListed, isPublicAddress } from './address-guard'
import type { ServerAddress } from './ask'

/** What an installation knows of its own public name and of the world's name servers. */
export interface NamesContext {
  gateway: GatewayFacts
  resolvers: (ServerAddress & { name: string })[]
  /** Where an outside address is really reached: itself, but for a demonstration or a test. */
  way(host: string, port: number): ServerAddress
  /**
   * Whether something at an address may be asked: a public one, one in a network that the operator listed, or one that
   * has such a way and so is none of the real world.
   */
  mayAsk(host: string, port: number): boolean
  /** Whether a front of our own gets the certificates. */
  front: boolean
  watchMs: number
  /** TTLs run this many times as fast as the clock on the wall; 1 but for a demonstration. */
  ttlSpeed: number
  sealingKey: Buffer
  reachKey: Buffer
}

/** Makes it of the checked environment. Without FIDES_RESOLVERS the system's own resolvers are asked. */
export function makeNamesContext(variables: NamesVariables): NamesContext {
  const addresses = variables.FIDES_PUBLIC_ADDRESSES
  return {
    gateway: {
      name: variables.FIDES_PUBLIC_NAME === undefined ? undefined : nameOfHost(variables.FIDES_PUBLIC_NAME),
      ipv4: addresses.filter((address) => !address.includes(':')),
      ipv6: addresses.filter((address) => address.includes(':')),
      issuers: variables.FIDES_CERTIFICATE_ISSUERS,
    },
    resolvers:
      variables.FIDES_RESOLVERS.length > 0
        ? variables.FIDES_RESOLVERS
        : getServers().flatMap((address) => {
            const endpoint = readEndpoint(address, 53)
            return endpoint ? [{ name: address, ...endpoint }] : []
          }),
    way: (host, port) => variables.FIDES_DETOURS.get(`${host}:${port}`) ?? { host, port },
    mayAsk: (host, port) =>
      variables.FIDES_DETOURS.has(`${host}:${port}`) ||
      isPublicAddress(host) ||
      isListed(host, variables.FIDES_PRIVATE_NETWORKS),
    front: variables.FIDES_FRONT_STATE !== undefined,
    watchMs: variables.FIDES_WATCH_SECONDS * 1000,
    ttlSpeed: variables.FIDES_TTL_SPEED,
    sealingKey: deriveKey(variables.FIDES_SECRET, 'sealing'),
    reachKey: deriveKey(variables.FIDES_SECRET, 'reach'),
  }
}
