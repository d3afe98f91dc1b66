import {
  goTo,
  html,
  missing,
  ownPage,
  page,
  wellBehaved,
  type Behaviour,
  type Visit,
  type SitePages,
  type Reply,
} from '../behaviour'

/** A site whose old pages lead to the same path below `/new`. */
const moved = (status: number): Behaviour => ({
  name: `moved-${status}`,
  words: `sends its pages on with ${status}`,
  answer: (visit, site) =>
    visit.path.startsWith('/new/')
      ? wellBehaved({ ...visit, path: visit.path.slice(4) }, site)
      : site.pages.has(visit.path)
        ? goTo(status, `/new${visit.path}${visit.query}`)
        : missing(site),
})

const onlyPages = (answer: (visit: Visit, site: SitePages) => Reply) => (visit: Visit, site: SitePages) =>
  site.pages.has(visit.path) ? answer(visit, site) : missing(site)

/** Sites that send visitors on. */
export const WAYS: readonly Behaviour[] = [
  ...[301, 302, 303, 307, 308].map(moved),
  {
    name: 'meta-refresh',
    words: 'sends on by a meta refresh',
    answer: (visit, site) =>
      visit.path === '/arrived'
        ? page(200, html(site, 'Arrived', '<h1>Arrived</h1><p>This is where the refresh leads.</p>'))
        : onlyPages(() =>
            page(
              200,
              '<html><head><meta http-equiv="refresh" content="0; url=/arrived"><title>…</title></head></html>',
            ),
          )(visit, site),
  },
  {
    name: 'script-move',
    words: 'sends on by a script, twice',
    answer: (visit, site) =>
      visit.path === '/arrived'
        ? page(200, html(site, 'Arrived', '<h1>Arrived</h1><p>This is where the script leads.</p>'))
        : visit.path === '/half-way'
          ? page(200, '<html><script>location.replace("/arrived")</script><body>One moment</body></html>')
          : onlyPages(() =>
              page(200, '<html><script>window.location.href = "/half-way";</script><body>…</body></html>'),
            )(visit, site),
  },
  {
    name: 'loop',
    words: 'sends back and forth between two addresses',
    answer: ({ path }) => goTo(302, path.endsWith('/back') ? path.slice(0, -5) : `${path}/back`),
  },
  {
    name: 'endless',
    words: 'sends on and on, each time elsewhere',
    answer: (visit) => goTo(301, `/step/${Number(/\d+$/.exec(visit.path)?.[0] ?? 0) + 1}`),
  },
  {
    name: 'front-page',
    words: 'sends every deep page to its front page',
    answer: (visit, site) => (visit.path === '/' ? wellBehaved(visit, site) : goTo(302, '/')),
  },
  {
    name: 'downgrade',
    words: 'sends from https to http',
    answer: (visit, site) =>
      visit.secure ? goTo(302, `http://${visit.host}${visit.path}${visit.query}`) : wellBehaved(visit, site),
  },
  {
    name: 'parameters-dropped',
    words: 'loses the query at its second redirect',
    answer: ({ path, query, ...visit }, site) =>
      path.endsWith('/via')
        ? goTo(302, `${path.slice(0, -4)}/end`)
        : path.endsWith('/end')
          ? ownPage(site, path, site.pages.get(path.slice(0, -4) || '/') ?? site.title)
          : site.pages.has(path)
            ? goTo(302, `${path === '/' ? '' : path}/via${query}`)
            : wellBehaved({ ...visit, path, query }, site),
  },
  {
    name: 'parameters-in-path',
    words: 'makes a parameter a part of the path',
    answer: (visit, site) => {
      const id = new URLSearchParams(visit.query).get('id')
      if (/^\/items\/\w+$/.test(visit.path))
        return page(200, html(site, `Item ${visit.path}`, '<h1>An item</h1><p>It is here, and it is well.</p>'))
      return id ? goTo(302, `/items/${id}`) : missing(site)
    },
  },
  {
    name: 'cookies-demanded',
    words: 'sends round until its cookie comes back',
    answer: (visit, site) =>
      String(visit.headers.cookie ?? '').includes('seen=1')
        ? wellBehaved(visit, site)
        : goTo(302, visit.path + visit.query, { 'set-cookie': 'seen=1; Path=/' }),
  },
  { name: 'bad-location', words: 'sends to what is no address', answer: () => goTo(302, 'http://[not-an-address/') },
  { name: 'no-location', words: 'answers 302 and says not where to', answer: () => ({ status: 302 }) },
  {
    name: 'to-private',
    words: 'sends to an address in a private network',
    answer: () => goTo(302, 'http://10.20.30.40/inside'),
  },
  { name: 'to-loopback', words: 'sends to this very machine', answer: () => goTo(302, 'http://127.0.0.1:9/') },
  { name: 'to-app', words: 'hands visitors to an app', answer: () => goTo(302, 'transit-app://open?line=7') },
]
