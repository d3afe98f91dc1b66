import { useDocumentVisibility } from '@vueuse/core'
import { onScopeDispose, ref, watch } from 'vue'
import type { LiveTold } from '~~/core/schemas'

const FIRST_WAIT_MS = 2000
const LONGEST_WAIT_MS = 60_000

/**
 * Visits and changed cases as they come, for as long as the page that asks is open and to be seen; where the desk does
 * not answer it is asked less and less often.
 */
export function useLive(take?: (told: LiveTold) => void) {
  const minute = ref<number>()
  const connected = ref(false)
  const visibility = useDocumentVisibility()
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined
  let wait = FIRST_WAIT_MS

  function close() {
    clearTimeout(timer)
    source?.close()
    source = undefined
    connected.value = false
  }
  function open() {
    close()
    source = new EventSource('/api/v1/traffic/events')
    source.onmessage = ({ data }: MessageEvent<string>) => {
      wait = FIRST_WAIT_MS
      connected.value = true
      const told = JSON.parse(data) as LiveTold
      minute.value = told.minute
      take?.(told)
    }
    source.onerror = () => {
      close()
      timer = setTimeout(open, wait)
      wait = Math.min(LONGEST_WAIT_MS, wait * 2)
    }
  }
  watch(visibility, (now) => (now === 'visible' ? open() : close()), { immediate: true })
  onScopeDispose(close)
  return { minute, connected }
}
