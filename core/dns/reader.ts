import { DataFault } from './token'

/** Takes octets from the front of a record's data. */
export class Reader {
  private at = 0
  constructor(private readonly octets: Uint8Array) {}
  get done() {
    return this.at === this.octets.length
  }
  take(length: number): Uint8Array {
    if (this.at + length > this.octets.length) throw new DataFault('the data ends too early')
    return this.octets.subarray(this.at, (this.at += length))
  }
  rest(): Uint8Array {
    return this.take(this.octets.length - this.at)
  }
  number(size: number): number {
    return this.take(size).reduce((sum, octet) => sum * 256 + octet, 0)
  }
}
