import { writeApache } from './apache'
import { writeNginx } from './nginx'
import type { Outgoing, Written } from './outgoing'
import { writeBookmarks, writePages } from './pages'
import { writePlain } from './plain'
import { writeSitemap } from './sitemap'
import { writeCsv, writeJson, writeJsonLines } from './tables'

export type { Outgoing, OutLink, Written } from './outgoing'

/** Every kind of file that is written. A new kind is a function and a line here. */
export const WRITERS = {
  csv: writeCsv,
  json: writeJson,
  jsonl: writeJsonLines,
  plain: writePlain,
  apache: writeApache,
  nginx: writeNginx,
  pages: writePages,
  bookmarks: writeBookmarks,
  sitemap: writeSitemap,
} as const satisfies Record<string, (outgoing: Outgoing) => Written>

export type WriterId = keyof typeof WRITERS
