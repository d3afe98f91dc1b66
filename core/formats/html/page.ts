import { Parser } from 'htmlparser2'

/** An anchor of a page with what it says, and the headings of bookmark folders it stands under. */
export interface Anchor {
  href: string
  text: string
  line: number
  folders: string[]
}

export interface PageFacts {
  /** Where `meta refresh` sends whoever opens the page (HTML Living Standard §4.2.5.3). */
  refresh: { url: string; line: number } | undefined
  canonical: { url: string; line: number } | undefined
  title: string
  anchors: Anchor[]
  base: string | undefined
}

const MAX_ANCHORS = 100_000

/** Reads of a page what leads elsewhere. */
export function readPageFacts(text: string): PageFacts {
  const facts: PageFacts = { refresh: undefined, canonical: undefined, title: '', anchors: [], base: undefined }
  const lineStarts: number[] = [0]
  for (let at = text.indexOf('\n'); at !== -1; at = text.indexOf('\n', at + 1)) lineStarts.push(at + 1)
  const lineAt = (offset: number) => {
    let [low, high] = [0, lineStarts.length]
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (lineStarts[middle]! <= offset) low = middle
      else high = middle
    }
    return low + 1
  }
  let inside: 'title' | 'folder' | undefined
  let anchor: Anchor | undefined
  let folder = ''
  const folders: string[] = []
  let pending: string | undefined
  const parser = new Parser({
    onopentag(name, attributes) {
      const line = lineAt(parser.startIndex)
      if (name === 'meta' && /^refresh$/i.test(attributes['http-equiv'] ?? '')) {
        const url = /^\s*[\d.]*\s*[;,]?\s*(?:url\s*=\s*)?(['"]?)(.+?)\1\s*$/i.exec(attributes.content ?? '')?.[2]
        if (url !== undefined && !/^\d+$/.test(url)) facts.refresh ??= { url, line }
      } else if (name === 'link' && /(?:^|\s)canonical(?:\s|$)/i.test(attributes.rel ?? '') && attributes.href)
        facts.canonical ??= { url: attributes.href, line }
      else if (name === 'base' && attributes.href) facts.base ??= attributes.href
      else if (name === 'title') inside = 'title'
      else if (name === 'h3') {
        inside = 'folder'
        folder = ''
      } else if (name === 'dl') {
        folders.push(pending ?? '')
        pending = undefined
      } else if (name === 'a' && attributes.href && facts.anchors.length < MAX_ANCHORS)
        anchor = { href: attributes.href.trim(), text: '', line, folders: folders.filter(Boolean) }
    },
    ontext(piece) {
      if (anchor) anchor.text += piece
      else if (inside === 'title' && facts.title.length < 300) facts.title += piece
      else if (inside === 'folder') folder += piece
    },
    onclosetag(name) {
      if (name === 'a' && anchor) {
        facts.anchors.push({ ...anchor, text: anchor.text.replace(/\s+/g, ' ').trim().slice(0, 300) })
        anchor = undefined
      } else if (name === 'title') inside = undefined
      else if (name === 'h3') {
        inside = undefined
        pending = folder.trim()
      } else if (name === 'dl') folders.pop()
    },
  })
  parser.end(text)
  facts.title = facts.title.replace(/\s+/g, ' ').trim()
  return facts
}
