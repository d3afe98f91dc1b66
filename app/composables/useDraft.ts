import { onScopeDispose, watch, type Ref } from 'vue'
import { readDraft, writeDraft } from './form-drafts'

/** The values of a form by name. */
type Values = Record<string, unknown>
/** How long after the last letter what was typed is kept, in milliseconds. */
const PAUSE_MS = 250

/**
 * Keeps what is typed into a form across Escape, Back, a reload and an ended session. `name` says of what it is a
 * draft, once and for all; `fields` are the form's values. Gives what resumes the draft, and what ends it once it is
 * saved or discarded.
 */
export function useDraft(name: string, fields: Record<string, Ref<unknown>>) {
  let initial = ''
  let timer: ReturnType<typeof setTimeout> | undefined
  const values = (): Values => Object.fromEntries(Object.entries(fields).map(([key, field]) => [key, field.value]))
  const isBegun = () => initial !== ''
  function keep() {
    clearTimeout(timer)
    timer = undefined
    if (!isBegun()) return
    const now = values()
    writeDraft<Values, never>(name, JSON.stringify(now) === initial ? undefined : { base: undefined, fields: now })
  }
  watch(
    Object.values(fields),
    () => {
      clearTimeout(timer)
      timer = setTimeout(keep, PAUSE_MS)
    },
    { deep: true },
  )
  // A form left within the pause keeps its last letters, too.
  onScopeDispose(() => timer !== undefined && keep())
  return {
    /** Begins with the values as they are, and restores the draft; true where there was one. */
    resume(): boolean {
      initial = JSON.stringify(values())
      const draft = readDraft<Values, never>(name)
      if (!draft) return false
      for (const [key, value] of Object.entries(draft.fields)) if (key in fields) fields[key]!.value = value
      return true
    },
    /** Deletes the draft: the form was saved or discarded. */
    forget() {
      clearTimeout(timer)
      timer = undefined
      initial = ''
      writeDraft(name, undefined)
    },
  }
}
