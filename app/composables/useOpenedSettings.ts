import { onMounted, ref } from 'vue'
import type { Settings } from '~~/core/schemas'

interface SettingsForm {
  open(settings: Settings): void
  save(): Promise<unknown>
}

/**
 * Opens a form over the organisation’s settings, as soon as they are read, and tells when they were saved. The form
 * must not take input before `ready`: what is read would replace it.
 */
export function useOpenedSettings(form: SettingsForm, saved: string) {
  const store = useSettingsStore()
  const problem = ref('')
  const ready = ref(false)
  const load = () =>
    store.loadSettings().then(
      (settings) => {
        problem.value = ''
        form.open(settings)
        ready.value = true
      },
      (error: Error) => (problem.value = error.message),
    )
  onMounted(load)
  return {
    problem,
    ready,
    load,
    /** Whether they were saved. */
    async save(): Promise<boolean> {
      if (!(await form.save())) return false
      useNotice().tell(`Saved: ${saved}`)
      return true
    },
  }
}
