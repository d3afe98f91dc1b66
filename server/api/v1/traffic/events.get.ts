import { setResponseHeaders } from 'h3'
import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { clientGone, currentAsker } from '../../../threads/asker'
import { Problem } from '../../../usecases/problem'
import { Slots } from '../../../usecases/jobs/slots'
import { liveVisits } from '../../../usecases/traffic/live-visits'

/** So many listen to one process, and of them so many pages of one member; each costs a connection. */
const MAX_LISTENERS = 500
const MAX_LISTENERS_EACH = 12
const places = new Slots(
  MAX_LISTENERS,
  MAX_LISTENERS_EACH,
  () =>
    new Problem(
      429,
      'Too many listen',
      `At most ${MAX_LISTENERS_EACH} pages of one member, and ${MAX_LISTENERS} in all, follow visits; close some.`,
    ),
)
/** A comment now and then keeps what lies between from taking the silence for the end. */
const BEAT_MS = 20_000
/** A connection is ended after so long; whoever still listens comes again, and shows who they are. */
const LONGEST_MS = 15 * 60_000

export default route(operations.followTraffic, ({ db, event }) => {
  // From here on nothing is awaited: a client that is there now ends by an event.
  if (currentAsker()?.signal?.aborted) throw clientGone()
  const leave = places.take()
  const live = liveVisits(db)
  const { res } = event.node
  setResponseHeaders(event, {
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-store',
    'X-Accel-Buffering': 'no',
  })
  res.write('retry: 3000\n\n')
  return new Promise<void>((resolve) => {
    const stop = live.listen((told) => {
      // Whoever reads too slowly is let go, rather than remembered.
      if (res.writableLength > 1_000_000) res.destroy()
      else res.write(`data: ${JSON.stringify(told)}\n\n`)
    })
    const beat = setInterval(() => res.write(': here\n\n'), BEAT_MS)
    const end = setTimeout(() => res.end(), LONGEST_MS)
    res.once('close', () => {
      stop()
      leave()
      clearInterval(beat)
      clearTimeout(end)
      resolve()
    })
  })
})
