import { constants, setPriority } from 'node:os'
import { parentPort } from 'node:worker_threads'
import { calendarOf, Tally, type DayView, type Grouping, type Selection, type Told } from '../../core/visits'

/** What the second thread that counts is told: views to keep, in memory both share, and what to count of them. */
export type ToTally =
  | { keep: string; view: DayView }
  | { drop: string }
  | {
      id: number
      zone: string
      selection: Selection
      grouping: Grouping | undefined
      starts: number[]
      /** Days of the calendar whose visits count one by one. */
      days: ReadonlySet<number>
      views: string[]
    }
export interface FromTally {
  id: number
  told: Told
}

// As the thread it counts for.
setPriority(constants.priority.PRIORITY_BELOW_NORMAL)

const views = new Map<string, DayView>()

parentPort!.on('message', (message: ToTally) => {
  if ('keep' in message) return void views.set(message.keep, message.view)
  if ('drop' in message) return void views.delete(message.drop)
  const calendar = calendarOf(message.zone)
  const tally = new Tally(calendar, message.selection, message.grouping, message.starts)
  for (const name of message.views) tally.add(views.get(name)!, (at) => message.days.has(calendar.dayAt(at)))
  parentPort!.postMessage({ id: message.id, told: tally.told() } satisfies FromTally)
})
