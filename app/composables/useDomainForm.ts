import { computed, ref } from 'vue'
import type { Domain } from '~~/core/schemas'

/** A form over some fields of the domain in hand: what was typed is kept whatever the server says. */
export function useDomainForm<Key extends keyof Domain>(keys: readonly Key[]) {
  const store = useDomainStore()
  const notice = useNotice()
  const typed = ref(pick(store.domain!)) as { value: Pick<Domain, Key> }
  const base = ref(pick(store.domain!)) as { value: Pick<Domain, Key> }
  const faults = ref<Record<string, string>>({})
  const busy = ref(false)
  const changed = computed(() =>
    keys.filter((key) => JSON.stringify(typed.value[key]) !== JSON.stringify(base.value[key])),
  )

  function pick(domain: Domain): Pick<Domain, Key> {
    return Object.fromEntries(keys.map((key) => [key, domain[key]])) as Pick<Domain, Key>
  }
  async function save() {
    busy.value = true
    faults.value = {}
    try {
      const saved = await store.save(
        Object.fromEntries(changed.value.map((key) => [key, typed.value[key]])) as Partial<Domain>,
      )
      base.value = pick(saved)
      typed.value = pick(saved)
      notice.tell('Saved')
    } catch (error) {
      if (error instanceof ApiProblem && error.status === 412) {
        const theirs = error.problem.current as Domain
        const lost = changed.value.filter((key) => JSON.stringify(theirs[key]) !== JSON.stringify(base.value[key]))
        store.domain = { ...store.domain!, ...theirs }
        base.value = pick(theirs)
        faults.value = {
          all: `Somebody saved this meanwhile. Yours is kept here and not saved; save again to put yours over theirs.`,
          ...Object.fromEntries(lost.map((key) => [key, `Saved meanwhile: ${String(theirs[key] ?? 'nothing')}`])),
        }
      } else
        faults.value =
          error instanceof ApiProblem && Object.keys(error.fields).length > 0
            ? error.fields
            : { all: (error as Error).message }
    } finally {
      busy.value = false
    }
  }
  return { typed, faults, busy, changed, save }
}
