import { gzipSync } from 'node:zlib'
import { html, missing, page, sentences, wellBehaved, type Behaviour } from '../behaviour'

/** Sites that answer, well or oddly. */
export const ANSWERS: readonly Behaviour[] = [
  { name: 'healthy', words: 'answers as it should', answer: wellBehaved },
  {
    name: 'slow',
    words: 'answers after a while',
    answer: (visit, site) => ({ ...wellBehaved(visit, site), afterMs: 700 }),
  },
  { name: 'not-found', words: 'every page is gone (404)', answer: (_visit, site) => missing(site) },
  { name: 'gone', words: 'says it is gone for good (410)', answer: (_visit, site) => missing(site, 410) },
  {
    name: 'disguised',
    words: 'shows its error page with status 200',
    answer: (visit, site) =>
      page(
        200,
        html(
          site,
          'Oops',
          `<h1>Something is missing</h1><p>We looked for <b>${visit.path}</b> everywhere, in vain. ` +
            'Try the search above, or go back to where you came from, please.</p>',
        ),
      ),
  },
  {
    name: 'disguised-in-words',
    words: 'says “page not found” with status 200, and 404 elsewhere',
    answer: (visit, site) => (site.pages.has(visit.path) ? { ...missing(site), status: 200 } : missing(site)),
  },
  {
    name: 'server-error',
    words: 'fails with 500',
    answer: (_visit, site) => page(500, html(site, 'Error', '<h1>Internal error</h1>')),
  },
  {
    name: 'unavailable',
    words: 'fails with 503 and says when to come again',
    answer: (_visit, site) => page(503, html(site, 'Busy', '<h1>Too busy</h1>'), { 'retry-after': '120' }),
  },
  {
    name: 'bursts',
    words: 'fails in bursts: four requests well, four with 502',
    answer: (visit, site) =>
      Math.floor(visit.count / 4) % 2 === 1 ? page(502, html(site, 'Error', 'Bad gateway')) : wellBehaved(visit, site),
  },
  {
    name: 'maintenance',
    words: 'shows a notice of maintenance with status 200',
    answer: (_visit, site) =>
      page(200, html(site, 'Down for maintenance', '<h1>We’ll be back soon</h1><p>Work is under way tonight.</p>')),
  },
  {
    name: 'parked',
    words: 'shows an offer of the domain',
    answer: (visit) =>
      page(
        200,
        `<!doctype html><html><head><title>${visit.host} is for sale</title>` +
          '<script src="//domain-parking.example/p.js">' +
          `</script></head><body><h1>${visit.host}</h1>` +
          '<p>This domain is for sale. Inquire about this domain today.</p>' +
          '<ul><li>Cheap tickets</li><li>Harbour hotels</li></ul></body></html>',
      ),
  },
  {
    name: 'language',
    words: 'changes with the visitor’s language',
    answer: (visit, site) => {
      const german = /^de/i.test(String(visit.headers['accept-language'] ?? ''))
      if (!site.pages.has(visit.path)) return missing(site)
      return page(
        200,
        html(
          site,
          german ? 'Fahrplan' : 'Timetable',
          `<h1>${german ? 'Fahrplan' : 'Timetable'}</h1><p>${sentences(visit.path)}</p>`,
        ),
        { vary: 'Accept-Language' },
      )
    },
  },
  {
    name: 'huge',
    words: 'sends a body of many megabytes',
    answer: (visit, site) =>
      site.pages.has(visit.path)
        ? page(
            200,
            html(site, 'The whole archive', `<h1>Archive</h1><p>${sentences(visit.path, 40)}</p>`) +
              '<p>x</p>'.repeat(600_000),
          )
        : missing(site),
  },
  {
    name: 'bomb',
    words: 'sends a little that unpacks to much of nothing',
    answer: (visit, site) =>
      site.pages.has(visit.path)
        ? page(200, bomb(html(site, 'A small page', `<h1>Small</h1><p>${sentences(visit.path)}</p>`)), {
            'content-encoding': 'gzip',
          })
        : missing(site),
  },
  {
    name: 'framed-out',
    words: 'may not be framed',
    answer: (visit, site) =>
      site.pages.has(visit.path)
        ? page(200, html(site, 'Ours alone', `<h1>Ours alone</h1><p>${sentences(visit.path)}</p>`), {
            'x-frame-options': 'DENY',
          })
        : missing(site),
  },
]

let packed: Buffer | undefined
/** Made once: thirty megabytes of spaces behind a page. */
function bomb(start: string): Buffer {
  packed ??= gzipSync(Buffer.concat([Buffer.from(start), Buffer.alloc(30_000_000, 32)]))
  return packed
}
