import { getHeader, type H3Event } from 'h3'
import { MIMEType } from 'whatwg-mimetype'
import type { Operation } from '../contract/operation'
import { FairTurns } from '../threads/fair-turns'
import { Problem } from '../usecases/problem'
import { readBody } from './read-body'

const MAX_BODY = 1_000_000
/** What a stranger sends is a sign-in, a code or a key: none is longer. */
const MAX_STRANGER_BODY = 16_384
/** Bodies beyond this are large. */
const LARGE_BODY = 65_536
/** Bodies received at a time: ten from one member, or from one address of strangers. */
const bodies = new FairTurns({ atOnce: 400, atOncePerAsker: 10, waiting: 0, waitingPerAsker: 0, what: 'requests' })
/** Of large ones one from each, and few in all: the others wait, and nothing of them is read meanwhile. */
const largeBodies = new FairTurns({ atOnce: 6, atOncePerAsker: 1, waiting: 60, waitingPerAsker: 10, what: 'uploads' })
/** The JSON a request sends; nothing sent is nothing said. */
export async function readJson(event: H3Event, stranger: boolean): Promise<unknown> {
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
  const most = stranger ? MAX_STRANGER_BODY : MAX_BODY
  const octets = await receive(event, most)
  if (octets.length > most)
    throw new Problem(413, 'Too large', `The body is too long: the maximum is ${most.toLocaleString('en')} bytes.`)
  try {
    return JSON.parse(octets.toString('utf8'))
  } catch {
    throw new Problem(400, 'Not JSON', 'The body is not valid JSON.')
  }
}

/** The octets of a text body. One that is too long is cut after one octet too many. */
export async function readText(event: H3Event, { types, most }: NonNullable<Operation['text']>): Promise<Buffer> {
  const type = MIMEType.parse(getHeader(event, 'content-type') ?? '')?.essence ?? ''
  if (!types.includes(type)) throw new Problem(415, 'Unsupported media type', `Send the body as ${types.join(' or ')}.`)
  return receive(event, most)
}

/**
 * Receives a body within its sender’s share. A body that says it is large, or does not say how long it is where it may
 * be large, waits for the sender’s one place for such.
 */
function receive(event: H3Event, most: number): Promise<Buffer> {
  const length = Number(getHeader(event, 'content-length') ?? Infinity)
  const isLarge = Math.min(length, most) > LARGE_BODY && (most > MAX_BODY || length !== Infinity)
  return (isLarge ? largeBodies : bodies).run(() => readBody(event.node.req, event.node.res, most))
}
