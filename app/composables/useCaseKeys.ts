import { nextTick, ref, type ComputedRef, type Ref } from 'vue'
import type { Case } from '~~/core/schemas'
import { useShortcuts } from './useShortcuts'

/** What the keys of the docket act on. */
interface CaseKeys {
  /** The number of the case that is shown. */
  selected: ComputedRef<number | undefined>
  /** The part that shows it, by which its first remedy is applied. */
  view: Ref<{ apply(): void } | undefined>
  read(id: number): Promise<void>
  step(by: number): void
  undo(): unknown
}

/**
 * The keys of the docket. A case that is just being read again is waited for, so that a key pressed meanwhile is not
 * lost. Returns whether the dialog that sets a case aside is open, and what opens it.
 */
export function useCaseKeys({ selected, view, read, step, undo }: CaseKeys) {
  const docket = useDocketStore()
  const session = useSessionStore()
  const asideOpen = ref(false)

  async function shown(): Promise<Case | undefined> {
    const id = selected.value
    if (id !== undefined && docket.current?.id !== id) await read(id)
    return docket.current
  }
  async function startAside() {
    if (session.may('editor') && (await shown())?.state === 'open') asideOpen.value = true
  }
  async function applyShown() {
    if (!session.may('administrator') || !(await shown())) return
    await nextTick()
    view.value?.apply()
  }
  useShortcuts({
    j: () => step(1),
    k: () => step(-1),
    Enter: async () => {
      const [subject] = (await shown())?.subjects ?? []
      return subject && navigateTo(subject.to)
    },
    a: applyShown,
    s: startAside,
    u: () => session.may('editor') && undo(),
  })
  return { asideOpen, startAside }
}
