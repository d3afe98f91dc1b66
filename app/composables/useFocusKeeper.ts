import { useEventListener } from '@vueuse/core'
import { nextTick, onScopeDispose } from 'vue'
import { useRouter } from '#imports'

/**
 * Keeps the focus off the document itself: when the focused element is removed, or another page is shown, the page's
 * content gets the focus.
 */
export function useFocusKeeper(): void {
  const toContent = () => {
    const { activeElement } = document
    if (activeElement !== document.body && activeElement !== null) return
    if (document.querySelector('.v-dialog.v-overlay--active')) return
    document.getElementById('main')?.focus({ preventScroll: true })
  }
  const soon = () => requestAnimationFrame(toContent)
  useEventListener(document, 'focusout', soon)
  // Browsers send no event when a focused element is removed; the next key is one.
  useEventListener(document, 'keyup', soon)
  onScopeDispose(useRouter().afterEach(() => void nextTick(soon)))
}
