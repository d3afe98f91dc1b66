import { useDatabase } from '../http/context'
import { currentSurvey, refreshFigures } from '../usecases/conflicts/survey'
import { FIGURES_MS } from '../usecases/conflicts/survey-figures'
import { requestBegins } from '../usecases/yield-to-event-loop'

/**
 * Reads the register into memory at the start, so that the first slug typed need not wait for it, and keeps its figures
 * of visits; later is soon enough where that fails.
 */
export default defineNitroPlugin(() => {
  // As a request would, it waits for long work.
  const ends = requestBegins()
  void currentSurvey(useDatabase())
    .catch(() => undefined)
    .finally(ends)
  setInterval(() => void refreshFigures(useDatabase()).catch(() => undefined), FIGURES_MS).unref()
})
