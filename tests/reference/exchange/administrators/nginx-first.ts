import type { NginxCase } from '../nginx-files'

const raw = String.raw
const SITE = 'https://www.portansel.example'

/** A case that names the lines which are told as not imported, counted in the text of its server. */
export type NginxFile = Omit<NginxCase, 'refused'> & { refused?: number[] }

/** Files for nginx in the manner of people who run a site: the first part. */
export const NGINX_FIRST: NginxFile[] = [
  {
    name: 'prefixes out of order',
    text: raw`location /pre { return 302 ${SITE}/a; }
location /pre/deeper { return 302 ${SITE}/b; }
location ~ ^/aa/(.*)$ { return 301 ${SITE}/c/$1; }
location ^~ /aa/stop { return 301 ${SITE}/d; }`,
    asks: ['/pre', '/pre/deeper', '/aa/x', '/aa/stop', '/aa/stop/b', '/predeeper'],
    differs: [{ path: /%20/, told: /decoded/ }],
  },
  {
    name: 'exact beats everything',
    text: raw`location ~ ^/fares { return 302 ${SITE}/by-expression; }
location /fares/day { return 302 ${SITE}/by-prefix; }
location = /fares/day { return 302 ${SITE}/exact; }
location / { return 301 ${SITE}/; }`,
    asks: ['/fares', '/fares/day', '/fares/day/x', '/z'],
  },
  {
    name: 'expressions in their order',
    text: raw`location ~ \.html$ { return 301 ${SITE}/html; }
location ~ ^/guide/(.+)\.html$ { return 301 ${SITE}/guide/$1; }
location ~* ^/IMG/(.+)$ { return 302 ${SITE}/img/$1; }`,
    asks: ['/a.html', '/guide/b.html', '/img/c', '/IMG/c.html'],
    differs: [{ path: /%20/, told: /decoded/ }],
  },
  {
    name: 'a literal expression behind a shut prefix',
    text: raw`location ~ ^/night/bus$ { return 302 ${SITE}/by-expression; }
location ^~ /night/ { return 302 ${SITE}/night; }`,
    asks: ['/night/bus', '/night/tram', '/night'],
    refused: [1],
  },
  {
    name: 'shut prefix with a longer one inside',
    text: raw`location ^~ /map/ { return 302 ${SITE}/map; }
location /map/harbour { return 302 ${SITE}/harbour; }
location ~ /x$ { return 302 ${SITE}/x; }`,
    asks: ['/map/a', '/map/harbour', '/map/harbour/x', '/map/x', '/y/x'],
    refused: [1],
    differs: [{ path: /ap\/(?!harbour)/, told: /within/ }],
  },
  {
    name: 'a map of the whole request',
    beside: raw`map $request_uri $moved {
  default "";
  /page.php?id=5 ${SITE}/five;
  /page.php?id=50 ${SITE}/fifty;
  /plain ${SITE}/plain; }`,
    text: 'if ($moved) { return 301 $moved; }',
    asks: ['/page.php', '/plain'],
    differs: [{ path: /%|\/\.\.?\/|plain\?/, told: /as it was sent/ }],
  },
  {
    name: 'a map with expressions over the whole request',
    beside: raw`map $request_uri $moved {
  ~^/tram/(?<line>\d+)$ ${SITE}/trams/$line;
  ~^/bus/ ${SITE}/buses; }`,
    text: 'if ($moved) { return 302 $moved; }',
    asks: ['/tram/4', '/bus/7'],
    differs: [{ path: /%|\/\.\.?\//, told: /as it was sent/ }],
  },
  {
    name: 'a map that ends with a default',
    beside: raw`map $uri $moved {
  default ${SITE}/;
  /fares ${SITE}/fares;
  /Lost ${SITE}/lost; }`,
    text: 'return 302 $moved;',
    asks: ['/fares', '/lost', '/other'],
  },
  {
    name: 'keeping the query',
    text: raw`location = /a { return 302 ${SITE}/a?$args; }
location = /b { return 302 ${SITE}/b$is_args$args; }
location = /c { return 302 ${SITE}/c?x=1&$args; }
location /d/ { rewrite ^/d/(.*)$ ${SITE}/$1 redirect; }
location /e/ { rewrite ^/e/(.*)$ ${SITE}/$1? redirect; }`,
    asks: ['/a', '/b', '/c', '/d/x', '/e/x'],
    differs: [
      { path: /^[^?]*(?:a|%61)$/i, told: /“\?”/ },
      { path: /^[^?]*(?:c|%63)$/i, told: /“[?&]”/ },
    ],
  },
  {
    name: 'only over TLS',
    text: raw`if ($scheme = http) { return 301 https://$host$request_uri; }
location = /x { return 302 ${SITE}/x; }`,
    asks: ['/x'],
    refused: [1],
    differs: [{ path: /./, told: /TLS/ }],
  },
  {
    name: 'relative targets',
    text: raw`absolute_redirect off;
location = /old { return 301 /new; }
location = /older { rewrite ^ /newer permanent; }
location /dir/ { return 302 /other/; }`,
    asks: ['/old', '/older', '/dir/a'],
    refused: [1],
    differs: [
      { path: /ld/, told: /HTTPS/ },
      { path: /ir\//, told: /HTTPS/ },
    ],
  },
  {
    name: 'files and redirects side by side',
    text: raw`root /nowhere;
location / { try_files $uri $uri/ =404; }
location = /moved { return 301 ${SITE}/moved; }
location /static/ { expires 30d; }
location ~ ^/p/(\d+)$ { return 302 ${SITE}/p?nr=$1; }`,
    asks: ['/moved', '/static/a', '/p/5', '/x'],
    refused: [2, 4],
  },
  {
    name: 'a proxy in between',
    text: raw`location /api/ { proxy_pass http://127.0.0.1:9; }
location = /app { return 302 ${SITE}/app; }
location ~ ^/app/(.*)$ { return 302 ${SITE}/app/$1; }`,
    asks: ['/app', '/app/ios'],
    differs: [{ path: /%20/, told: /decoded/ }],
    refused: [1],
  },
  {
    name: 'gone',
    text: raw`location = /closed { return 410; }
location /closed-for-good/ { return 410; }
location ~ ^/2014/ { return 410; }
location = /forbidden { return 403; }
location = /nothing { return 404; }
location = /ok { return 200 "ok"; }`,
    asks: ['/closed', '/closed-for-good/a', '/2014/x', '/forbidden', '/nothing', '/ok'],
    refused: [2, 3, 4, 5, 6],
    differs: [
      { path: /losed-for-good\//, told: /gone/ },
      { path: /014\//, told: /gone/ },
    ],
  },
  {
    name: 'locations within locations',
    text: raw`location /tickets/ {
  location /tickets/day { return 302 ${SITE}/day; }
  return 302 ${SITE}/tickets;
}`,
    asks: ['/tickets/day', '/tickets/x'],
    refused: [2],
    differs: [{ path: /ickets\/day/, told: /location/ }],
  },
  {
    name: 'rewriting with flags',
    text: raw`rewrite ^/in/(.*)$ /out/$1 last;
rewrite ^/br/(.*)$ /bro/$1 break;
rewrite ^/pa/(.*)$ ${SITE}/pa/$1 permanent;
rewrite (?i)^/CAPS$ ${SITE}/caps redirect;`,
    asks: ['/in/a', '/br/a', '/pa/b', '/caps', '/Caps'],
    refused: [1, 2],
  },
  {
    name: 'rewriting in the server before locations',
    text: raw`location = /x { return 302 ${SITE}/location; }
rewrite ^/x$ ${SITE}/rewritten redirect;
location /y { return 302 ${SITE}/y; }`,
    asks: ['/x', '/y'],
    refused: [1],
  },
  {
    name: 'several maps',
    beside: raw`map $uri $moved_pages { /a ${SITE}/pages/a; /b ${SITE}/pages/b; }
map $uri $moved_news { /b ${SITE}/news/b; /c ${SITE}/news/c; }`,
    text: 'if ($moved_pages) { return 301 $moved_pages; }\nif ($moved_news) { return 302 $moved_news; }',
    asks: ['/a', '/b', '/c'],
  },
  {
    name: 'blanks and letters',
    text: raw`location = "/open day" { return 302 ${SITE}/open-day; }
location = /grün { return 302 ${SITE}/green; }
location = /plus+sign { return 302 ${SITE}/plus; }
location /tag/ { rewrite ^/tag/(.+)$ ${SITE}/t/$1 redirect; }
location ~ ^/ret/(.+)$ { return 302 ${SITE}/r/$1; }`,
    asks: ['/open%20day', '/gr%C3%BCn', '/gr%c3%bcn', '/plus+sign', '/plus%2Bsign', '/tag/a%20b', '/ret/x+y'],
    differs: [
      { path: /%2B/i, told: /decodes/ },
      { path: /ret\/.*%20/, told: /decoded/ },
    ],
  },
  {
    name: 'no query in a return',
    text: raw`location = /q { return 301 ${SITE}/q?from=poster; }
location = /frag { return 301 ${SITE}/page#part; }
location = /both { return 301 ${SITE}/page?a=b#part; }
location = /plain { return 301 ${SITE}/plain; }`,
    asks: ['/q', '/frag', '/both', '/plain'],
  },
]
