import { nextTick, ref } from 'vue'

/** The order of a domain's rules while it is changed: shown at once, saved when asked to. */
export function useRuleOrder() {
  const store = useRulesStore()
  const notice = useNotice()
  const { conflicts, reason, clear, take } = useConflicts()
  /** What moved last, for those who do not see it. */
  const told = ref('')
  const saving = ref(false)

  /** Moves the rule at a place to another; its handle keeps the focus. */
  async function move(from: number, to: number) {
    if (to < 0 || to >= store.rules.length || from === to) return
    const order = store.ordered.map((rule) => rule.id)
    const [id] = order.splice(from, 1)
    order.splice(to, 0, id!)
    store.wanted = order
    clear()
    told.value = `${store.ordered[to]!.pattern} is number ${to + 1} of ${order.length}; not saved yet.`
    await nextTick()
    document.querySelector<HTMLElement>(`#rule-${id} .handle`)?.focus()
  }
  /** Moves a rule before another. */
  function moveBefore(id: number, other: number) {
    const place = (wanted: number) => store.ordered.findIndex((rule) => rule.id === wanted)
    return move(place(id), place(other))
  }
  async function save() {
    saving.value = true
    try {
      await store.saveOrder(reason.value.trim())
      clear()
      reason.value = ''
      notice.tell('Order saved. Undo in the ledger.')
    } catch (error) {
      if (!take(error)) notice.tell((error as Error).message)
    } finally {
      saving.value = false
    }
  }
  function cancel() {
    store.wanted = undefined
    clear()
    told.value = 'The order is as saved.'
  }
  return { conflicts, reason, told, saving, move, moveBefore, save, cancel }
}
