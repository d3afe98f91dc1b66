import { giveWay } from './give-way'

/**
 * Does the work of a process that `startChild` started: its first message, then it ends. Ends immediately when the
 * process that started it is gone, as nobody waits for the result then.
 */
export function serveParent<Work>(work: (given: Work) => Promise<void>): void {
  giveWay()
  process.once('disconnect', () => process.exit())
  process.once('message', (given: Work) => void work(given).finally(() => process.disconnect()))
}

/** Tells the process that started this one; resolves once the message is written, so that it may end then. */
export const tellParent = (message: object): Promise<void> =>
  new Promise((resolve) => process.send!(message, undefined, undefined, () => resolve()))
