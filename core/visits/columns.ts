/** Columns begin at multiples of four octets, so that they can be read in place. */
const padded = (octets: number) => (octets + 3) & ~3

type Column = { buffer: ArrayBufferLike; byteOffset: number; byteLength: number }

/** A head and columns of numbers as octets: a mark that says what they are, the head as JSON, then the columns. */
export function writeColumns(mark: number, head: object, columns: readonly Column[]): Uint8Array {
  const headOctets = new TextEncoder().encode(JSON.stringify(head))
  const size = 8 + padded(headOctets.length) + columns.reduce((sum, column) => sum + padded(column.byteLength), 0)
  const octets = new Uint8Array(size)
  const view = new DataView(octets.buffer)
  view.setUint32(0, mark, true)
  view.setUint32(4, headOctets.length, true)
  octets.set(headOctets, 8)
  let at = 8 + padded(headOctets.length)
  for (const { buffer, byteOffset, byteLength } of columns) {
    octets.set(new Uint8Array(buffer, byteOffset, byteLength), at)
    at += padded(byteLength)
  }
  return octets
}

const ARRAYS = { 1: Uint8Array, 2: Uint16Array, 4: Uint32Array } as const
interface Arrays {
  1: Uint8Array
  2: Uint16Array
  4: Uint32Array
}

/** Reads them back, column by column in their order; throws where the octets are something else than `what`. */
export function readColumns<Head>(
  mark: number,
  given: Uint8Array,
  what: string,
): { head: Head; take<Width extends keyof Arrays>(width: Width, length: number): Arrays[Width] } {
  const octets = given.byteOffset % 4 === 0 ? given : given.slice()
  const view = new DataView(octets.buffer, octets.byteOffset, octets.byteLength)
  if (octets.byteLength < 8 || view.getUint32(0, true) !== mark) throw new Error(`not ${what}`)
  const headLength = view.getUint32(4, true)
  const head = JSON.parse(new TextDecoder().decode(octets.subarray(8, 8 + headLength))) as Head
  let at = octets.byteOffset + 8 + padded(headLength)
  return {
    head,
    take(width, length) {
      const column = new ARRAYS[width](octets.buffer as ArrayBuffer, at, length)
      at += padded(length * width)
      return column as Arrays[typeof width]
    },
  }
}
