import type { Worker } from 'node:worker_threads'
import type { Movers, Traffic, TrafficQuery } from '../../../core/schemas'
import { makeLog } from '../../../environment/log'
import { startThread } from '../../threads/start-thread'
import type { FromTraffic, ToTraffic } from '../../threads/traffic-thread'
import { Problem } from '../problem'

const log = makeLog('admin')
/** So many questions are worked on at once, and so many wait for their turn. */
const MAX_AT_ONCE = 2
const MAX_WAITING = 30

interface Waiting {
  message: Exclude<ToTraffic, { ask: 'cancel' }>
  resolve(answer: unknown): void
  reject(reason: Error): void
}
type Question = { ask: 'traffic'; query: TrafficQuery } | { ask: 'movers'; days: number }

/** The thread that counts visits, for all who ask this process: started when somebody first does. */
class TrafficDesk {
  private thread: Worker | undefined
  private readonly working = new Map<number, Waiting>()
  private readonly waiting: Waiting[] = []
  private next = 1

  constructor(private readonly databaseUrl: string) {}

  ask<Answer>(question: Question, gone: AbortSignal): Promise<Answer> {
    if (this.waiting.length >= MAX_WAITING)
      throw new Problem(429, 'Too many questions', 'Too many queries are running. Try again in a moment.')
    const id = this.next++
    return new Promise<Answer>((resolve, reject) => {
      this.waiting.push({ message: { id, ...question }, resolve: resolve as Waiting['resolve'], reject })
      gone.addEventListener('abort', () => this.cancel(id))
      this.start()
    })
  }

  private cancel(id: number): void {
    const place = this.waiting.findIndex(({ message }) => message.id === id)
    if (place !== -1)
      this.waiting.splice(place, 1)[0]!.reject(new Problem(499, 'Nobody waits', 'The question was left.'))
    else if (this.working.has(id)) this.thread?.postMessage({ id, ask: 'cancel' } satisfies ToTraffic)
  }

  private start(): void {
    while (this.working.size < MAX_AT_ONCE) {
      const next = this.waiting.shift()
      if (!next) return
      this.working.set(next.message.id, next)
      this.worker().postMessage(next.message)
    }
  }

  private worker(): Worker {
    if (this.thread) return this.thread
    const thread = startThread('traffic-thread', { workerData: { databaseUrl: this.databaseUrl } })
    this.thread = thread
    thread.unref()
    thread.on('message', (message: FromTraffic) => this.take(message))
    const ended = (error?: Error) => {
      if (this.thread !== thread) return
      this.thread = undefined
      if (error) log.error(error, 'The thread that counts visits ended')
      for (const { reject } of this.working.values())
        reject(new Problem(503, 'Cannot count now', 'Counting was interrupted; ask again.'))
      this.working.clear()
      this.start()
    }
    thread.on('error', ended)
    thread.on('exit', () => ended())
    return thread
  }

  private take(message: FromTraffic): void {
    const waiting = this.working.get(message.id)
    if (!waiting) return
    this.working.delete(message.id)
    if ('answer' in message) waiting.resolve(message.answer)
    else if ('problem' in message) {
      const { status, title, detail, errors } = message.problem
      waiting.reject(new Problem(status, title, detail, errors))
    } else waiting.reject(new Problem(499, 'Nobody waits', 'The question was left.'))
    this.start()
  }
}

let desk: TrafficDesk | undefined

/** How many visits there were, as `query` asks; given up when whoever asked is `gone`. */
export function askTraffic(databaseUrl: string, query: TrafficQuery, gone: AbortSignal): Promise<Traffic> {
  desk ??= new TrafficDesk(databaseUrl)
  return desk.ask<Traffic>({ ask: 'traffic', query }, gone)
}

/** What changed most of late, and since when. */
export function askMovers(databaseUrl: string, days: number, gone: AbortSignal): Promise<Movers> {
  desk ??= new TrafficDesk(databaseUrl)
  return desk.ask<Movers>({ ask: 'movers', days }, gone)
}
