import { Counter } from 'prom-client'

/** Destinations checked, by what was found. docs/metrics.md says what each figure means. */
export const checksMade = new Counter({
  name: 'fides_worker_checks_total',
  help: 'Destinations checked, by verdict; cut-off: not judged, as this machine was cut off; failed: on our side.',
  labelNames: ['verdict'],
})

/** Jobs run, and how long they took. */
export const jobsRun = new Counter({
  name: 'fides_worker_jobs_total',
  help: 'Jobs run, by kind and whether they failed.',
  labelNames: ['kind', 'outcome'],
})
export const jobSeconds = new Counter({
  name: 'fides_worker_job_seconds_total',
  help: 'Seconds jobs took, by kind.',
  labelNames: ['kind'],
})

/** Changes to many links whose moment came. */
export const changesMade = new Counter({
  name: 'fides_worker_changes_total',
  help: 'Changes set for a moment that were made or held.',
  labelNames: ['outcome'],
})

/** Mails that a server took, and messages that were tried at webhooks. */
export const mailsSent = new Counter({ name: 'fides_worker_mails_total', help: 'Mails that the mail server took.' })
export const webhooksDelivered = new Counter({
  name: 'fides_worker_webhook_tries_total',
  help: 'Messages tried at webhooks, whether or not they were taken.',
})
