import type { H3Event } from 'h3'

/** Aborted when whoever asked went away before the answer came. */
export function goneSignal(event: H3Event): AbortSignal {
  const gone = new AbortController()
  const { res } = event.node
  res.once('close', () => {
    if (!res.writableEnded) gone.abort()
  })
  return gone.signal
}
