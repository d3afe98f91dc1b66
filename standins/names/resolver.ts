import { createSocket } from 'node:dgram'
import { negativeTtl, targetName, type DnsName, type DnsRecord } from '../../core/dns'
import {
  decodeMessage,
  encodeMessage,
  inRecord,
  message,
  plainRecord,
  question,
  type DnsMessage,
  type Rcode,
} from '../../core/dns/wire'
import { serveDns, type DnsServer } from './serve'

/** How a stand-in resolver misbehaves; nothing set means well. */
export interface ResolverFaults {
  /** Keeps nothing longer than this many seconds. */
  cap?: number
  /** Keeps everything this many times as long as it may. */
  stretch?: number
  silent?: boolean
  servfail?: boolean
}

interface Kept {
  rcode: Rcode
  /** The set asked for, or the alias in its place. */
  records: DnsRecord[]
  /** The SOA of a negative answer. */
  soa: DnsRecord | undefined
  ttl: number
  /** Clock seconds. */
  since: number
}

export interface ResolverOptions {
  port: number
  /** Loopback ports of the name servers it asks, the preferred one first. */
  authorities: readonly number[]
  /** Seconds; may run faster than the clock on the wall. */
  clock(): number
}

const PATIENCE_MS = 1000
const MAX_ALIASES = 8

/**
 * A stand-in recursive resolver: asks the name servers with real messages, keeps positive answers for their TTL and
 * negative ones for the smaller of the SOA's TTL and MINIMUM (RFC 2308 §5), and tells the time that is left.
 */
export class Resolver {
  faults: ResolverFaults = {}
  private readonly kept = new Map<string, Kept>()
  private server: DnsServer | undefined
  private id = 0

  constructor(
    readonly name: string,
    private readonly options: ResolverOptions,
  ) {}

  get port(): number {
    return this.server?.port ?? this.options.port
  }
  get asked(): number {
    return this.server?.asked ?? 0
  }

  async start(): Promise<void> {
    this.server = await serveDns(this.options.port, (octets) => this.handle(octets))
  }
  async stop(): Promise<void> {
    await this.server?.stop()
  }
  /** Forgets everything kept. */
  flush(): void {
    this.kept.clear()
  }

  private async handle(octets: Uint8Array): Promise<Uint8Array[]> {
    if (this.faults.silent) return []
    const asked = decodeMessage(octets)
    const [wanted] = asked.questions
    if (asked.response || !wanted) return []
    const told = this.faults.servfail ? { rcode: 'SERVFAIL' as const } : await this.resolve(wanted.name, wanted.type)
    return [
      encodeMessage(
        message(asked.id, {
          ...told,
          response: true,
          rd: asked.rd,
          ra: true,
          questions: asked.questions,
          ...(asked.ednsSize !== undefined && { ednsSize: 1232 }),
        }),
      ),
    ]
  }

  /** Answers one question from what is kept and, for the rest, from the name servers. */
  async resolve(name: DnsName, type: string): Promise<Partial<DnsMessage>> {
    const answer: DnsRecord[] = []
    let asked = name
    for (let hops = 0; hops <= MAX_ALIASES; hops++) {
      const kept = await this.one(asked, type)
      if (!kept) return { rcode: 'SERVFAIL' }
      const left = Math.max(0, kept.ttl - Math.floor(this.options.clock() - kept.since))
      answer.push(...kept.records.map((record) => ({ ...record, ttl: left })))
      const alias = kept.records.find((record) => record.type === 'CNAME')
      if (!alias || type === 'CNAME')
        return {
          rcode: kept.rcode,
          answer: answer.map(inRecord),
          authority: kept.soa ? [inRecord({ ...kept.soa, ttl: left })] : [],
        }
      asked = targetName(alias)!
    }
    return { rcode: 'SERVFAIL' }
  }

  private async one(name: DnsName, type: string): Promise<Kept | undefined> {
    const now = this.options.clock()
    // What is kept of the type itself is given for as long as it may, though an alias was learnt meanwhile by another.
    for (const each of type === 'CNAME' ? ['CNAME'] : [type, 'CNAME']) {
      const kept = this.kept.get(`${name} ${each}`)
      // A name kept as having no alias says nothing of other types.
      if (kept && now - kept.since < kept.ttl && (each === type || kept.records.length > 0)) return kept
    }
    const fresh = await this.ask(name, type)
    if (!fresh) return undefined
    this.kept.set(`${name} ${fresh.records.find((record) => record.type === 'CNAME') ? 'CNAME' : type}`, fresh)
    return fresh
  }

  private async ask(name: DnsName, type: string): Promise<Kept | undefined> {
    for (const port of this.options.authorities) {
      const given = await this.send(port, name, type)
      if (!given || (given.rcode !== 'NOERROR' && given.rcode !== 'NXDOMAIN') || !given.aa) continue
      const since = this.options.clock()
      const alias = given.answer.filter((record) => record.name === name && record.type === 'CNAME')
      const records = (
        type !== 'CNAME' && alias.length > 0
          ? alias
          : given.answer.filter((record) => record.name === name && record.type === type)
      ).map(plainRecord)
      if (records.length > 0)
        return {
          rcode: 'NOERROR',
          records,
          soa: undefined,
          ttl: this.keep(Math.min(...records.map((record) => record.ttl))),
          since,
        }
      const soa = given.authority.map(plainRecord).find((record) => record.type === 'SOA')
      return { rcode: given.rcode, records: [], soa, ttl: this.keep(soa ? negativeTtl(soa) : 0), since }
    }
    return undefined
  }

  private keep(ttl: number): number {
    return Math.min(ttl * (this.faults.stretch ?? 1), this.faults.cap ?? Number.POSITIVE_INFINITY)
  }

  private send(port: number, name: DnsName, type: string): Promise<DnsMessage | undefined> {
    const id = (this.id = (this.id + 1) % 65_536)
    return new Promise((resolve) => {
      const socket = createSocket('udp4')
      const end = (given: DnsMessage | undefined) => {
        clearTimeout(timer)
        socket.close()
        resolve(given)
      }
      const timer = setTimeout(() => end(undefined), PATIENCE_MS)
      socket.on('error', () => end(undefined))
      socket.on('message', (octets) => {
        const given = decodeMessage(octets)
        if (given.id === id) end(given)
      })
      socket.send(encodeMessage(message(id, { questions: [question(name, type)], ednsSize: 4096 })), port, '127.0.0.1')
    })
  }
}
