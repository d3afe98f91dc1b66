import { register as metrics } from 'prom-client'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { registerOperations } from '../../worker/operations'
import { TestRegister } from './register'

let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  registerOperations(register.db)
})
afterAll(async () => {
  metrics.clear()
  await register.stop()
})

it('tells of a running installation what an alert needs', async () => {
  const { db } = register
  const run = (sql: string) => db.sequelize.query(sql)
  await run(`INSERT INTO process_sign (process, seen_at, starts) VALUES
    ('worker', DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 200 SECOND), 7),
    ('backup', DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 3 DAY), 1)`)
  await run(`INSERT INTO job (kind, every_seconds, due_at) VALUES
    ('asleep', 1, DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 HOUR)), ('awake', 1, UTC_TIMESTAMP(3))`)
  await run(`INSERT INTO certificate_event (at, host, kind, detail) VALUES
    (UTC_TIMESTAMP(3), 'ansl.example', 'failed', ''), (UTC_TIMESTAMP(3), 'ansl.example', 'failed', ''),
    (DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 2 DAY), 'ansl.example', 'failed', '')`)
  await run(`INSERT INTO domain_watch (domain_id, due_at, certificate) VALUES
    (1, DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 90 SECOND),
     JSON_OBJECT('validTo', DATE_FORMAT(DATE_ADD(UTC_TIMESTAMP(), INTERVAL 10 DAY), '%Y-%m-%dT%H:%i:%s.000Z')))
    ON DUPLICATE KEY UPDATE due_at = VALUES(due_at), certificate = VALUES(certificate)`)
  await run("INSERT INTO visit_batch (batch_key, received_at, events, torn) VALUES ('a', UTC_TIMESTAMP(3), 5, 2)")
  const text = await metrics.metrics()
  const valueOf = (name: string) => Number(new RegExp(`^${name.replace(/[{}]/g, '\\$&')} (\\S+)$`, 'm').exec(text)?.[1])
  expect(valueOf('fides_process_seen_seconds{process="worker"}')).toBeGreaterThanOrEqual(200)
  expect(valueOf('fides_process_starts_total{process="worker"}')).toBe(7)
  expect(valueOf('fides_backup_age_seconds')).toBeGreaterThanOrEqual(3 * 86_400)
  expect(valueOf('fides_jobs_stuck{kind="asleep"}')).toBe(1)
  expect(text).not.toContain('kind="awake"')
  expect(valueOf('fides_certificate_failures{host="ansl.example"}')).toBe(2)
  expect(valueOf('fides_certificate_expires_seconds{host="ansl.example"}')).toBeGreaterThan(9 * 86_400)
  expect(valueOf('fides_watch_lag_seconds')).toBeGreaterThanOrEqual(90)
  expect(valueOf('fides_visits_torn')).toBe(2)
  expect(valueOf('fides_lock_waits_total')).toBeGreaterThanOrEqual(0)
})
