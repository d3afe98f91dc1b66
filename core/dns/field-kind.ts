import type { DnsName } from './name'
import type { Reader } from './reader'
import type { Token } from './token'

/** How one field of a record's data is read from a file, written for the wire and read from it. */
export interface FieldKind {
  takes: 'one' | 'some' | 'any'
  read(tokens: readonly Token[], origin: DnsName): string
  encode(words: readonly string[]): Uint8Array
  decode(reader: Reader): string
}
