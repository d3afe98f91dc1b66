import { join, two } from './message'

/** A message as it goes over TCP: its length in two octets before it (RFC 1035 §4.2.2). */
export const frame = (octets: Uint8Array): Uint8Array => join([two(octets.length), octets])

/** Puts messages together again from the pieces TCP delivers. */
export class FrameReader {
  private held: Uint8Array = new Uint8Array()
  /** Takes a piece; returns the messages that are whole with it. */
  push(piece: Uint8Array): Uint8Array[] {
    this.held = join([this.held, piece])
    const whole: Uint8Array[] = []
    while (this.held.length >= 2) {
      const length = this.held[0]! * 256 + this.held[1]!
      if (this.held.length < 2 + length) break
      whole.push(this.held.slice(2, 2 + length))
      this.held = this.held.slice(2 + length)
    }
    return whole
  }
}
