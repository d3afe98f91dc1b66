// The MaxMind DB file format, version 2.0 (its specification): the networks of the country file are walked here by
// hand, and what the gateway says of their first and last addresses is held to the country each is registered for.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { beforeAll, describe, expect, it } from 'vitest'
import { openCountries, type CountryOf } from '../../../gateway/country'
import { seeded } from '../../../server/database/seed/chance'

const FILE = '@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'
const database = readFileSync(createRequire(import.meta.url).resolve(FILE))
const MARKER = Buffer.from('abcdef4d61784d696e642e636f6d', 'hex')

/** A control octet says type and size (“Data Field Format”); only what this file holds is read. */
function readData(at: number, base: number): [value: unknown, next: number] {
  const control = database[at]!
  let type = control >> 5
  let next = at + 1
  if (type === 1) {
    // A pointer, of one of four sizes.
    const size = (control >> 3) & 3
    const high = control & 7
    const octets = database.subarray(next, next + size + 1)
    const plain = octets.reduce((sum, octet) => sum * 256 + octet, size === 3 ? 0 : high)
    return [readData(base + plain + [0, 2048, 526_336, 0][size]!, base)[0], next + size + 1]
  }
  if (type === 0) type = 7 + database[next++]!
  let size = control & 31
  if (size === 29) size = 29 + database[next++]!
  else if (size === 30) {
    size = 285 + database.readUInt16BE(next)
    next += 2
  }
  if (type === 2) return [database.toString('utf8', next, next + size), next + size]
  if (type === 7) {
    const map: Record<string, unknown> = {}
    for (let pair = 0; pair < size; pair++) {
      const [key, after] = readData(next, base)
      const [value, end] = readData(after, base)
      map[key as string] = value
      next = end
    }
    return [map, next]
  }
  if (type === 11) {
    const list: unknown[] = []
    for (let nth = 0; nth < size; nth++) {
      const [value, end] = readData(next, base)
      list.push(value)
      next = end
    }
    return [list, next]
  }
  // Unsigned integers of up to eight octets.
  return [Number(`0x${database.toString('hex', next, next + size) || '0'}`), next + size]
}

const start = database.lastIndexOf(MARKER) + MARKER.length
const [told] = readData(start, start) as [{ node_count: number; record_size: number; ip_version: number }, number]
const { node_count: nodes, record_size: bits } = told
const treeOctets = (nodes * bits * 2) / 8
const dataStart = treeOctets + 16

/** The left or right record of a node (“Binary Search Tree Section”). */
function record(node: number, right: boolean): number {
  const at = (node * bits * 2) / 8
  if (bits === 24) return database.readUIntBE(at + (right ? 3 : 0), 3)
  if (bits === 32) return database.readUInt32BE(at + (right ? 4 : 0))
  const middle = database[at + 3]!
  return right
    ? ((middle & 15) << 24) | database.readUIntBE(at + 4, 3)
    : ((middle >> 4) << 24) | database.readUIntBE(at, 3)
}

interface Network {
  first: bigint
  length: number
  country: string
}

/** Goes down at random until a network that has data; IPv6 addresses, of which the first 2^32 are IPv4’s. */
function anyNetwork(random: () => number, start: { node: number; depth: number; first: bigint }): Network | undefined {
  let { node, first } = start
  for (let depth = start.depth; depth < 128; depth++) {
    const right = random() < 0.5
    if (right) first |= 1n << BigInt(127 - depth)
    node = record(node, right)
    if (node === nodes) return undefined
    if (node > nodes) {
      const [data] = readData(dataStart + (node - nodes - 16), dataStart) as [{ country_code?: string }, number]
      return { first, length: depth + 1, country: data.country_code ?? '' }
    }
  }
  return undefined
}

const groups = (address: bigint) =>
  Array.from({ length: 8 }, (_, group) => ((address >> BigInt(112 - group * 16)) & 0xffffn).toString(16)).join(':')
const dotted = (address: bigint) =>
  Array.from({ length: 4 }, (_, octet) => Number((address >> BigInt(24 - octet * 8)) & 0xffn)).join('.')

describe('countries', () => {
  let countryOf: CountryOf
  beforeAll(async () => (countryOf = await openCountries()))

  it.each(['IPv6', 'IPv4'] as const)('are those of the file’s own ranges, for %s', (family) => {
    const random = seeded(4291)
    // IPv4 lies under 96 zeros; what is given out of IPv6 under 2000::/3 (RFC 4291 §2.4).
    const prefix = family === 'IPv4' ? '0'.repeat(96) : '001'
    let begin = { node: 0, depth: 0, first: 0n }
    for (const bit of prefix)
      begin = {
        node: record(begin.node, bit === '1'),
        depth: begin.depth + 1,
        first: begin.first | (BigInt(bit) << BigInt(127 - begin.depth)),
      }
    const seen = new Set<string>()
    let networks = 0
    for (let tries = 0; tries < 200_000 && networks < 150; tries++) {
      const network = anyNetwork(random, begin)
      if (!network) continue
      networks++
      seen.add(network.country)
      const last = network.first | ((1n << BigInt(128 - network.length)) - 1n)
      const show = family === 'IPv4' ? dotted : groups
      for (const address of [network.first, last])
        expect(countryOf(show(address)), `${show(address)}, of a /${network.length}`).toBe(network.country)
    }
    expect(networks).toBe(150)
    expect(seen.size).toBeGreaterThan(15)
  })
})
