import { useDatabase } from '../http/context'
import { currentSurvey } from '../usecases/conflicts/survey'

/**
 * Reads the register into memory at the start, so that the first slug typed need not wait for it; later is soon enough
 * where that fails.
 */
export default defineNitroPlugin(() => {
  void currentSurvey(useDatabase()).catch(() => undefined)
})
