import { AggregatorRegistry, collectDefaultMetrics, Counter, Gauge } from 'prom-client'
import type { Answer } from '../core/table'
import type { ServingStatus } from './messages'

/** Upper bounds of the latency's steps, in seconds. */
const STEPS = [0.000_05, 0.000_1, 0.000_25, 0.000_5, 0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 1] as const

/**
 * Counts what the path that answers does, by plain numbers in memory; the registry takes them over when it is asked.
 * docs/metrics.md says what each means.
 */
export class Meter {
  private readonly outcomes = new Map<Answer['outcome'], number>()
  private readonly steps = new Uint32Array(STEPS.length + 1)
  private seconds = 0

  /** Counts one answer that took so many milliseconds. */
  count(outcome: Answer['outcome'], milliseconds: number): void {
    this.outcomes.set(outcome, (this.outcomes.get(outcome) ?? 0) + 1)
    const seconds = milliseconds / 1000
    this.seconds += seconds
    let step = 0
    while (step < STEPS.length && seconds > STEPS[step]!) step++
    this.steps[step]!++
  }

  /** Makes the figures known to the registry of this process; `status` gives what is true at the moment. */
  register(status: () => ServingStatus, lost: () => number): void {
    collectDefaultMetrics({ prefix: 'fides_gateway_' })
    // Made in a serving process, it answers the one that leads.
    new AggregatorRegistry()
    const { outcomes, steps } = this
    const seconds = () => this.seconds
    let before = 0
    new Counter({
      name: 'fides_gateway_requests_total',
      help: 'Requests answered, by outcome.',
      labelNames: ['outcome'],
      collect() {
        for (const [outcome, count] of outcomes) this.inc({ outcome }, count)
        outcomes.clear()
      },
    })
    new Counter({
      name: 'fides_gateway_answer_seconds_bucket',
      help: 'Answers that took at most le seconds from the request read to the answer ready to be sent.',
      labelNames: ['le'],
      collect() {
        let sum = 0
        for (const [index, count] of steps.entries()) {
          sum += count
          this.inc({ le: STEPS[index] === undefined ? '+Inf' : String(STEPS[index]) }, sum)
        }
        steps.fill(0)
      },
    })
    new Counter({
      name: 'fides_gateway_answer_seconds_sum',
      help: 'Seconds spent on answers, together.',
      collect() {
        this.inc(seconds() - before)
        before = seconds()
      },
    })
    const gauge = (name: string, help: string, read: () => number, aggregator: 'min' | 'max' | 'sum' = 'sum') =>
      new Gauge({
        name: `fides_gateway_${name}`,
        help,
        aggregator,
        collect() {
          this.set(read())
        },
      })
    gauge('links', 'Links in memory.', () => status().links, 'max')
    gauge(
      'revision',
      'The ledger’s revision that is answered from; the least of all processes.',
      () => status().revision,
      'min',
    )
    gauge(
      'database_heard_seconds',
      'Seconds since the database last answered; the most of all processes, -1 where it never has.',
      () => (status().heardAt === null ? -1 : (Date.now() - status().heardAt!) / 1000),
      'max',
    )
    gauge('spool_lost_lines', 'Lines of visits given up because the disk refused them.', lost)
    for (const why of ['busy', 'waiting', 'late', 'notReady'] as const)
      gauge(
        `offers_given_up_${why.toLowerCase()}`,
        'Pages for what was not found that came without offers, by why.',
        () => status().likely.givenUp[why],
      )
  }
}
