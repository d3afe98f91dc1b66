import { decodeData, encodeData } from '../data'
import { encodeName } from '../fields'
import type { DnsName } from '../name'
import type { DnsRecord } from '../record'
import { DataFault } from '../token'
import { recordType } from '../record-types'
import { typeName, typeNumber } from '../types'
import { encodeEdns, readEdns, type Edns, type ExtendedError } from './edns'
import { bufferOf, decodeName, walk, type Placed, type Question } from './walk'

/** Response codes by number (RFC 1035 §4.1.1, RFC 2136 §2.2, RFC 8945 §3). */
export const RCODES = [
  'NOERROR',
  'FORMERR',
  'SERVFAIL',
  'NXDOMAIN',
  'NOTIMP',
  'REFUSED',
  'YXDOMAIN',
  'YXRRSET',
  'NXRRSET',
  'NOTAUTH',
  'NOTZONE',
] as const
export type Rcode = (typeof RCODES)[number] | `RCODE${number}`
export const OPCODE = { query: 0, notify: 4, update: 5 } as const
export const CLASS = { IN: 1, NONE: 254, ANY: 255 } as const
export const META_TYPE = { OPT: 41, TSIG: 250, AXFR: 252, ANY: 255 } as const

/** A record as a message carries it: its class may be one of RFC 2136's, and its data may be empty. */
export interface WireRecord extends DnsRecord {
  class: number
}

export interface DnsMessage {
  id: number
  response: boolean
  opcode: number
  rcode: Rcode
  aa: boolean
  tc: boolean
  rd: boolean
  ra: boolean
  questions: Question[]
  answer: WireRecord[]
  authority: WireRecord[]
  additional: WireRecord[]
  /** Authentic data, and checking disabled (RFC 4035 §3.2): what a validating resolver says, and is told. */
  ad: boolean
  cd: boolean
  /** The UDP size the sender takes by EDNS; `undefined` without. */
  ednsSize: number | undefined
  /** DNSSEC OK (RFC 3225): signatures come along with an answer. */
  wantsSignatures: boolean
  /** Why the answer is as it is (RFC 8914). */
  extendedErrors: ExtendedError[]
}

const EMPTY = {
  response: false,
  opcode: OPCODE.query,
  rcode: 'NOERROR',
  aa: false,
  tc: false,
  rd: false,
  ra: false,
  questions: [],
  answer: [],
  authority: [],
  additional: [],
  ad: false,
  cd: false,
  ednsSize: undefined,
  wantsSignatures: false,
  extendedErrors: [],
} satisfies Omit<DnsMessage, 'id'>

/** A message with nothing in it but what is given. */
export const message = (id: number, input: Partial<DnsMessage>): DnsMessage => ({ ...EMPTY, id, ...input })

const numberOfType = (type: string) => {
  const number = (META_TYPE as Record<string, number>)[type] ?? typeNumber(type)
  if (number === undefined) throw new DataFault(`${type} is no record type`)
  return number
}

/** Writes a message, uncompressed. */
export function encodeMessage(input: DnsMessage): Uint8Array {
  const rcode = RCODES.indexOf(input.rcode as (typeof RCODES)[number])
  const flags =
    (input.response ? 0x8000 : 0) |
    (input.opcode << 11) |
    (input.aa ? 0x400 : 0) |
    (input.tc ? 0x200 : 0) |
    (input.rd ? 0x100 : 0) |
    (input.ra ? 0x80 : 0) |
    (input.ad ? 0x20 : 0) |
    (input.cd ? 0x10 : 0) |
    (rcode === -1 ? 2 : rcode)
  const opt = input.ednsSize === undefined ? [] : [encodeEdns(input.ednsSize, input.wantsSignatures)]
  const counts = [
    input.questions.length,
    input.answer.length,
    input.authority.length,
    input.additional.length + opt.length,
  ]
  return join([
    Uint8Array.from([input.id, flags, ...counts].flatMap((value) => [value >> 8, value & 255])),
    ...input.questions.map((question) =>
      join([encodeName(question.name), two(numberOfType(question.type)), two(question.class)]),
    ),
    ...[...input.answer, ...input.authority, ...input.additional].map(encodeRecord),
    ...opt,
  ])
}

function encodeRecord(record: WireRecord): Uint8Array {
  const data = record.data === '' ? new Uint8Array() : encodeData(record.type, record.data)
  return join([
    encodeName(record.name),
    two(numberOfType(record.type)),
    two(record.class),
    two(record.ttl >>> 16),
    two(record.ttl & 0xffff),
    two(data.length),
    data,
  ])
}

export const two = (value: number) => Uint8Array.from([(value >> 8) & 255, value & 255])
export function join(pieces: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    whole.set(piece, at)
    at += piece.length
  }
  return whole
}

/** A record's data with its names written out, whatever compression the sender used (RFC 1035 §4.1.4, RFC 3597 §4). */
function plainData(buffer: Buffer, placed: Placed): Uint8Array {
  const type = typeName(placed.type)
  const known = recordType(type)
  if (!known?.compressed) return buffer.subarray(placed.dataStart, placed.end)
  // Numbers of two octets each stand before the first name.
  const front = 2 * known.layout.indexOf('name')
  const first = decodeName(buffer, placed.dataStart + front)
  const pieces = [buffer.subarray(placed.dataStart, placed.dataStart + front), encodeName(first.text)]
  let at = placed.dataStart + front + first.bytes
  if (known.layout[1] === 'name' && front === 0) {
    const second = decodeName(buffer, at)
    pieces.push(encodeName(second.text), buffer.subarray(at + second.bytes, placed.end))
    at = placed.end
  }
  if (at !== placed.end) throw new DataFault(`${type} data has the wrong length`)
  return join(pieces)
}

const rcodeOf = (number: number): Rcode => RCODES[number] ?? `RCODE${number}`

/** Reads a message; throws `DataFault` where it cannot be read. */
export function decodeMessage(octets: Uint8Array): DnsMessage {
  const { header, questions, sections } = walk(octets)
  const buffer = bufferOf(octets)
  const flags = header[1]!
  let edns: Edns | undefined
  const read = (placed: Placed[]) =>
    placed.flatMap((record): WireRecord[] => {
      if (record.type === META_TYPE.OPT) {
        edns = readEdns(record, octets.subarray(record.dataStart, record.end))
        return []
      }
      if (record.type === META_TYPE.TSIG) return []
      const type = record.type === META_TYPE.ANY ? 'ANY' : typeName(record.type)
      return [
        {
          name: record.name,
          type,
          class: record.class,
          ttl: record.ttl,
          data: record.dataStart === record.end ? '' : decodeData(type, plainData(buffer, record)),
        },
      ]
    })
  const [answer, authority, additional] = sections.map(read)
  return {
    id: header[0]!,
    response: (flags & 0x8000) !== 0,
    opcode: (flags >> 11) & 15,
    rcode: rcodeOf((flags & 15) | ((edns?.extendedRcode ?? 0) << 4)),
    aa: (flags & 0x400) !== 0,
    tc: (flags & 0x200) !== 0,
    rd: (flags & 0x100) !== 0,
    ra: (flags & 0x80) !== 0,
    questions: questions.map((question) => ({ ...question, type: questionType(question.type) })),
    answer: answer!,
    authority: authority!,
    additional: additional!,
    ad: (flags & 0x20) !== 0,
    cd: (flags & 0x10) !== 0,
    ednsSize: edns?.size,
    wantsSignatures: edns?.wantsSignatures ?? false,
    extendedErrors: edns?.extendedErrors ?? [],
  }
}

const questionType = (type: string) => ({ TYPE252: 'AXFR', TYPE255: 'ANY', TYPE251: 'IXFR' })[type] ?? type

/** A question for one name and type, of class IN. */
export const question = (name: DnsName, type: string) => ({ name, type, class: CLASS.IN })
export const inRecord = (record: DnsRecord): WireRecord => ({
  name: record.name,
  type: record.type,
  ttl: record.ttl,
  data: record.data,
  class: CLASS.IN,
})
/** Whether an update means every type of a name (RFC 2136 §2.5.3). */
export const typeIsAny = (type: string) => type === 'ANY'
export const plainRecord = ({ name, type, ttl, data }: WireRecord): DnsRecord => ({ name, type, ttl, data })
