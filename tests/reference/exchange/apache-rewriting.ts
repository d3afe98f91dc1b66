// Configurations that rewrite, as people write them, made by us after the manual of Apache 2.4 (mod_rewrite).
import type { ApacheCase } from './apache-files'

export const REWRITING_FILES: ApacheCase[] = [
  {
    name: 'rewriting in a folder',
    context: `folder`,
    text: `RewriteEngine On
RewriteRule ^old-page$ https://www.portansel.example/new-page [R=301,L]
RewriteRule ^stop/(\\d+)/?$ https://live.portansel.example/s/$1 [R=302,L]
RewriteRule ^archive/(.*)$ https://archive.portansel.example/$1 [R=301,L]`,
    asks: ['/old-page', '/stop/4417', '/stop/4417/', '/archive/2019/a', '/archive/'],
  },
  {
    name: 'rewriting in the server',
    context: `server`,
    text: `RewriteEngine on
RewriteRule ^/old-page$ https://www.portansel.example/new-page [redirect=permanent,last]
RewriteRule ^/(tram|bus)/(.+)$ https://www.portansel.example/$2?kind=$1 [R,L]`,
    asks: ['/old-page', '/tram/4', '/bus/4/night', '/ferry/4'],
  },
  {
    name: 'what becomes of queries',
    context: `server`,
    text: `RewriteEngine On
RewriteRule ^/carry$ https://www.portansel.example/c [R=301,L]
RewriteRule ^/replace$ https://www.portansel.example/r?x=1 [R=301,L]
RewriteRule ^/append$ https://www.portansel.example/a?x=1 [R=301,L,QSA]
RewriteRule ^/discard$ https://www.portansel.example/d [R=301,L,QSD]
RewriteRule ^/drop$ https://www.portansel.example/e? [R=301,L]`,
    asks: ['/carry', '/replace', '/append', '/discard', '/drop'],
    differs: [{ path: /^\/append\?.*%/, told: 4 }],
  },
  {
    name: 'conditions on the query',
    context: `folder`,
    text: `RewriteEngine On
RewriteCond %{QUERY_STRING} ^id=5$
RewriteRule ^page$ https://www.portansel.example/five? [R=301,L]
RewriteCond %{QUERY_STRING} (?:^|&)lang=en(?:&|$)
RewriteRule ^page$ https://www.portansel.example/en? [R=302,L]
RewriteRule ^page$ https://www.portansel.example/page [R=302,L]`,
    asks: ['/page'],
  },
  {
    name: 'files that are not there',
    context: `folder`,
    text: `RewriteEngine On
RewriteCond %{REQUEST_FILENAME} !-f
RewriteCond %{REQUEST_FILENAME} !-d
RewriteRule ^(.*)$ https://www.portansel.example/$1 [R=302,L]`,
    asks: ['/a', '/a/b'],
    differs: [{ path: /^\/(?:\?.*)?$/, told: 3 }],
  },
  {
    name: 'capitals do not matter to one',
    context: `server`,
    text: `RewriteEngine On
RewriteRule ^/Fares$ https://www.portansel.example/fares [R=301,NC,L]
RewriteRule ^/Zones$ https://www.portansel.example/zones [R=301,L]`,
    asks: ['/fares', '/Fares', '/FARES', '/zones', '/Zones'],
  },
  {
    name: 'by host',
    context: `server`,
    text: `RewriteEngine On
RewriteCond %{HTTP_HOST} ^other\\.example$ [NC]
RewriteRule ^/a$ https://www.portansel.example/other [R=301,L]
RewriteRule ^/a$ https://www.portansel.example/ours [R=301,L]`,
    asks: ['/a'],
  },
  {
    name: 'what cannot be carried over',
    context: `server`,
    text: `RewriteEngine On
RewriteRule ^/(?!pdf)(.*)$ https://www.portansel.example/$1 [R=301,L]
RewriteRule ^/in/(.*)$ /index.php?page=$1 [L]
RewriteCond %{HTTP_USER_AGENT} Mobile
RewriteRule ^/m$ https://m.portansel.example/ [R=302,L]
Redirect 404 /nothing
LimitRequestBody 5`,
    asks: ['/nothing'],
    differs: [{ path: /.*/, told: 2 }],
    refused: [2, 3, 4, 5, 6, 7],
  },
  {
    name: 'a map of text',
    context: `server`,
    text: `RewriteEngine On
RewriteMap moved "txt:\${FILES}/moved.txt"
RewriteCond \${moved:$1} !=""
RewriteRule ^/(.*)$ \${moved:$1} [R=301,L]`,
    files: {
      'moved.txt':
        '# addresses\nfares https://www.portansel.example/fares\nnight/bus https://www.portansel.example/night?x=1\n',
    },
    asks: ['/fares', '/night/bus'],
    differs: [{ path: /^\/(?:n|%6e)ight\/bus(?:\?.*)?$/, told: 4 }],
  },
  {
    name: 'a folder below the top',
    context: 'folder',
    base: '/shop/',
    text: `RewriteEngine On
RewriteRule ^sale$ https://www.portansel.example/sale [R=301,L]
RewriteRule ^item/([a-z]+)$ https://www.portansel.example/i/$1 [R=302,L]`,
    asks: ['/shop/sale', '/shop/item/map', '/sale', '/item/map', '/shop/item/MAP'],
  },
  {
    name: 'two patterns in one',
    context: 'server',
    text: `RewriteEngine On
RewriteRule ^/(?:fares|tickets)$ https://www.portansel.example/fares [R=301,L]
RewriteRule ^/a$|^/b$ https://www.portansel.example/ab [R=302,L]`,
    asks: ['/fares', '/tickets', '/a', '/b', '/ab'],
  },
  {
    name: 'anywhere in the path',
    context: 'server',
    text: `RewriteEngine On
RewriteRule night https://www.portansel.example/night [R=302,L]
RewriteRule /print$ https://www.portansel.example/print [R=302,L]`,
    asks: ['/night', '/a/night/bus', '/a/print', '/print/a', '/tonight'],
  },
  {
    name: 'the whole path by its name',
    context: 'server',
    text: `RewriteEngine On
RewriteRule ^ https://www.portansel.example%{REQUEST_URI} [R=301,L]`,
    asks: ['/a', '/a/b', '/'],
  },
  {
    name: 'only one folder, by a condition',
    context: 'server',
    text: `RewriteEngine On
RewriteCond %{REQUEST_URI} ^/old/
RewriteRule .* https://www.portansel.example/archive [R=301,L]`,
    asks: ['/old/a', '/old', '/new/a'],
  },
  {
    name: 'with and without www',
    context: 'server',
    text: `RewriteEngine On
RewriteCond %{HTTP_HOST} ^(www\\.)?fifth\\.example$ [NC]
RewriteRule ^/b$ https://www.portansel.example/other-b [R=301,L]`,
    asks: ['/b'],
  },
  {
    name: 'hosts or hosts',
    context: 'server',
    text: `RewriteEngine On
RewriteCond %{HTTP_HOST} ^third\\.example$ [OR]
RewriteCond %{HTTP_HOST} ^fourth\\.example$
RewriteRule ^/c$ https://www.portansel.example/c [R=301,L]`,
    asks: ['/c'],
  },
  {
    name: 'no query at all',
    context: 'server',
    text: `RewriteEngine On
RewriteCond %{QUERY_STRING} ^$
RewriteRule ^/q$ https://www.portansel.example/without [R=302,L]
RewriteRule ^/q$ https://www.portansel.example/with? [R=302,L]`,
    asks: ['/q'],
  },
  {
    name: 'several things at once',
    context: 'folder',
    text: `Redirect 301 /both https://www.portansel.example/by-redirect
RewriteEngine On
RewriteRule ^both$ https://www.portansel.example/by-rewrite [R=302,L]`,
    asks: ['/both', '/both/x'],
  },
  {
    name: 'a rewriting that is off',
    context: 'server',
    text: `RewriteEngine Off
RewriteRule ^/x$ https://www.portansel.example/x [R=301]`,
    asks: ['/x'],
    refused: [2],
  },
  {
    name: 'numbers and classes',
    context: 'server',
    text: `RewriteEngine On
RewriteRule ^/n/([0-9]{1,3})$ https://www.portansel.example/n?id=$1 [R=302,L]
RewriteRule ^/c/([[:alpha:]]+)-([^/]+)$ https://www.portansel.example/$2/$1 [R=302,L]
RewriteRule ^/w/(\\w+)\\.(?:html?|php)$ https://www.portansel.example/w/$1 [R=301,L]`,
    asks: ['/n/1', '/n/123', '/n/1234', '/c/ab-cd', '/c/1-x', '/w/a_b.html', '/w/a.htm', '/w/a.pht'],
  },
  {
    name: 'dollars, percents and ampersands',
    context: 'server',
    text: `RewriteEngine On
RewriteRule ^/d$ https://www.portansel.example/d?a=1&b=\\$2 [R=302,L,NE]
RewriteRule ^/p$ https://www.portansel.example/p\\%20q [R=302,L,NE]`,
    asks: ['/d', '/p'],
  },
  {
    name: 'forbidden and internal',
    context: 'folder',
    text: `RewriteEngine On
RewriteRule ^secret - [F]
RewriteRule ^front$ index.php [L]
RewriteRule ^out$ https://www.portansel.example/out [R=302,L]`,
    asks: ['/out', '/front'],
    refused: [2, 3],
  },
]
