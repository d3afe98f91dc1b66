import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'
import { getHeader, setResponseHeader, type H3Event } from 'h3'
import Negotiator from 'negotiator'

/** Shorter answers fit into one packet as they are. */
const MIN_BYTES = 1024
const toBrotli = promisify(brotliCompress)
const toGzip = promisify(gzip)

/**
 * The body of an answer, compressed in the thread pool where it is long and the client accepts it (RFC 9110 §12.5.3).
 * Answers to GET only: those to POST can contain a new secret, whose length would then depend on what a stranger sent.
 */
export async function compressFor(event: H3Event, body: string | Buffer): Promise<string | Buffer> {
  if (event.method !== 'GET' && event.method !== 'HEAD') return body
  setResponseHeader(event, 'Vary', 'Accept-Encoding')
  const bytes = Buffer.from(body)
  if (bytes.length < MIN_BYTES) return body
  const headers = { 'accept-encoding': getHeader(event, 'accept-encoding') ?? '' }
  const coding = new Negotiator({ headers }).encoding(['br', 'gzip', 'identity'])
  if (coding !== 'br' && coding !== 'gzip') return body
  setResponseHeader(event, 'Content-Encoding', coding)
  return coding === 'br'
    ? toBrotli(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } })
    : toGzip(bytes, { level: 5 })
}
