import packet from 'dns-packet'
import { nameOf, type DnsName } from '../name'
import { textOf } from '../text'
import { DataFault } from '../token'
import { typeName } from '../types'

/** What a message asks for. */
export interface Question {
  name: DnsName
  type: string
  class: number
}

/** Where a record lies in a message. */
export interface Placed {
  name: DnsName
  type: number
  class: number
  ttl: number
  start: number
  dataStart: number
  end: number
}

/** Walks through a message's sections without reading data; throws `DataFault` where it is cut short or malformed. */
export function walk(octets: Uint8Array): {
  header: number[]
  questions: Question[]
  sections: [Placed[], Placed[], Placed[]]
} {
  if (octets.length < 12) throw new DataFault('the message is shorter than a header')
  const buffer = bufferOf(octets)
  const header = [0, 2, 4, 6, 8, 10].map((at) => buffer.readUInt16BE(at))
  let at = 12
  const take = (length: number) => {
    if (at + length > buffer.length) throw new DataFault('the message is cut short')
    return (at += length) - length
  }
  const name = () => {
    const { text, bytes } = decodeName(buffer, at)
    take(bytes)
    return text
  }
  const questions = Array.from({ length: header[2]! }, () => {
    const asked = name()
    const place = take(4)
    return { name: asked, type: typeName(buffer.readUInt16BE(place)), class: buffer.readUInt16BE(place + 2) }
  })
  const section = (count: number): Placed[] => {
    const placed: Placed[] = []
    for (let index = 0; index < count; index++) {
      const start = at
      const owner = name()
      const place = take(10)
      const length = buffer.readUInt16BE(place + 8)
      const dataStart = take(length)
      placed.push({
        name: owner,
        type: buffer.readUInt16BE(place),
        class: buffer.readUInt16BE(place + 2),
        ttl: buffer.readUInt32BE(place + 4),
        start,
        dataStart,
        end: at,
      })
    }
    return placed
  }
  return { header, questions, sections: [section(header[3]!), section(header[4]!), section(header[5]!)] }
}

/** Node's and browsers' octets alike; the library reads Buffers. */
export const bufferOf = (octets: Uint8Array) => Buffer.from(octets.buffer, octets.byteOffset, octets.length)

/** The part of the library its types leave out. */
const { name: nameCodec } = packet as unknown as {
  name: { decode: { (buffer: Buffer, at: number): string; bytes: number } }
}

/** A name in a message, compression followed (RFC 1035 §4.1.4), and how many octets it takes where it stands. */
export function decodeName(buffer: Buffer, at: number): { text: DnsName; bytes: number } {
  // The library follows compression and refuses pointers forward; its text is split again for our escapes.
  try {
    const raw = nameCodec.decode(buffer, at)
    return {
      text: nameOf(raw === '.' ? [] : raw.split('.').map((label) => textOf(Buffer.from(label)))),
      bytes: nameCodec.decode.bytes,
    }
  } catch (error) {
    throw new DataFault((error as Error).message)
  }
}
