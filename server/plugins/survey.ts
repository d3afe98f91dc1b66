import { useDatabase } from '../http/context'
import { currentSurvey } from '../usecases/conflicts/survey'
import { requestBegins } from '../usecases/yield-to-event-loop'

/**
 * Reads the register into memory at the start, so that the first slug typed need not wait for it; later is soon enough
 * where that fails.
 */
export default defineNitroPlugin(() => {
  // As a request would, it waits for long work.
  const ends = requestBegins()
  void currentSurvey(useDatabase())
    .catch(() => undefined)
    .finally(ends)
})
