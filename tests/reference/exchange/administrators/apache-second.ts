import type { ApacheCase } from '../apache-files'

const raw = String.raw
const SITE = 'https://www.portansel.example'

/** Files for Apache in the manner of people who run a site: the second part. */
export const APACHE_SECOND: ApacheCase[] = [
  {
    name: 'in a folder of the site',
    context: 'folder',
    base: '/tram/',
    text: raw`RewriteEngine On
RewriteRule ^$ ${SITE}/trams [R=301,L]
RewriteRule ^line-(\d+)$ ${SITE}/trams/$1 [R=301,L]
Redirect 302 /tram/depot ${SITE}/depot`,
    asks: ['/tram/', '/tram/line-3', '/tram/depot', '/tram/x'],
    differs: [{ path: /^\/tram$/, told: 1 }],
  },
  {
    name: 'a rule that forbids before others',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^private - [F,L]
RewriteRule ^(.*)/print$ ${SITE}/print/$1 [R=302,L]`,
    asks: ['/a/print', '/private/print', '/private'],
    refused: [2],
    differs: [{ path: /rivate/, told: 2 }],
  },
  {
    name: 'visitors by their program or language',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{HTTP_USER_AGENT} (iPhone|Android) [NC]
RewriteRule ^app$ https://m.portansel.example/app [R=302,L]
RewriteCond %{HTTP:Accept-Language} ^de [NC]
RewriteRule ^welcome$ ${SITE}/de [R=302,L]
RewriteRule ^welcome$ ${SITE}/en [R=302,L]
RewriteRule ^app$ ${SITE}/app [R=302,L]`,
    asks: ['/app', '/welcome'],
    refused: [2, 3, 4, 5],
  },
  {
    name: 'one of two conditions',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{QUERY_STRING} ^a=1$ [OR]
RewriteCond %{QUERY_STRING} ^id=5$
RewriteRule ^pick$ ${SITE}/picked? [R=302,L]
RewriteRule ^pick$ ${SITE}/pick? [R=302,L]`,
    asks: ['/pick'],
    refused: [2, 4],
    differs: [{ path: /^\/pick\?(?:a=1|id=5)$/, told: 4 }],
  },
  {
    name: 'alternatives in brackets',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^(bus|tram|ferry)/timetable$ ${SITE}/plan/$1 [R=301,L]
RewriteRule ^(?:en|de)/fares$ ${SITE}/fares [R=301,L]
RedirectMatch 301 ^/(spring|autumn)-fair$ ${SITE}/events/$1`,
    asks: ['/bus/timetable', '/tram/timetable', '/de/fares', '/spring-fair', '/winter-fair'],
  },
  {
    name: 'a slash at the end or none',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^guide/?$ ${SITE}/guide [R=301,L]
RewriteRule ^shop/$ ${SITE}/shop [R=301,L]
Redirect 302 /club/ ${SITE}/club/
Redirect 302 /cafe ${SITE}/cafe/`,
    asks: ['/guide', '/shop', '/club', '/cafe', '/club/a', '/cafe/menu'],
  },
  {
    name: 'the longer address first',
    context: 'folder',
    text: raw`Redirect 302 /news/archive ${SITE}/archive
Redirect 302 /news ${SITE}/news
Redirect 302 /map ${SITE}/map
Redirect 302 /map/harbour ${SITE}/harbour-map`,
    asks: ['/news', '/news/archive', '/news/archive/2019', '/map', '/map/harbour'],
    refused: [4],
  },
  {
    name: 'rewriting before aliases whatever the order',
    context: 'server',
    text: raw`Redirect 302 /a ${SITE}/by-alias
RewriteEngine On
RewriteRule ^/a$ ${SITE}/by-rewriting [R=302,L]`,
    asks: ['/a', '/a/b'],
    refused: [1],
  },
  {
    name: 'the engine is off',
    context: 'folder',
    text: raw`RewriteEngine Off
RewriteRule ^x$ ${SITE}/x [R=302,L]
Redirect 302 /y ${SITE}/y`,
    asks: ['/x', '/y'],
    refused: [2],
  },
  {
    name: 'long lines and comments',
    context: 'folder',
    text: raw`# printed 2018
RewriteEngine On
RewriteRule ^lost-and-found$ \
  ${SITE}/lost \
  [R=301,L]
   # indented remark
Redirect 302 /x \
  ${SITE}/x`,
    asks: ['/lost-and-found', '/x'],
  },
  {
    name: 'in quotes',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule "^my stop$" "${SITE}/my-stop" [R=301,L]
Redirect 302 "/open day" "${SITE}/open-day"
RewriteRule ^a\ b$ ${SITE}/ab [R=301,L]`,
    asks: ['/my%20stop', '/open%20day', '/a%20b'],
  },
  {
    name: 'HTTPS for everybody',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{HTTPS} off
RewriteCond %{QUERY_STRING} ^never=1$
RewriteRule ^(.*)$ https://%{HTTP_HOST}/$1 [R=301,L]
RewriteRule ^x$ ${SITE}/x [R=302,L]`,
    asks: ['/x'],
    refused: [2, 4],
  },
  {
    name: 'sections for some addresses',
    context: 'server',
    text: raw`<Location /intern>
  Redirect 302 ${SITE}/intern
</Location>
<LocationMatch "^/x/">
  RewriteEngine On
</LocationMatch>
Redirect 302 /open ${SITE}/open`,
    asks: ['/open', '/intern', '/intern/a'],
    refused: [2, 5],
    differs: [{ path: /ntern/, told: 2 }],
  },
  {
    name: 'a section asked by an expression',
    context: 'folder',
    text: raw`<If "%{QUERY_STRING} =~ /lang=en/">
  Redirect 302 /hello ${SITE}/en/hello
</If>
Redirect 302 /bye ${SITE}/bye`,
    asks: ['/hello', '/bye'],
    refused: [2],
    differs: [{ path: /^\/hello.*lang=en/, told: 2 }],
  },
  {
    name: 'numbered groups side by side',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^go/(\w+)/(\w+)/(\d+)$ ${SITE}/$3/$2-$1 [R=302,L]
RewriteRule ^dollar$ ${SITE}/cost\$5 [R=302,L]
RewriteRule ^none/(\w+)$ ${SITE}/$2/$1 [R=302,L]`,
    asks: ['/go/a/b/3', '/dollar', '/none/x'],
  },
  {
    name: 'what has no anchors',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule winter ${SITE}/winter [R=302,L]
RewriteRule ^snow ${SITE}/snow [R=302,L]
RewriteRule ice$ ${SITE}/ice [R=302,L]`,
    asks: ['/winter', '/a/winter/b', '/snow', '/snowfall', '/ice', '/nice', '/ices'],
  },
  {
    name: 'a chain within the file',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^old/(.*)$ new/$1
RewriteRule ^new/(.*)$ ${SITE}/new/$1 [R=301,L]`,
    asks: ['/old/a', '/new/a'],
    refused: [2],
    differs: [{ path: /ld\//, told: 2 }],
  },
  {
    name: 'the environment and cookies',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^kiosk$ ${SITE}/kiosk [R=302,L,E=from:kiosk]
RewriteRule ^cookie$ ${SITE}/cookie [CO=seen:1:.portansel.example,R=302,L]
RewriteRule ^plain$ ${SITE}/plain [R=302,L]`,
    asks: ['/kiosk', '/cookie', '/plain'],
  },
  {
    name: 'other statuses',
    context: 'folder',
    text: raw`Redirect 303 /thanks ${SITE}/thanks
Redirect 307 /form ${SITE}/form
Redirect 308 /api ${SITE}/api
RewriteEngine On
RewriteRule ^seeother$ ${SITE}/see [R=seeother,L]
RewriteRule ^perm$ ${SITE}/perm [R=permanent,L]
Redirect 404 /hidden
RewriteRule ^teapot$ - [R=403]`,
    asks: ['/thanks', '/form', '/api', '/seeother', '/perm', '/hidden', '/teapot'],
    refused: [7, 8],
  },
  {
    name: 'percent signs and other letters',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^100%25$ ${SITE}/hundred [R=302,L]
RewriteRule ^caf\xc3\xa9$ ${SITE}/cafe [R=302,L]
RewriteRule ^tag/(.+)$ ${SITE}/t/$1 [R=302,L]
RewriteRule ^tag-ne/(.+)$ ${SITE}/t/$1 [R=302,NE,L]`,
    asks: ['/100%25', '/caf%C3%A9', '/tag/a%20b', '/tag/a+b', '/tag-ne/a%20b', '/tag/q%22uote'],
    refused: [3],
    differs: [
      { path: /af%C3%A9/, told: 3 },
      { path: /ag-ne/, told: 5 },
      { path: /%2b/, told: 1 },
    ],
  },
]
