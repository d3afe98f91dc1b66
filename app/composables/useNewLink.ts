import { useState } from '#imports'

/** Opens the New link form from anywhere, with what is known already. */
export function useNewLink() {
  const open = useState('new-link-open', () => false)
  const given = useState<{ destination?: string; slug?: string; domain?: string }>('new-link-given', () => ({}))
  return {
    open,
    given,
    start(from: { destination?: string; slug?: string; domain?: string } = {}) {
      given.value = from
      open.value = true
    },
  }
}
