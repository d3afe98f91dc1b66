// Configurations as people write them, made by us after the manual of Apache 2.4 (mod_alias, mod_rewrite).

export interface ApacheCase {
  name: string
  context: 'folder' | 'server'
  text: string
  /** Further files that are dropped together with it. */
  files?: Record<string, string>
  base?: string
  /** Addresses to begin from. */
  asks: string[]
  /** Lines that are told as not carried over. */
  refused?: number[]
  /** Addresses that are answered otherwise, because of what is told of these lines. */
  differs?: { path: RegExp; told: number }[]
}

export const APACHE_FILES: ApacheCase[] = [
  {
    name: 'a few single pages',
    context: `folder`,
    text: `Redirect 301 /old.html https://www.portansel.example/new
Redirect 302 /sale https://www.portansel.example/sale?from=old
Redirect permanent /fares https://www.portansel.example/fares
Redirect temp /map https://www.portansel.example/map
Redirect /plain https://www.portansel.example/plain`,
    asks: ['/old.html', '/sale', '/fares', '/map', '/plain', '/fares/night/bus'],
    differs: [
      { path: /^\/sale\//, told: 2 },
      { path: /^\/old\.html\//, told: 1 },
    ],
  },
  {
    name: 'gone and see other',
    context: `folder`,
    text: `Redirect gone /closed
Redirect 410 /closed-too
Redirect seeother /form https://www.portansel.example/thanks
Redirect 307 /temp https://www.portansel.example/t
Redirect 308 /perm https://www.portansel.example/p`,
    asks: ['/closed', '/closed-too', '/form', '/temp', '/perm'],
    differs: [
      { path: /^\/closed\//, told: 1 },
      { path: /^\/closed-too\//, told: 2 },
    ],
  },
  {
    name: 'the long names of mod_alias',
    context: `server`,
    text: `RedirectPermanent /a https://www.portansel.example/a
RedirectTemp /b https://www.portansel.example/b/`,
    asks: ['/a', '/b', '/a/c/d'],
  },
  {
    name: 'a whole folder moved',
    context: `server`,
    text: `# moved in spring
Redirect 301 /archive/ https://archive.portansel.example/
Redirect 301 /press https://press.portansel.example`,
    asks: ['/archive/', '/archive/2019/map', '/archive', '/press', '/press/today'],
  },
  {
    name: 'everything moved',
    context: `folder`,
    text: `Redirect 301 / https://www.portansel.example/`,
    asks: ['/', '/anything', '/any/thing'],
  },
  {
    name: 'a pattern of mod_alias',
    context: `server`,
    text: `RedirectMatch 301 ^/stop/([0-9]{4})$ https://live.portansel.example/departures/$1
RedirectMatch ^/line-(\\d+)(/.*)?$ https://www.portansel.example/lines/$1$2
RedirectMatch 302 \\.php$ https://www.portansel.example/`,
    asks: ['/stop/4417', '/stop/44171', '/line-4', '/line-12/night', '/index.php', '/a/b.php', '/x.phps'],
  },
  {
    name: 'the first of two counts',
    context: `server`,
    text: `Redirect 301 /ferry https://ferry.portansel.example/
Redirect 301 /ferry/timetable https://www.portansel.example/timetable`,
    asks: ['/ferry', '/ferry/timetable', '/ferry/other'],
  },
  {
    name: 'the longer first, as it should be',
    context: `server`,
    text: `Redirect 301 /ferry/timetable https://www.portansel.example/timetable
Redirect 301 /ferry https://ferry.portansel.example`,
    asks: ['/ferry', '/ferry/timetable', '/ferry/timetable/x', '/ferry/other'],
  },
  {
    name: 'quotes and blanks',
    context: `server`,
    text: `Redirect 301 "/lost property" "https://www.portansel.example/lost-property"
Redirect   301\t/tabs \\
   https://www.portansel.example/tabs`,
    asks: ['/lost%20property', '/tabs'],
  },
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
    name: 'sections that hold always',
    context: 'server',
    text: `<IfModule mod_alias.c>
  Redirect 301 /within https://www.portansel.example/within
</IfModule>`,
    asks: ['/within', '/within/a'],
  },
  {
    name: 'sections that hold sometimes',
    context: 'server',
    text: `<Location /only>
  Redirect 301 https://www.portansel.example/only
</Location>
Redirect 301 /plain https://www.portansel.example/plain`,
    asks: ['/plain'],
    refused: [2],
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
    name: 'the same address twice',
    context: 'server',
    text: `Redirect 301 /twice https://www.portansel.example/first
Redirect 301 /twice https://www.portansel.example/second`,
    asks: ['/twice', '/twice/x'],
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
