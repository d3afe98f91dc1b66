import type { Worker } from 'node:worker_threads'
import type { DayView, Grouping, Selection, Told } from '../../../core/visits'
import { startThread } from '../../threads/start-thread'
import type { FromTally, ToTally } from '../../threads/tally-thread'

/** What is counted, beside the views it is counted of. */
export interface Counting {
  zone: string
  selection: Selection
  grouping: Grouping | undefined
  starts: number[]
  days: ReadonlySet<number>
}

/** A second thread that counts some of the views a question needs: they lie in memory that both threads share. */
export class SecondThread {
  private thread: Worker | undefined
  private readonly kept = new Set<string>()
  private readonly waiting = new Map<number, { resolve(told: Told): void; reject(reason: Error): void }>()
  private next = 1

  /** Counts views, named so that each is sent once. Rejects where the thread ended. */
  count(views: readonly { name: string; view: DayView }[], counting: Counting): Promise<Told> {
    const thread = (this.thread ??= this.start())
    for (const { name, view } of views) {
      if (this.kept.has(name)) continue
      this.kept.add(name)
      thread.postMessage({ keep: name, view } satisfies ToTally)
    }
    const id = this.next++
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject })
      thread.postMessage({ id, ...counting, views: views.map(({ name }) => name) } satisfies ToTally)
    })
  }

  /** Lets go of a view that nobody keeps any more. */
  drop(name: string): void {
    if (this.kept.delete(name)) this.thread?.postMessage({ drop: name } satisfies ToTally)
  }

  async stop(): Promise<void> {
    await this.thread?.terminate()
  }

  private start(): Worker {
    const thread = startThread('tally-thread', {})
    thread.unref()
    thread.on('message', ({ id, told }: FromTally) => {
      this.waiting.get(id)?.resolve(told)
      this.waiting.delete(id)
    })
    const ended = (error?: Error) => {
      if (this.thread !== thread) return
      this.thread = undefined
      this.kept.clear()
      for (const { reject } of this.waiting.values()) reject(error ?? new Error('the second thread ended'))
      this.waiting.clear()
    }
    thread.on('error', ended)
    thread.on('exit', () => ended())
    return thread
  }
}
