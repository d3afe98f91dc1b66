import { computed, ref } from 'vue'
import type { Miss } from '~~/core/schemas'

/** A suggestion at least this probable is one most people settle without a closer look. */
const CERTAIN = 0.95

/** Which of the listed requested addresses are chosen to be settled together. `state` is that of the list. */
export function useChosenMisses(state: () => Miss['state']) {
  const store = useMissesStore()
  const session = useSessionStore()
  const chosen = ref(new Set<number>())
  /** Open ones of which one link was almost certainly meant, and whose address no link has. */
  const certain = computed(() =>
    state() === 'open' && session.may('editor')
      ? store.items.filter(({ gone, ranking }) => !gone && (ranking?.candidates[0]?.probability ?? 0) >= CERTAIN)
      : [],
  )
  const allChosen = computed(() => store.items.length > 0 && store.items.every(({ id }) => chosen.value.has(id)))
  const take = (misses: readonly Miss[]) => (chosen.value = new Set(misses.map(({ id }) => id)))
  return {
    chosen,
    certain,
    allChosen,
    choose(id: number, on: boolean): void {
      const now = new Set(chosen.value)
      if (on) now.add(id)
      else now.delete(id)
      chosen.value = now
    },
    chooseAll: () => take(allChosen.value ? [] : store.items),
    chooseCertain: () => take(certain.value),
  }
}
