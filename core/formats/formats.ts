import { apache } from './apache/read'
import { csv } from './csv/read'
import type { Format, SourceFile } from './format'
import { anchors, bookmarks, pages, text } from './html/read'
import { json } from './json/read'
import { nginx } from './nginx/read'
import { plain } from './plain/read'
import { sitemap } from './sitemap/read'

/** Every kind of file that is read. A new kind is a file and a line here. */
export const FORMATS: readonly Format[] = [csv, json, apache, nginx, plain, pages, bookmarks, anchors, sitemap, text]

export const findFormat = (id: string): Format | undefined => FORMATS.find((format) => format.id === id)

/** The kind that files resemble most; `undefined` where they resemble none. */
export function recognise(files: readonly SourceFile[]): Format | undefined {
  const sample = files.slice(0, 20)
  const scored = FORMATS.map((format) => ({
    format,
    score: sample.reduce((sum, file) => sum + format.resembles(file), 0),
  }))
  const best = scored.reduce((a, b) => (b.score > a.score ? b : a))
  return best.score > 0 ? best.format : undefined
}
