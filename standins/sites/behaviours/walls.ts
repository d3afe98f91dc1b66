import { goTo, html, missing, ownPage, page, type Behaviour } from '../behaviour'

const form = (action: string) =>
  `<h1>Sign in</h1><form method="post" action="${action}"><label>Name <input name="n"></label>` +
  '<label>Password <input type="password" name="p"></label><button>Sign in</button></form>'

/** Sites that do not let everybody in. */
export const WALLS: readonly Behaviour[] = [
  {
    name: 'sign-in-form',
    words: 'sends to a sign-in form of its own',
    answer: (visit, site) =>
      visit.path === '/login'
        ? page(200, html(site, 'Sign in', form('/login')))
        : goTo(302, `/login?next=${visit.path}`),
  },
  {
    name: 'sign-in-host',
    words: 'sends to the host where people sign in',
    answer: (visit) => goTo(302, `https://login.${visit.host.split('.').slice(1).join('.')}/start?for=${visit.host}`),
  },
  {
    name: 'soft-sign-in',
    words: 'shows its sign-in form in place of every page, with status 200',
    answer: (_visit, site) => page(200, html(site, 'Log in', form('https://accounts.sites.example/check'))),
  },
  {
    name: 'http-authentication',
    words: 'asks for HTTP credentials',
    answer: (_visit, site) =>
      page(401, html(site, 'Sign in first', '<h1>401</h1>'), {
        'www-authenticate': 'Basic realm="Staff pages", charset="UTF-8"',
      }),
  },
  {
    name: 'ask-access',
    words: 'answers 200 and says to ask for access',
    answer: (visit, site) =>
      site.pages.has(visit.path)
        ? page(
            200,
            html(
              site,
              'You need access',
              '<h1>You need access</h1><p>Ask for access, or switch to an account with access.</p>' +
                '<button>Request access</button>',
            ),
          )
        : missing(site),
  },
  {
    name: 'robot-wall',
    words: 'refuses what looks like a robot (403)',
    answer: (visit, site) =>
      /Fides/.test(String(visit.headers['user-agent']))
        ? page(403, html(site, 'Access denied', '<h1>Access denied</h1><p>Reference 18.2f</p>'))
        : ownPage(site, visit.path, 'A page for people'),
  },
  {
    name: 'challenge',
    words: 'puts a riddle before the page, with status 200',
    answer: () =>
      page(
        200,
        '<html><head><title>Just a moment...</title></head><body>Checking your browser before you go on.</body></html>',
      ),
  },
  {
    name: 'too-many',
    words: 'answers 429 and says how long to wait',
    answer: (_visit, site) =>
      page(429, html(site, 'Slow down', '<h1>Too many requests</h1>'), { 'retry-after': '3600' }),
  },
  {
    name: 'legal',
    words: 'is unavailable for legal reasons (451)',
    answer: (_visit, site) => page(451, html(site, 'Not shown here', '<h1>Not shown here</h1>')),
  },
]
