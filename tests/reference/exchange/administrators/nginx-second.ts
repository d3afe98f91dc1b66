import type { NginxFile } from './nginx-first'

const raw = String.raw
const SITE = 'https://www.portansel.example'

/** Files for nginx in the manner of people who run a site: the second part. */
export const NGINX_SECOND: NginxFile[] = [
  {
    name: 'the short form',
    text: raw`location = /a { return ${SITE}/a; }
location /b/ { return ${SITE}/b/; }
location ~ ^/c(\d)$ { return ${SITE}/c?nr=$1; }`,
    asks: ['/a', '/b/x', '/c5'],
  },
  {
    name: 'conditions on the query',
    text: raw`if ($arg_id = 5) { return 302 ${SITE}/five; }
if ($args ~ "id=50") { return 302 ${SITE}/fifty; }
location = /x { return 302 ${SITE}/x; }`,
    asks: ['/x'],
    refused: [1, 2],
    differs: [
      { path: /id=5(?!0)/, told: /condition/ },
      { path: /id=50/, told: /condition/ },
    ],
  },
  {
    name: 'endings of files',
    text: raw`location ~* \.(php|asp|jsp)$ { return 301 ${SITE}/old-pages; }
location ~ ^/docs/(.+)\.pdf$ { return 302 ${SITE}/pdf/$1; }
location = /index.html { return 301 ${SITE}/; }`,
    asks: ['/a.php', '/b.ASP', '/docs/fares.pdf', '/index.html', '/docs/fares.pdf.php'],
  },
  {
    name: 'what is not found goes elsewhere',
    text: raw`error_page 404 = @elsewhere;
location @elsewhere { return 302 ${SITE}/404; }
location = /known { return 302 ${SITE}/known; }`,
    asks: ['/known'],
    refused: [1],
    differs: [{ path: /./, told: /error_page/ }],
  },
  {
    name: 'variables of one’s own',
    text: raw`set $base ${SITE};
location = /set { return 302 $base/set; }
location = /plain { return 302 ${SITE}/plain; }`,
    asks: ['/set', '/plain'],
    refused: [1, 2],
    differs: [{ path: /(?:s|%73)et/, told: /base/ }],
  },
  {
    name: 'the host written as a variable',
    text: raw`location = /home { return 302 https://www.$host/home; }
location /keep/ { return 301 https://archive.portansel.example$uri; }
location /whole/ { return 301 https://archive.portansel.example$request_uri; }`,
    asks: ['/home', '/keep/a', '/whole/a'],
    differs: [{ path: /%|\.\//, told: /as it was asked/ }],
  },
  {
    name: 'names of captures',
    text: raw`location ~ ^/(?<lang>en|de)/stops/(?<stop>\d+)$ { return 302 ${SITE}/$lang/s/$stop; }
location ~ ^/(en|de)/lines/(?<line>\w+)$ { return 302 ${SITE}/$1/l/$line; }`,
    asks: ['/en/stops/4', '/de/lines/7a', '/fr/stops/4'],
  },
  {
    name: 'the whole site but one page',
    text: raw`location = /status { return 302 ${SITE}/status; }
location / { return 301 ${SITE}$request_uri; }`,
    asks: ['/status', '/a/b', '/'],
    differs: [{ path: /%|\.\/|\/\.$/, told: /as it was asked/ }],
  },
  {
    name: 'a slash at the end or none',
    text: raw`location = /guide { return 301 ${SITE}/guide; }
location = /guide/ { return 301 ${SITE}/guide/; }
location ~ ^/shop/?$ { return 301 ${SITE}/shop; }
location /club { return 301 ${SITE}/club; }`,
    asks: ['/guide', '/guide/', '/shop', '/club', '/clubhouse'],
  },
  {
    name: 'rewriting keeps or drops the query',
    text: raw`rewrite ^/keep$ ${SITE}/keep permanent;
rewrite ^/drop$ ${SITE}/drop? permanent;
rewrite ^/both$ ${SITE}/both?x=1 permanent;
rewrite ^/nr/(\d+)$ ${SITE}/nr?id=$1 redirect;
rewrite ^/nr2/(\d+)$ ${SITE}/nr?id=$1? redirect;`,
    asks: ['/keep', '/drop', '/both', '/nr/5', '/nr2/5'],
  },
  {
    name: 'a map with defaults and folds',
    beside: raw`map $uri $moved {
  default ${SITE}/start;
  /Fares ${SITE}/fares;
  ~*^/ZONES/(?<zone>\w)$ ${SITE}/zones/$zone;
  ~^/old/(.+)$ ${SITE}/new/$1; }`,
    text: 'location = /keep { return 302 https://keep.example/; }\nlocation / { return 302 $moved; }',
    asks: ['/fares', '/zones/a', '/old/x', '/keep', '/other'],
    differs: [{ path: /ld\/.*%20|old\/x /, told: /decode/ }],
  },
  {
    name: 'a map asked within a location',
    beside: raw`map $uri $moved { /m/a ${SITE}/a; /m/b ${SITE}/b; }`,
    text: 'location /m/ { if ($moved) { return 302 $moved; } return 302 https://rest.example/; }',
    asks: ['/m/a', '/m/b', '/m/c'],
    refused: [1],
    differs: [{ path: /\/(?:m|%6d)\/[ab](?:$|\?)/i, told: /map/ }],
  },
  {
    name: 'comments and odd layout',
    text: raw`# printed in 2019
location = /one
{
  return 302
    "${SITE}/one";   # quoted
}
location = /two{return 302 ${SITE}/two;}`,
    asks: ['/one', '/two'],
  },
  {
    name: 'other statuses',
    text: raw`location = /see { return 303 ${SITE}/see; }
location = /temp { return 307 ${SITE}/temp; }
location = /perm { return 308 ${SITE}/perm; }
location = /odd { return 444; }
location = /teapot { return 418 "no"; }`,
    asks: ['/see', '/temp', '/perm', '/teapot'],
    refused: [4, 5],
  },
  {
    name: 'limits and headers beside redirects',
    text: raw`client_max_body_size 1m;
add_header X-Robots-Tag noindex;
location = /h { add_header Cache-Control no-store; return 302 ${SITE}/h; }
location /intern/ { deny all; return 302 ${SITE}/intern; }`,
    asks: ['/h', '/intern/a'],
    refused: [1, 4],
  },
  {
    name: 'look-ahead and back-references',
    text: raw`location ~ ^/(?!admin)(\w+)/short$ { return 302 ${SITE}/s/$1; }
location ~ ^/(\w)\1$ { return 302 ${SITE}/twice; }
location ~ ^/fine/(\w+)$ { return 302 ${SITE}/f/$1; }`,
    asks: ['/a/short', '/admin/short', '/aa', '/fine/x'],
    refused: [1, 2],
    differs: [
      { path: /short$|short\?/, told: /look-ahead/ },
      { path: /^\/(?:aa|\.\/aa|a\/\.\.\/aa|%61a|AA|aa\?.*)/, told: /back-reference/ },
    ],
  },
  {
    name: 'prefixes inside each other',
    text: raw`location /a { return 302 ${SITE}/1; }
location /a/b { return 302 ${SITE}/2; }
location /a/b/c { return 302 ${SITE}/3; }
location /a/b/c/d { return 302 ${SITE}/4; }
location /ab { return 302 ${SITE}/5; }`,
    asks: ['/a', '/a/b', '/a/b/c', '/a/b/c/d', '/ab', '/abc', '/a/bc'],
  },
  {
    name: 'shut prefixes inside each other',
    text: raw`location ^~ /s { return 302 ${SITE}/1; }
location ^~ /s/long { return 302 ${SITE}/2; }
location ~ long { return 302 ${SITE}/3; }
location /t/long { return 302 ${SITE}/4; }`,
    asks: ['/s', '/s/long', '/s/longer', '/t/long', '/long'],
  },
  {
    name: 'two rewrites of one address',
    text: raw`rewrite ^/two$ ${SITE}/first redirect;
rewrite ^/two$ ${SITE}/second redirect;
rewrite ^/t ${SITE}/third redirect;`,
    asks: ['/two', '/three', '/t'],
    refused: [2],
  },
  {
    name: 'a host of one’s own with a port',
    text: raw`location = /port { return 302 http://www.portansel.example:8080/p; }
location = /plain { return 302 http://www.portansel.example/p; }
location = /app { return 302 transit://stop/5; }`,
    asks: ['/port', '/plain', '/app'],
    refused: [3],
    differs: [{ path: /pp(?:$|\?)/, told: /./ }],
  },
]
