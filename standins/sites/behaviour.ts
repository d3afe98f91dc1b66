/** One request as a behaviour sees it. */
export interface Visit {
  host: string
  /** Path as asked, still encoded. */
  path: string
  query: string
  method: string
  secure: boolean
  headers: Readonly<Record<string, string | string[] | undefined>>
  /** How often this host was asked before. */
  count: number
}

/** What is sent back, or what is done instead. */
export type Reply =
  | { status: number; headers?: Record<string, string | string[]>; body?: string | Buffer; afterMs?: number }
  /** Octets as they are, instead of an answer, and then the connection ends; `drip` sends them one by one, for ever. */
  | { raw: string | Buffer; drip?: true }
  | { instead: 'hang' | 'reset' }

/** A way for a site to be: each its name, what it plays in words, and its answers. */
export interface Behaviour {
  name: string
  words: string
  answer(visit: Visit, site: SitePages): Reply
}

/** The pages a site has: paths with their titles. */
export interface SitePages {
  host: string
  title: string
  pages: ReadonlyMap<string, string>
}

const text = (given: string) => given.replace(/[&<>"]/g, (character) => `&#${character.charCodeAt(0)};`)

/** A page’s HTML: navigation and footer as every page of the site has, and its own words. */
export function html(site: { title: string }, title: string, body: string, head = ''): string {
  return (
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${text(title)} | ${text(site.title)}</title>` +
    `${head}</head><body><header><nav><a href="/">Home</a> <a href="/help">Help</a> ` +
    '<a href="/contact">Contact</a></nav>' +
    `</header><main>${body}</main><footer>${text(site.title)}, all made up</footer></body></html>`
  )
}

const HTML = { 'content-type': 'text/html; charset=utf-8' }
export const page = (
  status: number,
  body: string | Buffer,
  headers: Record<string, string | string[]> = {},
): Reply => ({
  status,
  headers: { ...HTML, ...headers },
  body,
})
export const goTo = (status: number, location: string, headers: Record<string, string | string[]> = {}): Reply => ({
  status,
  headers: { location, ...headers },
})

const SUBJECTS = ['timetable', 'fare', 'stop', 'quay', 'line', 'ferry', 'ticket', 'notice', 'lift', 'map', 'season']
const DOES = ['changes', 'opens', 'closes', 'moves', 'returns', 'runs', 'waits', 'begins', 'ends', 'holds']
const WHERE = ['at the harbour', 'by the old mint', 'in the evening', 'on Sundays', 'after the works', 'near Saltgate']

/** Sentences for a page, the same for the same name. */
export function sentences(name: string, count = 6): string {
  let state = 2166136261
  for (const character of name) state = Math.imul(state ^ character.codePointAt(0)!, 16777619) >>> 0
  const pick = <Item>(items: readonly Item[]) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return items[Math.floor((state / 2 ** 32) * items.length)]!
  }
  return Array.from(
    { length: count },
    () => `The ${pick(SUBJECTS)} ${pick(DOES)} ${pick(WHERE)}, and the ${pick(SUBJECTS)} ${pick(DOES)} ${pick(WHERE)}.`,
  ).join(' ')
}

/** A page of a site as it is meant to be. */
export const ownPage = (site: SitePages, path: string, title: string): Reply =>
  /\.pdf$/i.test(path)
    ? { status: 200, headers: { 'content-type': 'application/pdf' }, body: `%PDF-1.4\n% ${title}\n%%EOF\n` }
    : page(
        200,
        html(
          site,
          title,
          `<h1>${text(title)}</h1><p>${text(sentences(site.host + path))}</p>`,
          `<meta property="og:title" content="${text(title)}">` +
            `<meta property="og:site_name" content="${text(site.title)}">` +
            `<meta property="og:description" content="${text(sentences(site.host + path, 1))}">`,
        ),
      )

/** A true not-found page. */
export const missing = (site: SitePages, status = 404): Reply =>
  page(status, html(site, 'Page not found', '<h1>Page not found</h1><p>There is no such page here.</p>'))

/** A site that does what it should: its pages, and 404 for what it has not. */
export function wellBehaved(visit: Visit, site: SitePages): Reply {
  const title = site.pages.get(visit.path)
  return title === undefined ? missing(site) : ownPage(site, visit.path, title)
}
