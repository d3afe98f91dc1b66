import { recordKey, type DnsName, type DnsRecord } from '../../core/dns'
import {
  decodeMessage,
  encodeMessage,
  inRecord,
  message,
  OPCODE,
  readTsig,
  sign,
  TSIG_ERROR,
  verify,
  type DnsMessage,
  type TsigKey,
} from '../../core/dns/wire'
import { serveDns, type DnsServer } from './serve'
import { ZoneStore } from './store'

/** How a stand-in name server misbehaves; nothing set means well. */
export interface AuthorityFaults {
  /** Does not follow its primary any more: stays behind on its serial. */
  behind?: boolean
  silent?: boolean
  servfail?: boolean
  /** Knows nothing of any zone, as a lame delegation. */
  lame?: boolean
}

export interface AuthorityOptions {
  port: number
  /** Keys that may update and transfer. */
  keys?: readonly TsigKey[]
  /** Anybody may take whole zones. */
  openTransfers?: boolean
  /** Told after each change of a zone, with its name. */
  changed?(origin: DnsName): void
  /** Seconds; for signatures. */
  now?(): number
}

/** A stand-in authoritative name server: queries, AXFR (RFC 5936) and updates (RFC 2136) with TSIG (RFC 8945). */
export class Authority {
  readonly zones = new ZoneStore()
  faults: AuthorityFaults = {}
  /** Zones it takes no updates of. */
  fixed: readonly DnsName[] = []
  private isSecondary = false
  private server: DnsServer | undefined

  constructor(
    readonly name: string,
    private readonly options: AuthorityOptions,
  ) {}

  get port(): number {
    return this.server?.port ?? this.options.port
  }
  get asked(): number {
    return this.server?.asked ?? 0
  }

  async start(): Promise<void> {
    this.server = await serveDns(this.options.port, (octets, over) => this.handle(octets, over))
  }
  async stop(): Promise<void> {
    await this.server?.stop()
  }

  /** Takes a zone over from another stand-in, as a secondary does after a notification. */
  follow(primary: Authority, origin: DnsName): void {
    const zone = primary.zones.get(origin)
    this.isSecondary = true
    if (zone && !this.faults.behind) this.zones.put(origin, zone.records)
  }

  private async handle(octets: Uint8Array, over: 'udp' | 'tcp'): Promise<Uint8Array[]> {
    if (this.faults.silent) return []
    const asked = decodeMessage(octets)
    if (asked.response) return []
    const base: Partial<DnsMessage> = {
      response: true,
      opcode: asked.opcode,
      rd: asked.rd,
      questions: asked.questions,
      ...(asked.ednsSize !== undefined && { ednsSize: 1232 }),
    }
    const plain = (more: Partial<DnsMessage>) => [encodeMessage(message(asked.id, { ...base, ...more }))]
    if (this.faults.servfail) return plain({ rcode: 'SERVFAIL' })
    if (this.faults.lame) return plain({ rcode: 'REFUSED' })

    const tsig = readTsig(octets)
    if (!tsig) {
      if (asked.opcode === OPCODE.update) return plain({ rcode: 'REFUSED' })
      return this.answer(asked, over, this.options.openTransfers ?? false).map((more) => plain(more)[0]!)
    }
    const now = this.options.now?.() ?? Math.floor(Date.now() / 1000)
    const key = this.options.keys?.find((candidate) => candidate.name === tsig.keyName)
    const refuse = async (as: TsigKey, error: number, signedAt = now) => [
      (await sign(plain({ rcode: 'NOTAUTH' })[0]!, as, signedAt, tsig.mac, { error, clock: now })).octets,
    ]
    if (!key) return refuse({ name: tsig.keyName, secret: new Uint8Array(32) }, TSIG_ERROR.BADKEY)
    const verdict = await verify(octets, key, now)
    if (!verdict.ok)
      return verdict.error === 'BADTIME'
        ? refuse(key, TSIG_ERROR.BADTIME, tsig.timeSigned)
        : refuse(key, TSIG_ERROR.BADSIG)
    const answers = asked.opcode === OPCODE.update ? [{ rcode: this.update(asked) }] : this.answer(asked, over, true)
    let mac: Uint8Array = tsig.mac
    const signed: Uint8Array[] = []
    for (const [index, more] of answers.entries()) {
      const one = await sign(plain(more)[0]!, key, now, mac, { later: index > 0 })
      signed.push(one.octets)
      mac = one.mac
    }
    return signed
  }

  private update(asked: DnsMessage) {
    const origin = asked.questions[0]?.name
    if (origin !== undefined && this.fixed.includes(origin)) return 'REFUSED'
    // A secondary hands no update on: it is no place to change a zone (RFC 2136 §6 leaves that open).
    if (this.isSecondary && origin !== undefined && this.zones.get(origin)) return 'NOTAUTH'
    const before = origin === undefined ? undefined : this.zones.get(origin)
    const rcode = this.zones.update(asked)
    if (rcode === 'NOERROR' && before !== this.zones.get(origin!)) this.options.changed?.(origin!)
    return rcode
  }

  private answer(asked: DnsMessage, over: 'udp' | 'tcp', mayTransfer: boolean): Partial<DnsMessage>[] {
    const [question] = asked.questions
    if (asked.opcode !== OPCODE.query || !question) return [{ rcode: 'NOTIMP' }]
    if (question.type === 'AXFR') {
      const zone = this.zones.get(question.name)
      if (!zone) return [{ rcode: 'NOTAUTH' }]
      if (!mayTransfer || over === 'udp') return [{ rcode: 'REFUSED' }]
      const [soa] = zone.set(zone.origin, 'SOA')
      const records: DnsRecord[] = [
        soa!,
        ...zone.records.filter((record) => recordKey(record) !== recordKey(soa!)),
        soa!,
      ]
      return inMessages(records).map((part) => ({ aa: true, answer: part.map(inRecord) }))
    }
    const told = this.zones.answer(question.name, question.type)
    if (!told || told.rcode === 'REFUSED') return [{ rcode: 'REFUSED' }]
    return [
      {
        rcode: told.rcode,
        aa: told.authoritative,
        answer: told.answer.map(inRecord),
        authority: told.authority.map(inRecord),
        additional: told.additional.map(inRecord),
      },
    ]
  }
}

/** So many octets of text go into one message of a transfer; far fewer than one can carry (RFC 5936 §2.2). */
const MESSAGE_OCTETS = 16_000

/** Splits a transfer into messages. */
function inMessages(records: readonly DnsRecord[]): DnsRecord[][] {
  const parts: DnsRecord[][] = [[]]
  let octets = 0
  for (const record of records) {
    octets += record.name.length + record.data.length + 12
    if (octets > MESSAGE_OCTETS) {
      parts.push([])
      octets = 0
    }
    parts.at(-1)!.push(record)
  }
  return parts
}
