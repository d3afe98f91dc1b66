import { ref } from 'vue'

/**
 * Does what a person asks for one after the other, however fast they are: nothing asked for is lost. What fails is
 * told, and where somebody else went on meanwhile, `lookAgain` shows things as they stand.
 */
export function useInTurn(lookAgain: () => Promise<unknown>) {
  const busy = ref(false)
  const fault = ref('')
  let last: Promise<void> = Promise.resolve()

  async function work(task: () => Promise<unknown>): Promise<void> {
    busy.value = true
    fault.value = ''
    try {
      await task()
    } catch (error) {
      fault.value = (error as Error).message
      if (error instanceof ApiProblem && (error.status === 409 || error.status === 412)) await lookAgain()
    } finally {
      busy.value = false
    }
  }
  const act = (task: () => Promise<unknown>): Promise<void> => (last = last.then(() => work(task)))
  return { busy, fault, act }
}
