import type { NginxFile } from './nginx-first'

const raw = String.raw
const SITE = 'https://www.portansel.example'

/** Files for nginx in the manner of people who run a site: the third part, written after the reader was finished. */
export const NGINX_THIRD: NginxFile[] = [
  {
    name: 'posters of a season',
    text: raw`location = /summer { return 302 ${SITE}/summer?utm_source=poster; }
location = /regatta { return 302 ${SITE}/events/regatta#boats; }
location = /t { return 301 ${SITE}/timetable; }
location = /T { return 301 ${SITE}/tickets; }`,
    asks: ['/summer', '/regatta', '/t', '/T'],
  },
  {
    name: 'language folders',
    text: raw`location ~ ^/(en|de)/?$ { return 302 ${SITE}/$1/; }
location ~ ^/(en|de)/(tickets|fares)$ { return 302 ${SITE}/$1/$2; }
location ^~ /en/help { return 302 ${SITE}/help; }`,
    asks: ['/en', '/de/', '/en/tickets', '/de/fares', '/en/help', '/en/help/me', '/fr'],
  },
  {
    name: 'numbers of exact lengths',
    text: raw`location ~ "^/(\d{4})$" { return 302 ${SITE}/stops/$1; }
location ~ "^/([A-Z]{2})(\d+)$" { return 302 ${SITE}/v/$1-$2; }`,
    asks: ['/4417', '/44170', '/AB12', '/ab12'],
  },
  {
    name: 'an archive by year',
    text: raw`location /archive/ { return 301 ${SITE}/archive; }
location /archive/2019/ { return 301 ${SITE}/2019; }
location ~ ^/archive/(\d+)/map$ { return 301 ${SITE}/maps/$1; }
location = /archive/2019/map { return 301 ${SITE}/map-2019; }`,
    asks: ['/archive/a', '/archive/2019/', '/archive/2018/map', '/archive/2019/map', '/archive'],
  },
  {
    name: 'a map of moved pages and a rest',
    beside: raw`map $uri $moved {
  /about.html ${SITE}/about;
  /team.html ${SITE}/about/team;
  /team.html/ ${SITE}/about/team/; }`,
    text: raw`if ($moved) { return 301 $moved; }
location ~ ^/(\w+)\.html$ { return 302 ${SITE}/$1; }`,
    asks: ['/about.html', '/team.html', '/other.html'],
  },
  {
    name: 'a map of old numbers in the query',
    beside: raw`map $request_uri $moved {
  ~^/page\.php\?id=5$ ${SITE}/five;
  ~^/page\.php\?id=(\d+)&a=1$ ${SITE}/$1;
  ~^/news/([^/]+)$ ${SITE}/n/$1;
  ~^/docs/(.*)$ ${SITE}/d/$1; }`,
    text: 'if ($moved) { return 302 $moved; }',
    asks: ['/page.php', '/news/a', '/docs/b'],
    // Counted before the server: rows of the map.
    refused: [-3, -2, -1],
    differs: [{ path: /%|\/\.\.?\/|id=5|news|docs|NEWS/, told: /as it was sent|one text/ }],
  },
  {
    name: 'rewriting in a location below its prefix',
    text: raw`location /bus/ {
  rewrite ^/bus/line/(\d+)$ ${SITE}/lines/$1 permanent;
  rewrite ^/bus/stop/(\d+)$ ${SITE}/stops/$1? permanent;
  return 404;
}
location /tram/ { rewrite ^ ${SITE}/trams permanent; }`,
    asks: ['/bus/line/4', '/bus/stop/5', '/bus/x', '/tram/a'],
    refused: [4],
  },
  {
    name: 'conditions on the host',
    text: raw`if ($host = www.portansel.example) { return 301 https://portansel.example$request_uri; }
location = /x { return 302 ${SITE}/x; }`,
    asks: ['/x'],
    refused: [1],
  },
  {
    name: 'conditions on the method',
    text: raw`if ($request_method = POST) { return 405; }
location = /form { return 302 ${SITE}/form; }`,
    asks: ['/form'],
    refused: [1],
  },
  {
    name: 'visitors by their program',
    text: raw`if ($http_user_agent ~* (iphone|android)) { return 302 https://m.portansel.example/; }
location = /app { return 302 ${SITE}/app; }`,
    asks: ['/app'],
    refused: [1],
  },
  {
    name: 'everything else to the new site',
    text: raw`location = /robots.txt { return 200 "User-agent: *"; }
location ^~ /.well-known/ { return 404; }
location / { return 301 ${SITE}$uri$is_args$args; }`,
    asks: ['/robots.txt', '/.well-known/x', '/a/b'],
    refused: [1, 2],
    differs: [
      { path: /obots\.txt(?:$|\?)/, told: /answers 200/ },
      { path: /%20$/, told: /as it was asked|decodes/ },
    ],
  },
  {
    name: 'a default server of a file with two',
    beside: raw`server { listen 127.0.0.1:${'${PORT}'}; server_name second.example; return 302 ${SITE}/second; }`,
    text: raw`location = /s { return 302 ${SITE}/first; }
location = /only { return 302 ${SITE}/only; }`,
    asks: ['/s', '/only'],
    refused: [-1],
  },
  {
    name: 'quotes within quotes',
    text: raw`location = "/say \"hi\"" { return 302 ${SITE}/hi; }
location = '/it is' { return 302 "${SITE}/it-is"; }
location ~ "^/a b/(\d+)$" { return 302 "${SITE}/ab/$1"; }`,
    asks: ['/say%20%22hi%22', '/it%20is', '/a%20b/5'],
  },
  {
    name: 'optional parts',
    text: raw`location ~ ^/stop(?:s)?/(\d+)(?:/(in|out))?$ { return 302 ${SITE}/s/$1/$2; }
location ~ ^/zone-?([a-c])$ { return 302 ${SITE}/z/$1; }`,
    asks: ['/stop/4', '/stops/4/in', '/zone-a', '/zoneb', '/zone-d'],
  },
  {
    name: 'capitals in an expression',
    text: raw`location ~* ^/harbour$ { return 302 ${SITE}/harbour; }
location ~* ^/pier/([a-z]+)$ { return 302 ${SITE}/pier/$1; }
location ~ (?i)^/dock$ { return 302 ${SITE}/dock; }`,
    asks: ['/harbour', '/Harbour', '/pier/one', '/PIER/One', '/dock', '/Dock'],
  },
  {
    name: 'what has no anchors',
    text: raw`location ~ winter { return 302 ${SITE}/winter; }
location ~ ^/snow { return 302 ${SITE}/snow; }
location ~ ice$ { return 302 ${SITE}/ice; }`,
    asks: ['/winter', '/a/winter/b', '/snow', '/snowfall', '/ice', '/nice', '/ices'],
  },
  {
    name: 'a server that redirects whole',
    text: raw`return 301 ${SITE}/moved;
location = /x { return 302 ${SITE}/x; }`,
    asks: ['/x', '/y'],
    refused: [2],
  },
  {
    name: 'included snippets',
    text: 'include ${FILES}/posters.inc;\nlocation = /own { return 302 https://www.portansel.example/own; }',
    files: { 'posters.inc': 'location = /inc { return 302 https://www.portansel.example/inc; }\n' },
    asks: ['/inc', '/own'],
  },
  {
    name: 'a rewrite that goes on',
    text: raw`rewrite ^/old/(.*)$ /new/$1;
rewrite ^/new/(.*)$ ${SITE}/new/$1 redirect;`,
    asks: ['/old/a', '/new/a'],
    refused: [1],
    differs: [{ path: /ld\//, told: /another internal path/ }],
  },
  {
    name: 'letters of other languages',
    text: raw`location = /für-alle { return 302 ${SITE}/all; }
location ~ ^/straße/(\d+)$ { return 302 ${SITE}/streets/$1; }
location /größe/ { return 302 ${SITE}/size; }`,
    asks: ['/f%C3%BCr-alle', '/stra%C3%9Fe/5', '/gr%C3%B6%C3%9Fe/a'],
  },
]
