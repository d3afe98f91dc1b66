import { ref, type Ref } from 'vue'
import { ApiProblem } from './useApi'

/**
 * A few fields that note something at a link: opened where it is needed, judged by the server, emptied when it took
 * them. Faults stand at their fields, those of none under `all`; what was typed is kept.
 */
export function useSmallForm<Fields extends object>(blank: () => Fields, send: (fields: Fields) => Promise<unknown>) {
  const adding = ref(false)
  const fields = ref(blank()) as Ref<Fields>
  const faults = ref<Record<string, string>>({})
  const busy = ref(false)
  async function add() {
    busy.value = true
    faults.value = {}
    try {
      await send(fields.value)
      fields.value = blank()
      adding.value = false
    } catch (error) {
      const named = error instanceof ApiProblem && Object.keys(error.fields).length > 0
      faults.value = named ? error.fields : { all: (error as Error).message }
    } finally {
      busy.value = false
    }
  }
  return { adding, fields, faults, busy, add }
}
