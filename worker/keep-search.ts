import type { Database } from '../server/database/open'
import { keepSearchIndex, MAX_LINKS } from '../server/usecases/links/search/keep-index'

/** How often links whose text changed are looked for, in milliseconds. */
const POLL_MS = 250
/** One run ends after this long. */
const RUN_MS = 45_000

/** Makes what keeps the search index current: each change is indexed within a second or so. */
export function makeSearchKeeper(stopping: () => boolean = () => false): (db: Database) => Promise<void> {
  return async (db) => {
    const until = Date.now() + RUN_MS
    while (!stopping() && Date.now() < until)
      // Links that are being changed stay behind: they are not tried again without a pause.
      if ((await keepSearchIndex(db)) < MAX_LINKS) await new Promise((resolve) => setTimeout(resolve, POLL_MS))
  }
}
