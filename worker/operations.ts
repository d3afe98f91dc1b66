import { Gauge } from 'prom-client'
import { QueryTypes } from 'sequelize'
import type { Database } from '../server/database/open'

interface Figure {
  name: string
  help: string
  /** The label of the second column that `sql` selects, where it selects two. */
  label?: string
  /** Selects `value`, and `label` where there is one. */
  sql: string
}

/** What the whole installation is like, by what the database holds. docs/metrics.md says what each figure means. */
const FIGURES: readonly Figure[] = [
  {
    name: 'fides_cases_open',
    help: 'Open cases of the docket without remarks, by severity.',
    label: 'severity',
    sql: `SELECT severity AS label, COUNT(DISTINCT COALESCE(cause, CONCAT('case ', id))) AS value
          FROM docket_case WHERE state = 'open' AND NOT remark GROUP BY severity`,
  },
  {
    name: 'fides_process_seen_seconds',
    help: 'Seconds since a process last said that it runs.',
    label: 'process',
    sql: `SELECT process AS label, TIMESTAMPDIFF(MICROSECOND, seen_at, UTC_TIMESTAMP(6)) / 1e6 AS value
          FROM process_sign WHERE process <> 'backup'`,
  },
  {
    name: 'fides_process_starts_total',
    help: 'How often a process was started.',
    label: 'process',
    sql: "SELECT process AS label, starts AS value FROM process_sign WHERE process <> 'backup'",
  },
  {
    name: 'fides_backup_age_seconds',
    help: 'Seconds since the last backup; absent where there never was one.',
    sql: `SELECT TIMESTAMPDIFF(SECOND, seen_at, UTC_TIMESTAMP(3)) AS value FROM process_sign WHERE process = 'backup'`,
  },
  {
    name: 'fides_watch_lag_seconds',
    help: 'By how many seconds the watch of domains is behind with the one that has waited longest.',
    sql: `SELECT GREATEST(0, COALESCE(MAX(TIMESTAMPDIFF(SECOND, due_at, UTC_TIMESTAMP(3))), 0)) AS value
          FROM domain_watch`,
  },
  {
    name: 'fides_certificate_expires_seconds',
    help: 'Seconds until the certificate of a domain expires.',
    label: 'host',
    sql: `SELECT d.host AS label,
            TIMESTAMPDIFF(SECOND, UTC_TIMESTAMP(), STR_TO_DATE(LEFT(JSON_VALUE(w.certificate, '$.validTo'), 19),
              '%Y-%m-%dT%H:%i:%s')) AS value
          FROM domain_watch w JOIN domain d ON d.id = w.domain_id
          WHERE JSON_VALUE(w.certificate, '$.validTo') IS NOT NULL`,
  },
  {
    name: 'fides_certificate_failures',
    help: 'Attempts to get a certificate that failed within the last day, by host.',
    label: 'host',
    sql: `SELECT host AS label, COUNT(*) AS value FROM certificate_event
          WHERE kind = 'failed' AND at > DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 DAY) GROUP BY host`,
  },
  {
    name: 'fides_jobs_stuck',
    help: 'Background jobs that are overdue by ten minutes, and long jobs whose lease lapsed a minute ago.',
    label: 'kind',
    sql: `SELECT kind AS label, 1 AS value FROM job
            WHERE due_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 10 MINUTE) AND leased_until IS NULL
          UNION ALL ${['proposal', 'intake', 'replay', 'conflict_scan']
            .map(
              (table) =>
                `SELECT '${table}', COUNT(*) FROM ${table}
                 WHERE leased_until < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 MINUTE)`,
            )
            .join(' UNION ALL ')}`,
  },
  {
    name: 'fides_visits_torn',
    help: 'Visits lost because a killed gateway left their line torn.',
    sql: 'SELECT COALESCE(SUM(torn), 0) AS value FROM visit_batch',
  },
  {
    name: 'fides_lock_waits_total',
    help: 'Row locks that somebody had to wait for, as the database counts them.',
    sql: `SELECT VARIABLE_VALUE AS value FROM information_schema.GLOBAL_STATUS
          WHERE VARIABLE_NAME = 'INNODB_ROW_LOCK_WAITS'`,
  },
]

/** Makes the figures known to the registry of this process; each scrape asks the database. */
export function registerOperations(db: Pick<Database, 'sequelize'>): void {
  for (const { name, help, label, sql } of FIGURES)
    new Gauge({
      name,
      help,
      labelNames: label === undefined ? [] : [label],
      async collect() {
        this.reset()
        const rows = await db.sequelize.query<{ label?: string; value: number | string | null }>(sql, {
          type: QueryTypes.SELECT,
        })
        for (const row of rows) {
          if (row.value === null) continue
          if (label === undefined) this.set(Number(row.value))
          else this.set({ [label]: String(row.label) }, Number(row.value))
        }
      },
    })
}
