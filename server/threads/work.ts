import { readAccessLog } from '../../core/log/access-log'
import { intake, nameOfHost, originByNames, originInFile, readZone, soaInFile, type GatewayFacts } from '../../core/dns'
import { comparePatterns, judgePattern, readPattern } from '../../core/patterns'
import type { Sameness } from '../../core/address/slug'

type Syntax = Parameters<typeof readPattern>[0]

/** What a pattern is compared by: as typed, on a domain that reads its addresses so. */
interface Given {
  syntax: Syntax
  sameness: Sameness
}

/**
 * Computations that can be long for what somebody gave, and run in a thread: each takes and gives plain values. What is
 * wrong with what was given is a value as well.
 */
export const WORK = {
  /** How two patterns stand to each other. */
  'compare-patterns': ({ syntax, sameness, a, b }: Given & { a: string; b: string }) => {
    const first = readPattern(syntax, a, !sameness.capitalsMatter)
    if (!first.ok) return { ok: false as const, at: 0, sentence: first.sentence }
    const second = readPattern(syntax, b, !sameness.capitalsMatter)
    if (!second.ok) return { ok: false as const, at: 1, sentence: second.sentence }
    return comparePatterns(first.pattern, second.pattern, sameness)
  },

  /** Whether a pattern can be proved apart from others, but for the slugs it leaves alone. */
  'judge-pattern': ({ syntax, sameness, pattern, except }: Given & { pattern: string; except: readonly string[] }) => {
    const reading = readPattern(syntax, pattern, !sameness.capitalsMatter)
    return reading.ok ? judgePattern({ pattern: reading.pattern, except }, sameness) : reading.sentence
  },

  /** Sums an access log up. */
  'read-log': ({ octets, most }: { octets: Uint8Array; most: number }) =>
    readAccessLog(Buffer.from(octets.buffer, octets.byteOffset, octets.byteLength).toString('utf8'), most),

  /** What a master file says of the zone it is of. */
  'zone-origin': ({ text, host }: { text: string; host: string }) => {
    const name = nameOfHost(host)
    return { inFile: originInFile(text, name), soa: soaInFile(text), byNames: originByNames(text, name) }
  },

  /** Whether a master file can be read, and what it holds. */
  'read-zone': ({ text, origin }: { text: string; origin: string }) => {
    const { faults, records, entries, origin: own } = readZone(text, origin)
    const soa = entries.find((entry) => entry.record?.type === 'SOA')?.record
    return { faults, records: records.length, origin: own, soaName: soa?.name }
  },

  /** Everything found in a zone for a name that is brought here. */
  'zone-findings': (given: {
    text: string
    origin: string
    partial: boolean
    host: string
    proofToken: string
    gateway: GatewayFacts
  }) =>
    intake(
      { ...readZone(given.text, given.origin), partial: given.partial },
      nameOfHost(given.host),
      given.proofToken,
      given.gateway,
    ),
}

export type WorkName = keyof typeof WORK
export type Input<Name extends WorkName> = Parameters<(typeof WORK)[Name]>[0]
export type Output<Name extends WorkName> = ReturnType<(typeof WORK)[Name]>
