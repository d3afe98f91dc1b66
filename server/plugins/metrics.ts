import { collectDefaultMetrics, Counter, Histogram } from 'prom-client'
import { makeLog } from '../../environment/log'
import { serveMetrics } from '../../environment/serve-metrics'
import { useSettings } from '../http/context'
import { onLockConflict } from '../usecases/ledger/lock-conflicts'

const log = makeLog('admin')

/** Counts what the desk answers, and serves the figures at /metrics of a port of its own, on loopback alone. */
export default defineNitroPlugin((nitro) => {
  const { FIDES_ADMIN_CONTROL_PORT: port } = useSettings()
  if (port === undefined) return
  collectDefaultMetrics({ prefix: 'fides_desk_' })
  const requests = new Counter({
    name: 'fides_desk_requests_total',
    help: 'Requests the desk answered, by class of status.',
    labelNames: ['status'],
  })
  const seconds = new Histogram({
    name: 'fides_desk_request_seconds',
    help: 'Seconds the desk took to answer.',
    buckets: [0.01, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30],
  })
  const conflicts = new Counter({
    name: 'fides_desk_lock_conflicts_total',
    help: 'Changes that were tried again because another held what they needed.',
  })
  onLockConflict(() => conflicts.inc())
  nitro.hooks.hook('request', ({ node }) => {
    const end = seconds.startTimer()
    node.res.once('finish', () => {
      end()
      requests.inc({ status: `${Math.floor(node.res.statusCode / 100)}xx` })
    })
  })
  serveMetrics(port, (error) => log.warn(error, 'The metrics cannot be served'))
})
