import { collectDefaultMetrics } from 'prom-client'
import { once } from 'node:events'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../../scripts/ports'
import { serveMetrics } from '../../../environment/serve-metrics'
import { changesMade, checksMade, jobsRun, jobSeconds } from '../../../worker/metrics'

let port: number
let server: ReturnType<typeof serveMetrics>
beforeAll(async () => {
  port = await freePort()
  collectDefaultMetrics({ prefix: 'fides_worker_' })
  server = serveMetrics(port, () => undefined)
  await once(server, 'listening')
})
afterAll(() => void server.close())
const get = async (path: string) => {
  const response = await fetch(`http://127.0.0.1:${port}${path}`)
  return { status: response.status, text: await response.text() }
}

describe('the worker’s metrics', () => {
  it('count checks by verdict, jobs by how they ended and changes that were set for a moment', async () => {
    checksMade.inc({ verdict: 'sound' })
    checksMade.inc({ verdict: 'sound' })
    jobsRun.inc({ kind: 'watch', outcome: 'failed' })
    jobSeconds.inc({ kind: 'watch' }, 1.5)
    changesMade.inc({ outcome: 'held' })
    const { status, text } = await get('/metrics')
    expect(status).toBe(200)
    for (const line of [
      'fides_worker_checks_total{verdict="sound"} 2',
      'fides_worker_jobs_total{kind="watch",outcome="failed"} 1',
      'fides_worker_job_seconds_total{kind="watch"} 1.5',
      'fides_worker_changes_total{outcome="held"} 1',
    ])
      expect(text).toContain(line)
    expect(text).toContain('fides_worker_nodejs_eventloop_lag_seconds')
  })
  it('are served beside a sign of life, and nothing else is', async () => {
    expect((await get('/live')).text).toBe('live\n')
    expect((await get('/')).status).toBe(404)
  })
})
