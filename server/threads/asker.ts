import { AsyncLocalStorage } from 'node:async_hooks'
import { Problem } from '../usecases/problem'

/** Who asked for the work at hand, and whether anybody still waits for it. */
export interface Asker {
  /** A member, or the address of a stranger: whose share of threads and places it is. */
  key: string
  /** Aborts once the client is gone; none for work that goes on after its request. */
  signal?: AbortSignal
}

const storage = new AsyncLocalStorage<Asker>()

/** Does work on behalf of somebody: what it starts in threads counts to their share, and ends when they are gone. */
export const onBehalfOf = <Result>(asker: Asker, work: () => Result): Result => storage.run(asker, work)

/** Goes on with work on the same behalf after its request, whatever becomes of the client. */
export function afterTheRequest<Result>(work: () => Result): Result {
  const asker = storage.getStore()
  return asker ? storage.run({ key: asker.key }, work) : work()
}

/** On whose behalf this runs; undefined for work of the desk's own. */
export const currentAsker = (): Asker | undefined => storage.getStore()

/** Said to nobody: the client closed the connection before its answer came. */
export const clientGone = () => new Problem(400, 'Gone', 'The client closed the connection; its work was given up.')
