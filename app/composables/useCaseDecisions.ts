import { nextTick, ref, type ComputedRef } from 'vue'
import type { RemedyGiven } from '~/stores/docket'
import type { Case } from '~~/core/schemas'

/** What decisions on the docket act on. */
interface Decided {
  /** The cases as they are shown, in their order. */
  ordered: ComputedRef<Case[]>
  hasPane: ComputedRef<boolean>
  refresh(): Promise<void>
}

/** Decisions on cases: each can be undone from its notice, and the next case is shown. */
export function useCaseDecisions({ ordered, hasPane, refresh }: Decided) {
  const docket = useDocketStore()
  const notice = useNotice()
  const route = useRoute()
  const busy = ref(false)
  async function decide(work: () => Promise<string | undefined>, undoable = true) {
    busy.value = true
    try {
      const told = await work()
      if (told) notice.tell(told, undoable ? undo : undefined)
    } catch (error) {
      notice.tell((error as Error).message)
    } finally {
      busy.value = false
    }
    await refresh()
  }
  /** Applies a remedy and shows the next case. */
  const apply = (remedy: string, given: RemedyGiven) => {
    if (busy.value) return
    const found = docket.current!
    return decide(
      async () => {
        const sentence = await docket.apply(found, remedy, given)
        await goOn(found)
        return sentence
      },
      found.remedies?.find(({ id }) => id === remedy)?.undoable,
    )
  }
  /** Shows the case after one that was decided, and moves the focus to it. */
  async function goOn(found: Case) {
    const at = ordered.value.findIndex(({ id }) => id === found.id)
    const next = ordered.value[at + 1] ?? ordered.value[at - 1]
    await navigateTo({ query: { ...route.query, case: hasPane.value ? next?.id : undefined } }, { replace: true })
    await nextTick()
    document.querySelector<HTMLElement>('.case[aria-current]')?.focus()
  }
  async function aside() {
    notice.tell('Set aside', undo)
    await goOn(docket.current!)
    await refresh()
  }
  const takeUp = () =>
    decide(async () => {
      await docket.takeUp(docket.current!)
      return 'Case reopened'
    })
  const undo = () =>
    decide(async () => {
      const label = await docket.undoLast()
      return label === undefined ? 'You have no decision left to undo.' : `Undone: ${label}`
    }, false)

  return { busy, apply, aside, takeUp, undo }
}
