import { Parser } from 'htmlparser2'
import type { PageFacts, PreviewCard } from './evidence'
import { readRefresh, scriptMoveOf } from './moves'
import { comparableWords, sketchOf } from './shingles'
import { signsOf } from './signs'

/** Text of these is none of the page’s own. */
const SILENT = new Set(['script', 'style', 'template', 'svg', 'head', 'select', 'iframe', 'object'])
/** What every page of a site has around its own text. */
const AROUND = new Set(['nav', 'header', 'footer', 'aside'])
/** Elements without a break around them: words on both sides belong together. */
const INLINE = new Set(['a', 'b', 'i', 'em', 'strong', 'span', 'small', 'abbr', 'code', 'u', 's', 'sub', 'sup', 'mark'])
const MAX_TEXT = 60_000
const MAX_NAMED = 300
const TEXT_FOR_SIGNS = 3000

/** A link of a page, for remedies. */
export interface PageLink {
  url: string
  text: string
}

export interface ReadPage {
  facts: PageFacts
  links: PageLink[]
}

const collapse = (text: string) => text.replace(/\s+/gu, ' ').trim()

/** A URL against its base; `undefined` where it is none. */
const resolve = (reference: string, base: string): string | undefined => {
  try {
    return new URL(reference, base).href
  } catch {
    return undefined
  }
}

/**
 * Reads what a verdict needs of a page. `body` may be anything, as long as `MAX_TEXT` of its text counts; what is not
 * HTML has a size and a type only. Never throws.
 */
export function readPage(body: string, about: { url: string; type: string; octets: number; cut: boolean }): ReadPage {
  const facts: PageFacts = {
    type: about.type,
    octets: about.octets,
    cut: about.cut,
    title: '',
    heading: '',
    language: '',
    words: 0,
    sketch: [],
    scripts: 0,
    passwordFields: 0,
    formHosts: [],
    refresh: null,
    scriptMove: null,
    signs: [],
    card: null,
  }
  if (!/^(?:text\/html|application\/xhtml\+xml|)$/.test(about.type)) {
    if (about.type.startsWith('text/')) {
      const words = comparableWords(body.slice(0, MAX_TEXT))
      Object.assign(facts, { words: words.length, sketch: sketchOf(words) })
    }
    return { facts, links: [] }
  }
  const read = walk(body, about.url)
  const own = comparableWords(read.own)
  const whole = own.length >= 5 ? own : comparableWords(read.all)
  const words = comparableWords(withoutPath(whole.join(' '), about.url))
  Object.assign(facts, {
    title: collapse(read.title).slice(0, MAX_NAMED),
    heading: collapse(read.heading).slice(0, MAX_NAMED),
    language: read.language,
    words: words.length,
    sketch: sketchOf(words),
    scripts: read.scripts.count,
    passwordFields: read.passwordFields,
    formHosts: [...new Set(read.passwordForms)].slice(0, 5),
    refresh: read.refresh,
    scriptMove: words.length < 60 ? scriptMoveOf(read.scripts.text, about.url) : null,
    card: cardOf(read.meta, about.url),
  })
  facts.signs = signsOf({
    title: facts.title,
    heading: facts.heading,
    text: collapse(read.all).slice(0, TEXT_FOR_SIGNS),
    resources: read.resources,
  })
  return { facts, links: read.links }
}

/** A page that says nothing but the address asked for is the same page as any other that does. */
function withoutPath(text: string, url: string): string {
  let path = ''
  try {
    path = decodeURIComponent(new URL(url).pathname)
  } catch {
    return text
  }
  const parts = path.split('/').filter(Boolean)
  const named = [comparableWords(path), comparableWords(parts.at(-1) ?? '')].map((words) => words.join(' '))
  return named.reduce((rest, name) => (name.length < 3 ? rest : rest.split(name).join(' ')), text)
}

function cardOf(meta: ReadonlyMap<string, string>, base: string): PreviewCard | null {
  const named = (...names: string[]) => {
    for (const name of names) if (meta.get(name)) return collapse(meta.get(name)!).slice(0, MAX_NAMED)
    return ''
  }
  const picture = meta.get('og:image') ?? ''
  const card = {
    title: named('og:title'),
    text: named('og:description', 'description'),
    picture: picture ? (resolve(picture, base) ?? '').slice(0, 2000) : '',
    site: named('og:site_name'),
  }
  return card.title || card.text || card.picture ? card : null
}

interface Walked {
  title: string
  heading: string
  language: string
  /** Its own text, and all of it. */
  own: string
  all: string
  scripts: { count: number; text: string }
  passwordFields: number
  passwordForms: string[]
  refresh: PageFacts['refresh']
  meta: Map<string, string>
  links: PageLink[]
  resources: string[]
}

const MAX_LINKS = 2000
const MAX_SCRIPT = 20_000

function walk(body: string, pageUrl: string): Walked {
  const walked: Walked = {
    title: '',
    heading: '',
    language: '',
    own: '',
    all: '',
    scripts: { count: 0, text: '' },
    passwordFields: 0,
    passwordForms: [],
    refresh: null,
    meta: new Map(),
    links: [],
    resources: [],
  }
  let base = pageUrl
  // How deep we are in elements of each sort.
  let silent = 0
  let around = 0
  let place: 'title' | 'heading' | 'script' | undefined
  let form = ''
  let link: PageLink | undefined
  const hostOf = (reference: string | undefined) => {
    const url = reference === undefined ? undefined : resolve(reference, base)
    return url ? new URL(url).hostname : ''
  }
  const parser = new Parser(
    {
      onopentag(name, attributes) {
        if (name === 'html') walked.language = (attributes.lang ?? '').slice(0, 20)
        else if (name === 'base') base = (attributes.href && resolve(attributes.href, pageUrl)) || base
        else if (name === 'title' && silent <= 1 && walked.title === '') place = 'title'
        else if (name === 'h1' && walked.heading === '') place = 'heading'
        else if (name === 'form') form = hostOf(attributes.action ?? '')
        else if (name === 'input' && attributes.type?.toLowerCase() === 'password') {
          walked.passwordFields++
          walked.passwordForms.push(form || hostOf(''))
        } else if (name === 'a' && attributes.href && walked.links.length < MAX_LINKS) {
          const url = resolve(attributes.href, base)
          if (url) walked.links.push((link = { url, text: '' }))
        } else if (name === 'meta') readMeta(attributes)
        if (name === 'script') {
          walked.scripts.count++
          place = 'script'
        }
        if (
          (name === 'script' || name === 'iframe' || name === 'img') &&
          attributes.src &&
          walked.resources.length < 200
        )
          walked.resources.push(hostOf(attributes.src))
        if (SILENT.has(name)) silent++
        if (AROUND.has(name)) around++
        if (!INLINE.has(name)) addText(' ')
      },
      ontext(text) {
        if (place === 'title') walked.title = (walked.title + text).slice(0, 2000)
        else if (place === 'script') {
          if (walked.scripts.text.length < MAX_SCRIPT) walked.scripts.text += text.slice(0, MAX_SCRIPT)
        } else {
          if (place === 'heading') walked.heading = (walked.heading + text).slice(0, 2000)
          if (link && link.text.length < MAX_NAMED) link.text += text
          addText(text)
        }
      },
      onclosetag(name) {
        if (name === 'title' || name === 'h1' || name === 'script') place = undefined
        if (name === 'a') link = undefined
        if (name === 'form') form = ''
        if (SILENT.has(name)) silent = Math.max(0, silent - 1)
        if (AROUND.has(name)) around = Math.max(0, around - 1)
        if (!INLINE.has(name)) addText(' ')
      },
    },
    { decodeEntities: true, lowerCaseTags: true },
  )
  parser.write(body)
  parser.end()
  for (const one of walked.links) one.text = collapse(one.text)
  return walked

  function addText(text: string): void {
    if (silent > 0 || walked.all.length > MAX_TEXT) return
    walked.all += text
    if (around === 0) walked.own += text
  }
  function readMeta(attributes: Record<string, string>): void {
    const name = (attributes.property ?? attributes.name ?? '').toLowerCase()
    if (name && attributes.content && !walked.meta.has(name)) walked.meta.set(name, attributes.content)
    if (attributes['http-equiv']?.toLowerCase() === 'refresh' && walked.refresh === null)
      walked.refresh = readRefresh(attributes.content ?? '', base)
  }
}
