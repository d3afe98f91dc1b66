import { useState } from '#imports'

export interface Notice {
  text: string
  action?: () => unknown
  label?: string
  key: number
}

/** The snackbar: one sentence, and where it can be taken back, how. */
export function useNotice() {
  const notice = useState<Notice | undefined>('notice', () => undefined)
  return {
    notice,
    tell(text: string, action?: () => unknown, label = 'Undo') {
      notice.value = { text, action, label, key: Date.now() }
    },
  }
}
