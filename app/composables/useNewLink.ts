import { useState } from '#imports'

/** Opens the New link form from anywhere, with what is known already. */
export function useNewLink() {
  const open = useState('new-link-open', () => false)
  // The form is loaded when it is first asked for, and kept from then on.
  const used = useState('new-link-used', () => false)
  const input = useState<{ destination?: string; slug?: string; domain?: string }>('new-link-given', () => ({}))
  return {
    open,
    used,
    given: input,
    start(from: { destination?: string; slug?: string; domain?: string } = {}) {
      input.value = from
      used.value = true
      open.value = true
    },
  }
}
