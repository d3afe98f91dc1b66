import type { Readable } from 'node:stream'
import { createBrotliDecompress, createGunzip, createInflate, createInflateRaw } from 'node:zlib'

/** At most so much of a body is read, after decompression. */
const MAX_OCTETS = 512 * 1024

export interface ReadBody {
  octets: Buffer
  /** Only its beginning was read. */
  cut: boolean
  /** It ended before it should have, or cannot be decompressed. */
  broken: boolean
}

const DECODERS: Record<string, () => NodeJS.ReadWriteStream> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  br: createBrotliDecompress,
}

/**
 * Reads at most `most` octets of a body, 512 KiB by default, decompressed on the way and no further than that
 * (RFC 9110 §8.4.1). A body that breaks off is told as broken with what came; one that only drips until `signal` aborts
 * is told as cut. Never rejects.
 */
export async function readBody(
  body: Readable,
  encoding: string,
  signal: AbortSignal,
  most = MAX_OCTETS,
): Promise<ReadBody> {
  const codings = encoding
    .toLowerCase()
    .split(',')
    .map((coding) => coding.trim())
    .filter((coding) => coding !== '' && coding !== 'identity')
    .reverse()
  const pieces: Buffer[] = []
  let length = 0
  let cut = false
  let broken = false
  const streams: { destroy(): void }[] = [body]
  body.on('error', () => undefined)
  let source: NodeJS.ReadableStream = body
  try {
    if (codings.length > 2) throw new Error('too many codings')
    for (const coding of codings) {
      const decoder = coding === 'deflate' ? await inflater(body) : DECODERS[coding]?.()
      if (!decoder) throw new Error('an unknown coding')
      decoder.on('error', () => undefined)
      streams.push(decoder as unknown as { destroy(): void })
      const before = source as Readable
      before.on('error', (error) => (decoder as unknown as Readable).destroy(error))
      source = before.pipe(decoder as never) as NodeJS.ReadableStream
    }
    for await (const piece of source) {
      const octets = piece as Buffer
      pieces.push(octets.subarray(0, most - length))
      length += octets.length
      if (length >= most) {
        cut = length > most || !body.readableEnded
        length = most
        break
      }
    }
  } catch {
    if (signal.aborted) cut = true
    else broken = true
  } finally {
    for (const stream of streams) stream.destroy()
  }
  return { octets: Buffer.concat(pieces), cut, broken }
}

/** “deflate” with the zlib wrapper it should have, or without, as some send it (RFC 9110 §8.4.1.2). */
async function inflater(body: Readable): Promise<NodeJS.ReadWriteStream> {
  const first = await new Promise<Buffer | null>((resolve, reject) => {
    const look = () => {
      const piece = body.read() as Buffer | null
      if (piece !== null) {
        body.unshift(piece)
        resolve(piece)
      } else if (body.readableEnded) resolve(null)
      else body.once('readable', look)
    }
    body.once('error', reject)
    body.once('end', () => resolve(null))
    look()
  })
  return first && (first[0]! & 0x0f) === 8 && first.length > 1 && first.readUInt16BE(0) % 31 === 0
    ? createInflate()
    : createInflateRaw()
}
