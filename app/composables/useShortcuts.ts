import { useEventListener } from '@vueuse/core'

/** Whether a key press belongs to something being typed, or to an open dialog. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  return (
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    Boolean(target?.closest('input, textarea, select, [contenteditable="true"], [role="combobox"]')) ||
    document.querySelector('.v-dialog.v-overlay--active') !== null
  )
}

/** Whether Enter or Space presses what has the focus, not the list; the link of a row does not count. */
const pressesSomething = (event: KeyboardEvent): boolean =>
  (event.key === 'Enter' || event.key === ' ') &&
  Boolean((event.target as HTMLElement | null)?.closest('button, summary, [role="button"], a:not(.go)'))

/** One listener for single keys and for `g` followed by a letter, within a second and a half. */
export function useShortcuts(keys: Record<string, () => unknown>, afterG: Record<string, () => unknown> = {}) {
  let gPressed = 0
  useEventListener('keydown', (event: KeyboardEvent) => {
    if (isTyping(event) || pressesSomething(event)) return
    const follows = Date.now() - gPressed < 1500
    gPressed = 0
    const action = follows ? (afterG[event.key] ?? keys[event.key]) : keys[event.key]
    if (action) {
      event.preventDefault()
      action()
    } else if (event.key === 'g' && Object.keys(afterG).length > 0) gPressed = Date.now()
  })
}
