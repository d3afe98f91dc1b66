import type { ApacheCase } from '../apache-files'

const raw = String.raw
const SITE = 'https://www.portansel.example'

/** Files for Apache in the manner of people who run a site: the third part, written after the reader was finished. */
export const APACHE_THIRD: ApacheCase[] = [
  {
    name: 'language folders',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^(en|de|fr)/?$ ${SITE}/$1/ [R=302,L]
RewriteRule ^(en|de|fr)/tickets(?:/(.*))?$ ${SITE}/$1/buy/$2 [R=302,L]`,
    asks: ['/en', '/de/', '/fr/tickets', '/en/tickets/day', '/it'],
  },
  {
    name: 'dates of a news archive',
    context: 'folder',
    text: raw`RedirectMatch permanent ^/news/([0-9]{4})/([0-9]{2})/?$ ${SITE}/archive?y=$1&m=$2
RedirectMatch permanent ^/news/([0-9]{4})/?$ ${SITE}/archive?y=$1
Redirect permanent /news ${SITE}/news`,
    asks: ['/news', '/news/2019', '/news/2019/05', '/news/2019/05/opening'],
  },
  {
    name: 'old scripts with numbers in the query',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{QUERY_STRING} ^stop=(\d+)$
RewriteRule ^departures\.cgi$ ${SITE}/stops/%1? [R=301,L]
RewriteCond %{QUERY_STRING} ^lang=en$
RewriteRule ^departures\.cgi$ ${SITE}/en/departures? [R=301,L]
RewriteRule ^departures\.cgi$ ${SITE}/departures [R=301,L]`,
    asks: ['/departures.cgi', '/departures.cgi?stop=4417'],
    refused: [2, 3],
    differs: [{ path: /stop=\d/, told: 3 }],
  },
  {
    name: 'without www',
    context: 'server',
    text: raw`RewriteEngine On
RewriteCond %{HTTP_HOST} ^www\.(.+)$ [NC]
RewriteRule ^(.*)$ https://%1$1 [R=301,L]
RewriteRule ^/poster$ ${SITE}/poster [R=302,L]`,
    asks: ['/poster'],
    refused: [2, 3],
  },
  {
    name: 'maintenance switched off by a comment',
    context: 'folder',
    text: raw`#RewriteEngine On
#RewriteRule ^(.*)$ ${SITE}/maintenance [R=302,L]
RewriteEngine on
RewriteRule ^kiosk/([^/]+)/?$ ${SITE}/k/$1 [R=302,L,NC]`,
    asks: ['/kiosk/harbour', '/KIOSK/Harbour', '/kiosk/a/b'],
  },
  {
    name: 'one rule for many pages',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^(?:imprint|privacy|terms)(?:\.html)?$ ${SITE}/legal/$0 [R=301,L]
RewriteRule ^(imprint|privacy|terms)\.php$ ${SITE}/legal/$1 [R=301,L]`,
    asks: ['/imprint', '/privacy.html', '/terms.php'],
    refused: [2],
    differs: [{ path: /rivacy\.html|mprint(?!\.php)/, told: 2 }],
  },
  {
    name: 'numbers of exact lengths',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^([0-9]{4})$ ${SITE}/stops/$1 [R=302,L]
RewriteRule ^([A-Z]{2,3})-([0-9]+)$ ${SITE}/vehicles/$1$2 [R=302,L]`,
    asks: ['/4417', '/44170', '/AB-12', '/abc-12', '/ABCD-1'],
  },
  {
    name: 'a forgotten anchor',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^day ${SITE}/day-ticket [R=302,L]
RewriteRule ^daypass$ ${SITE}/day-pass [R=302,L]`,
    asks: ['/day', '/daypass', '/daylight'],
    refused: [3],
  },
  {
    name: 'a trailing slash is taken away',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{REQUEST_FILENAME} !-d
RewriteRule ^(.+)/$ ${SITE}/$1 [R=301,L]
RewriteRule ^map$ ${SITE}/map [R=302,L]`,
    asks: ['/map', '/map/', '/a/b/'],
  },
  {
    name: 'a shop on another host with its own paths',
    context: 'server',
    text: raw`RewriteEngine On
RewriteRule ^/shop/(.*)$ https://shop.portansel.example/$1 [R=301,L,QSA]
RewriteRule ^/shop$ https://shop.portansel.example/ [R=301,L]
Redirect 301 /basket https://shop.portansel.example/basket`,
    asks: ['/shop', '/shop/tickets/day', '/basket', '/basket/1'],
  },
  {
    name: 'addresses with dots and dashes',
    context: 'folder',
    text: raw`Redirect 301 /v1.2/api ${SITE}/api/1.2
Redirect 301 /a-b_c~d ${SITE}/abcd
RewriteEngine On
RewriteRule ^file\.name\.v2$ ${SITE}/file [R=301,L]
RewriteRule ^file.name.v3$ ${SITE}/file3 [R=301,L]`,
    asks: ['/v1.2/api', '/a-b_c~d', '/file.name.v2', '/file.name.v3', '/fileXnameXv3'],
    differs: [{ path: /X/, told: 5 }],
  },
  {
    name: 'everything but a folder',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{REQUEST_URI} !^/keep/
RewriteRule ^(.*)$ ${SITE}/$1 [R=301,L]`,
    asks: ['/keep/a', '/other'],
    refused: [2, 3],
    differs: [{ path: /./, told: 3 }],
  },
  {
    name: 'a path asked by a condition',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{REQUEST_URI} ^/lines/(old|new)$
RewriteRule .* ${SITE}/lines [R=302,L]
RewriteCond %{REQUEST_URI} ^/boats
RewriteRule ^(.*)$ https://boats.portansel.example/$1 [R=302,L]`,
    asks: ['/lines/old', '/lines/new', '/lines/x', '/boats', '/boats/a'],
    refused: [5],
    differs: [{ path: /oats/, told: 5 }],
  },
  {
    name: 'several queries for one page',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{QUERY_STRING} (?:^|&)id=5(?:&|$)
RewriteRule ^info$ ${SITE}/info/five [R=301,L]
RewriteCond %{QUERY_STRING} (^|&)id=50($|&)
RewriteCond %{QUERY_STRING} (^|&)a=1(&|$)
RewriteRule ^info$ ${SITE}/info/both? [R=301,L]
RewriteRule ^info$ ${SITE}/info [R=301,L]`,
    asks: ['/info', '/info?id=50&a=1', '/info?a=1&id=50&x=y'],
  },
  {
    name: 'temporary and for good by words',
    context: 'folder',
    text: raw`RedirectPermanent /one ${SITE}/1
RedirectTemp /two ${SITE}/2
redirectmatch TEMP ^/three$ ${SITE}/3
REDIRECT Permanent /four ${SITE}/4
RewriteEngine ON
rewriterule ^five$ ${SITE}/5 [redirect=permanent,last]`,
    asks: ['/one', '/two', '/three', '/four', '/five', '/one/x'],
  },
  {
    name: 'a folder with its base',
    context: 'folder',
    base: '/old/',
    text: raw`RewriteEngine On
RewriteBase /old/
RewriteRule ^a$ b [R=302,L]
RewriteRule ^c/(\d+)$ /new/$1 [R=302,L]
RewriteRule ^d$ ${SITE}/d [R=302,L]`,
    asks: ['/old/a', '/old/c/5', '/old/d', '/a'],
    differs: [
      { path: /ld\/a(?:$|\?)/, told: 3 },
      { path: /ld\/c\/5/, told: 4 },
    ],
  },
  {
    name: 'rules behind one for everything',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^first$ ${SITE}/1 [R=302,L]
RewriteRule ^ ${SITE}/rest [R=302,L]
RewriteRule ^second$ ${SITE}/2 [R=302,L]`,
    asks: ['/first', '/second', '/x'],
    refused: [4],
  },
  {
    name: 'a passing rule first',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^health$ - [L]
RewriteRule ^(.+)$ ${SITE}/$1 [R=302,L]`,
    asks: ['/health', '/a', '/healthy'],
    refused: [2],
    differs: [{ path: /ealth(?:$|\?)/, told: 2 }],
  },
  {
    name: 'a chain of rules',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^lines - [C]
RewriteRule ^lines/(\d+)$ ${SITE}/l/$1 [R=302,L]
RewriteRule ^stops/(\d+)$ ${SITE}/s/$1 [R=302,L]`,
    asks: ['/lines/4', '/stops/5'],
    refused: [2, 3],
    differs: [{ path: /ines\/4(?:$|\?)/, told: 3 }],
  },
  {
    name: 'blanks, tabs and endings of lines',
    context: 'folder',
    text:
      `RewriteEngine\tOn\r\nRewriteRule\t^tab$\t${SITE}/tab\t[R=302,L]\r\n` + `\tRedirect   302\t/b   ${SITE}/b  \r\n`,
    asks: ['/tab', '/b', '/b/c'],
  },
]
