import { getHeader, type H3Event } from 'h3'
import { MIMEType } from 'whatwg-mimetype'
import type { Operation } from '../contract/operation'
import { Problem } from '../usecases/problem'

const MAX_BODY = 1_000_000
/** So much of a body that is too long is read before its sender is cut off. */
const MAX_PASSED = 200_000_000
/** So many large bodies are in memory at once. */
const MAX_RECEIVING = 4
let receiving = 0

/** The JSON a request sends; nothing sent is nothing said. */
export async function readJson(event: H3Event): Promise<unknown> {
  const type = getHeader(event, 'content-type') ?? ''
  // Nothing sent is nothing said: fields that are needed are asked for by name.
  if (
    type === '' &&
    (getHeader(event, 'content-length') ?? '0') === '0' &&
    getHeader(event, 'transfer-encoding') === undefined
  )
    return {}
  if (!/^application\/json\b/i.test(type)) {
    throw new Problem(415, 'Not JSON', 'Send the body as application/json.')
  }
  const octets = await readBody(event, MAX_BODY)
  if (octets.length > MAX_BODY) throw new Problem(413, 'Too large', 'The body can be at most 1,000,000 octets.')
  try {
    return JSON.parse(octets.toString('utf8'))
  } catch {
    throw new Problem(400, 'Not JSON', 'The body is not valid JSON.')
  }
}

/**
 * The octets of a text body. One that is too long is cut after one octet too many. Of large ones a few are received at
 * a time: whoever comes beside them is told before anything is read.
 */
export async function readText(event: H3Event, { types, most }: NonNullable<Operation['text']>): Promise<Buffer> {
  const type = MIMEType.parse(getHeader(event, 'content-type') ?? '')?.essence ?? ''
  if (!types.includes(type))
    throw new Problem(415, 'Not the right kind of text', `Send the body as ${types.join(' or ')}.`)
  if (most <= MAX_BODY) return readBody(event, most)
  if (receiving >= MAX_RECEIVING)
    throw new Problem(503, 'Busy', `${MAX_RECEIVING} files are being received already; send it again in a moment.`)
  receiving++
  try {
    return await readBody(event, most)
  } finally {
    receiving--
  }
}

/**
 * Reads a body up to `most` octets and one more, which shows that it is too long. The rest is read and let go, so that
 * the sender gets to read the answer; a sender that goes on beyond all measure is cut off.
 */
async function readBody(event: H3Event, most: number): Promise<Buffer> {
  const pieces: Buffer[] = []
  let kept = 0
  let passed = 0
  for await (const piece of event.node.req as AsyncIterable<Buffer>) {
    passed += piece.length
    if (passed > MAX_PASSED)
      throw new Problem(413, 'Too large', `The body can be at most ${most.toLocaleString('en')} octets.`)
    if (kept > most) continue
    pieces.push(piece)
    kept += piece.length
  }
  const octets = Buffer.concat(pieces)
  return octets.length > most ? octets.subarray(0, most + 1) : octets
}
