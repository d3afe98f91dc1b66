/** A page as it can be told apart from others: by its address, and its title where that is known. */
export interface NamedPage {
  url: string
  title?: string
}

export interface Match {
  page: NamedPage
  /** How sure it is that this is the page meant, 0 to 1. */
  score: number
}

interface Tokens {
  /** Of the last part of the path. */
  name: string[]
  folder: string[]
  title: string[] | undefined
  /** Numbers that name a thing, as a stop or a notice. */
  numbers: string[]
}

const LANGUAGE = /^(?:[a-z]{2}(?:-[a-z]{2})?)$/
const YEAR = /^(?:19|20)\d\d$/
const DATE_PART = /^(?:0?[1-9]|[12]\d|3[01])$/
const FILLER = new Set([
  'the',
  'a',
  'of',
  'and',
  'for',
  'to',
  'in',
  'at',
  'on',
  'by',
  'index',
  'html',
  'htm',
  'php',
  'aspx',
  'page',
  'de',
  'der',
  'die',
  'das',
  'und',
  'la',
  'le',
  'les',
  'des',
  'du',
  'et',
  'do',
  'da',
  'e',
  'el',
  'y',
])

const decoded = (text: string) => {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

// Plurals and the like: “maps” and “map”, “services” and “service”.
const withoutEnding = (word: string) =>
  word.length > 5
    ? word.replace(/(?:e?s|e)$/, '')
    : word.length === 5
      ? word.replace(/(?:(?<!s)s|e)$/, '')
      : word.length === 4
        ? word.replace(/(?<!s)s$/, '')
        : word

/** Words of a name, folded: lower case, without accents and plural endings. */
function wordsOf(text: string): string[] {
  const folded = text
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
  const words = folded.match(/\p{L}+|\d+/gu) ?? []
  return words.filter((word) => !FILLER.has(word)).map(withoutEnding)
}

/** The part of a title that is the page’s own, without its site’s name. */
const ownTitle = (title: string) => {
  const parts = title.split(/\s+[|–—·•:-]\s+|\s*[|•·]\s*/u).filter(Boolean)
  return parts[0] ?? title
}

function tokensOf({ url, title }: NamedPage): Tokens {
  const parts = decoded(new URL(url).pathname).split('/').filter(Boolean)
  if (parts.length > 0 && LANGUAGE.test(parts[0]!)) parts.shift()
  if (parts.length > 1 && /^(?:index|default|home)(?:\.\w{2,5})?$/i.test(parts.at(-1)!)) parts.pop()
  const last = (parts.pop() ?? '').replace(/\.[a-z0-9]{1,5}$/i, '')
  const name = wordsOf(last)
  const folder = parts.flatMap(wordsOf)
  return {
    name: name.filter((word) => !YEAR.test(word)),
    folder: folder.filter((word) => !YEAR.test(word) && !DATE_PART.test(word)),
    title: title === undefined || title === '' ? undefined : wordsOf(ownTitle(title)),
    numbers: name.filter((word) => /^\d+$/.test(word) && !YEAR.test(word)),
  }
}

/** How much a word tells: rare ones much, those of every page nothing. */
type Weigh = (word: string) => number

/** How alike two words are: the same, or of one stem. */
function likeWord(one: string, other: string): number {
  if (one === other) return 1
  const least = Math.min(one.length, other.length)
  if (least < 5) return 0
  let shared = 0
  while (shared < least && one[shared] === other[shared]) shared++
  return shared >= 5 && shared / Math.max(one.length, other.length) >= 0.65 ? 0.75 : 0
}

/** Weighted overlap of two sets of words, 0 to 1: what they share against all they hold (Ruzicka similarity). */
function overlap(one: readonly string[], other: readonly string[], weigh: Weigh): number {
  if (one.length === 0 || other.length === 0) return 0
  const [a, b] = [[...new Set(one)], [...new Set(other)]]
  const taken = new Set<string>()
  let shared = 0
  let all = 0
  for (const word of a) {
    let best = 0
    let by: string | undefined
    for (const candidate of b) {
      if (taken.has(candidate)) continue
      const like = likeWord(word, candidate)
      if (like > best) [best, by] = [like, candidate]
    }
    if (by !== undefined) taken.add(by)
    shared += best * weigh(word)
    all += weigh(word)
  }
  for (const word of b) if (!taken.has(word)) all += weigh(word)
  return all === 0 ? 0 : shared / all
}

/** How much of one set of words another holds, 0 to 1. */
function held(one: readonly string[], by: readonly string[], weigh: Weigh): number {
  let shared = 0
  let all = 0
  for (const word of new Set(one)) {
    shared += Math.max(0, ...by.map((other) => likeWord(word, other))) * weigh(word)
    all += weigh(word)
  }
  return all === 0 ? 0 : shared / all
}

/** A site’s pages made ready, so that many lost ones can be looked for among them. */
export interface PageIndex {
  pages: readonly NamedPage[]
  tokens: Tokens[]
  weigh: Weigh
  /** Pages by the words of their addresses. */
  byWord: Map<string, number[]>
}

/** What a word weighs that no address of the site has. */
const UNKNOWN_WEIGHT = 1

const stem = (word: string) => word.slice(0, 5)

export function indexPages(pages: readonly NamedPage[]): PageIndex {
  const tokens = pages.map(tokensOf)
  const counts = new Map<string, number>()
  const byWord = new Map<string, number[]>()
  tokens.forEach(({ name, folder, title }, index) => {
    for (const word of new Set([...name, ...folder])) counts.set(word, (counts.get(word) ?? 0) + 1)
    for (const word of new Set([...name, ...folder, ...(title ?? [])].map(stem)))
      byWord.set(word, [...(byWord.get(word) ?? []), index])
  })
  const all = pages.length
  // Words that stand in no address of the site are the talk around a page's name.
  const weigh: Weigh = (word) => (counts.has(word) ? Math.log(1 + all / counts.get(word)!) + 0.1 : UNKNOWN_WEIGHT)
  return { pages, tokens, byWord, weigh }
}

/** The words of one page that another has nothing of, by what they weigh. */
function leftOver(one: readonly string[], other: readonly string[], folder: readonly string[], weigh: Weigh): number {
  const best = (word: string, among: readonly string[]) => Math.max(0, ...among.map((other) => likeWord(word, other)))
  return [...new Set(one)].reduce(
    // What a folder is called tells less than what the page is.
    (sum, word) => sum + (1 - Math.max(best(word, other), 0.2 * best(word, folder))) * weigh(word),
    0,
  )
}

/**
 * How much speaks against two pages being one, 0 to 1: words of both that the other has not. A page that only lost or
 * gained words may be the same one; one that has others in their place is another.
 */
function replaced(lost: Tokens, found: Tokens, weigh: Weigh): number {
  const mine = [...lost.name, ...(lost.title ?? [])]
  const theirs = [...found.name, ...(found.title ?? [])]
  const [gone, come] = [leftOver(mine, theirs, found.folder, weigh), leftOver(theirs, mine, lost.folder, weigh)]
  const all = [...new Set(mine)].reduce((sum, word) => sum + weigh(word), 0)
  return all === 0 ? 0 : Math.min(1, Math.min(gone, come) / all)
}

function scoreOf(lost: Tokens, found: Tokens, weigh: Weigh): number {
  const names = overlap(lost.name, found.name, weigh)
  const paths = overlap([...lost.name, ...lost.folder], [...found.name, ...found.folder], weigh)
  // A folder may have become the page, and the page a part of a longer one.
  const within = held(lost.name, [...found.name, ...found.folder], weigh)
  const byPath = 0.4 * names + 0.2 * paths + 0.4 * within
  let score = byPath
  if (lost.title && lost.title.length > 0) {
    const called = held(lost.title, [...found.name, ...found.folder], weigh)
    score = Math.max(byPath, 0.6 * byPath + 0.4 * called)
    if (found.title) {
      const titles = 0.5 * overlap(lost.title, found.title, weigh) + 0.5 * held(lost.title, found.title, weigh)
      score = titles >= 0.99 ? Math.max(0.9, score) : 0.5 * score + 0.5 * titles
    }
  }
  score *= 1 - replaced(lost, found, weigh)
  const differ = lost.numbers.length > 0 && !lost.numbers.some((number) => found.numbers.includes(number))
  // A page about another number is another page; one about none may be all of them together.
  if (differ) score *= found.numbers.length > 0 ? 0.2 : 0.6
  return Math.min(1, score)
}

/**
 * The pages of a site that most likely took the place of one that is gone, the best first: by the words of its path,
 * rare ones counting more, and those of its title (semantics §5). Scores under `least` are left out.
 */
export function bestPages(lost: NamedPage, index: PageIndex, { least = 0.25, most = 8 } = {}): Match[] {
  const tokens = tokensOf(lost)
  const near = new Set<number>()
  for (const word of [...tokens.name, ...tokens.folder, ...(tokens.title ?? [])])
    for (const at of index.byWord.get(stem(word)) ?? []) near.add(at)
  const matches: Match[] = []
  for (const at of near) {
    const score = scoreOf(tokens, index.tokens[at]!, index.weigh)
    if (score >= least && index.pages[at]!.url !== lost.url) matches.push({ page: index.pages[at]!, score })
  }
  return matches.sort((a, b) => b.score - a.score || a.page.url.length - b.page.url.length).slice(0, most)
}

/** Below this a page found is not offered: it is more likely another one. */
export const OFFERED_FROM = 0.55
