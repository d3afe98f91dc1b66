import { ref, type Ref } from 'vue'
import { ApiProblem } from './useApi'
import { useDraft } from './useDraft'

/**
 * A few fields that add something to a link: opened where they are needed, checked by the server, emptied once they are
 * saved. Faults are given by field, those of no field under `all`. What was typed is kept as the draft called `name`.
 */
export function useSmallForm<Fields extends object>(
  name: string,
  blank: () => Fields,
  send: (fields: Fields) => Promise<unknown>,
) {
  const adding = ref(false)
  const fields = ref(blank()) as Ref<Fields>
  const faults = ref<Record<string, string>>({})
  const busy = ref(false)
  const draft = useDraft(name, { fields })
  // A form with a draft is open from the start.
  if (draft.resume()) adding.value = true
  function discard() {
    draft.forget()
    fields.value = blank()
    faults.value = {}
    adding.value = false
    draft.resume()
  }
  async function add() {
    busy.value = true
    faults.value = {}
    try {
      await send(fields.value)
      discard()
    } catch (error) {
      const named = error instanceof ApiProblem && Object.keys(error.fields).length > 0
      faults.value = named ? error.fields : { all: (error as Error).message }
    } finally {
      busy.value = false
    }
  }
  return { adding, fields, faults, busy, add, discard }
}
