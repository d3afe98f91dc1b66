import { useState } from '#imports'
import type { LedgerEntry, Link } from '~~/core/schemas'

/** Links that were just created, until another page is shown. */
interface Created {
  links: Link[]
  /** The first address is in the clipboard. */
  isCopied: boolean
  /** Its entry in the ledger, where it can be undone. */
  entry: LedgerEntry | undefined
}

export function useCreated() {
  const created = useState<Created | undefined>('created', () => undefined)
  return {
    created,
    tell: (links: Link[], isCopied: boolean, entry?: LedgerEntry) => (created.value = { links, isCopied, entry }),
  }
}
