import type { ApacheCase } from '../apache-files'

const raw = String.raw
const SITE = 'https://www.portansel.example'
/** Files for Apache in the manner of people who run a site: the first part. */
export const APACHE_FIRST: ApacheCase[] = [
  {
    name: 'a season’s campaign addresses',
    context: 'folder',
    text: raw`# campaigns 2026, printed on posters: do not remove
Redirect 302 /summer ${SITE}/campaigns/summer-2026
Redirect 302 /regatta ${SITE}/events/regatta
Redirect 301 /timetable ${SITE}/plan/timetables/
Redirect /kiosk ${SITE}/shops`,
    asks: ['/summer', '/regatta', '/timetable', '/timetable/bus', '/kiosk', '/kiosk/harbour'],
  },
  {
    name: 'in case the module is there',
    context: 'folder',
    text: raw`<IfModule mod_rewrite.c>
  RewriteEngine On
  RewriteRule ^jobs/?$ ${SITE}/careers [R=301,L]
  RewriteRule ^lines/([0-9]+)$ ${SITE}/line/$1 [R=302,L]
</IfModule>
<IfModule mod_alias.c>
  Redirect 301 /contact ${SITE}/about/contact
</IfModule>`,
    asks: ['/jobs', '/lines/4', '/lines/4a', '/contact', '/contact/form'],
  },
  {
    name: 'in case the module is missing',
    context: 'folder',
    text: raw`<IfModule !mod_rewrite.c>
  Redirect 302 /plan ${SITE}/fallback-plan
</IfModule>
<IfModule mod_rewrite.c>
  RewriteEngine On
  RewriteRule ^plan$ ${SITE}/plan [R=302,L]
</IfModule>
<IfModule mod_speling.c>
  Redirect 302 /speling ${SITE}/speling
</IfModule>`,
    asks: ['/plan', '/speling', '/plan/x'],
    refused: [2, 9],
    differs: [],
  },
  {
    name: 'only where a switch is set',
    context: 'server',
    text: raw`<IfDefine STAGING>
  Redirect 302 /beta ${SITE}/staging
</IfDefine>
<IfDefine !STAGING>
  Redirect 302 /beta ${SITE}/beta
</IfDefine>
Redirect 302 /news ${SITE}/news`,
    asks: ['/beta', '/news'],
    refused: [2, 5],
    differs: [{ path: /eta/i, told: 5 }],
  },
  {
    name: 'relative targets in a server’s file',
    context: 'server',
    text: raw`RewriteEngine On
RewriteRule ^/old-fares$ /fares [R=301,L]
RewriteRule ^/zone/(\d+)$ /zones?nr=$1 [R=302,L]
Redirect 302 /karte /map`,
    asks: ['/old-fares', '/zone/3', '/karte', '/karte/a'],
    differs: [
      { path: /ld-fares/, told: 2 },
      { path: /one\//, told: 3 },
      { path: /arte/, told: 4 },
    ],
  },
  {
    name: 'relative targets in the top folder',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteBase /
RewriteRule ^about\.html$ /about [R=301,L]
RewriteRule ^team\.html$ about/team [R=301,L]
RewriteRule ^boats/(.*)$ ferries/$1 [R=302,L]`,
    asks: ['/about.html', '/team.html', '/boats/one', '/boats'],
    refused: [],
    differs: [
      { path: /bout\.html/, told: 3 },
      { path: /eam\.html/, told: 4 },
      { path: /oats\//, told: 5 },
    ],
  },
  {
    name: 'skipping rules',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^keep - [S=1]
RewriteRule ^(.*)-old$ ${SITE}/archive/$1 [R=301,L]
RewriteRule ^night$ ${SITE}/night [R=302,L]`,
    asks: ['/keep-old', '/bus-old', '/night', '/keep'],
    refused: [2, 3],
    differs: [{ path: /-old/, told: 3 }],
  },
  {
    name: 'escaping with and without NE',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^fares-table$ ${SITE}/fares#table [R=301,NE,L]
RewriteRule ^fares-zone$ ${SITE}/fares#zone [R=301,L]
RewriteRule ^ask$ ${SITE}/faq?topic=lost#top [R=302,NE,L]
RewriteRule ^ask2$ ${SITE}/faq?topic=lost#top [R=302,L]
RewriteRule ^spaced$ "${SITE}/lost property" [R=302,L]
RewriteRule ^percent$ ${SITE}/a%20b [R=302,L]
RewriteRule ^percent-ne$ ${SITE}/a%20b [R=302,NE,L]`,
    asks: ['/fares-table', '/fares-zone', '/ask', '/ask2', '/spaced', '/percent', '/percent-ne'],
    // “%2” is what a condition captured, of which there is none.
    refused: [7, 8],
    differs: [
      { path: /ercent/, told: 7 },
      { path: /fares-table\?|ares-table\?/, told: 2 },
    ],
  },
  {
    name: 'query and fragment with Redirect',
    context: 'folder',
    text: raw`Redirect 302 /faq ${SITE}/faq#q12
Redirect 302 /faq13 ${SITE}/faq?x=1#q13
Redirect 302 /faq14 ${SITE}/faq#q14?x=1
RedirectMatch 302 ^/help/(\w+)$ ${SITE}/help#$1`,
    asks: ['/faq', '/faq13', '/faq14', '/help/tickets'],
    differs: [
      { path: /faq[/?]/i, told: 1 },
      { path: /faq13[/?]/, told: 2 },
      { path: /faq14[/?]/, told: 3 },
      { path: /elp\/.*\?/, told: 4 },
    ],
  },
  {
    name: 'escapes in addresses',
    context: 'folder',
    text: raw`Redirect 302 /plus+sign ${SITE}/plus
Redirect 302 "/lost property" ${SITE}/lost
Redirect 302 /grün ${SITE}/green`,
    asks: ['/plus+sign', '/plus%2Bsign', '/lost%20property', '/gr%C3%BCn', '/gr%c3%bcn'],
    differs: [{ path: /%2B/, told: 1 }],
  },
  {
    name: 'a front controller below the redirects',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^index\.php/(.+)$ ${SITE}/$1 [R=301,L]
RewriteCond %{REQUEST_FILENAME} !-f
RewriteCond %{REQUEST_FILENAME} !-d
RewriteRule ^moved/(.*)$ ${SITE}/$1 [R=301,L]
RewriteCond %{REQUEST_FILENAME} !-f
RewriteRule . index.php [L]`,
    asks: ['/index.php/tickets', '/moved/a/b', '/index.php'],
    refused: [7],
  },
  {
    name: 'the whole site moved',
    context: 'folder',
    text: raw`Redirect 301 / ${SITE}/`,
    asks: ['/', '/a', '/a/b.html'],
  },
  {
    name: 'all but some moved',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^tickets$ https://tickets.portansel.example/ [R=302,L]
RewriteRule ^bikes(/.*)?$ https://bikes.portansel.example$1 [R=302,L]
RewriteRule ^(.*)$ ${SITE}/$1 [R=301,L]`,
    asks: ['/tickets', '/bikes', '/bikes/one', '/other', '/tickets/a'],
    refused: [3],
    differs: [{ path: /ikes/, told: 3 }],
  },
  {
    name: 'old pages with endings',
    context: 'folder',
    text: raw`RedirectMatch 301 ^/pages/(.+)\.html?$ ${SITE}/$1
RedirectMatch 301 ^/(\d{4})/(\d\d)/(.+)\.php$ ${SITE}/news/$1-$2/$3
RedirectMatch 301 \.asp$ ${SITE}/`,
    asks: ['/pages/fares.html', '/pages/fares.htm', '/2019/05/opening.php', '/any.asp', '/a/b.asp'],
  },
  {
    name: 'queries as conditions',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteCond %{QUERY_STRING} ^id=5$
RewriteRule ^page\.php$ ${SITE}/five? [R=301,L]
RewriteCond %{QUERY_STRING} (^|&)id=50(&|$)
RewriteRule ^page\.php$ ${SITE}/fifty? [R=301,L]
RewriteRule ^page\.php$ ${SITE}/pages? [R=301,L]`,
    asks: ['/page.php'],
  },
  {
    name: 'adding and dropping queries',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^poster/(\w+)$ ${SITE}/p?from=$1 [R=302,QSA,L]
RewriteRule ^flyer/(\w+)$ ${SITE}/f/$1 [R=302,QSD,L]
RewriteRule ^card/(\w+)$ ${SITE}/c/$1? [R=302,L]
RewriteRule ^mail$ ${SITE}/m?utm_source=mail [R=302,L]`,
    asks: ['/poster/4a', '/flyer/x', '/card/y', '/mail'],
    differs: [{ path: /b%20c/, told: 2 }],
  },
  {
    name: 'capitals do not matter',
    context: 'folder',
    text: raw`RewriteEngine On
RewriteRule ^harbour$ ${SITE}/harbour [R=301,NC,L]
RewriteRule ^stop/([a-z]+)$ ${SITE}/stops/$1 [R=301,NC,L]`,
    asks: ['/harbour', '/Harbour', '/stop/main', '/STOP/Main'],
  },
  {
    name: 'gone for good',
    context: 'folder',
    text: raw`Redirect gone /tender-2019
RewriteEngine On
RewriteRule ^press/2015$ - [G]
RewriteRule ^press/2016$ - [R=410,L]
RedirectMatch 410 ^/archive/2014/
RewriteRule ^secret$ - [F]`,
    asks: ['/tender-2019', '/press/2015', '/press/2016', '/archive/2014/a', '/secret'],
    refused: [5, 6],
    differs: [
      { path: /rchive\/2014\//, told: 5 },
      { path: /tender-2019\/more/, told: 1 },
    ],
  },
  {
    name: 'a virtual host with names',
    context: 'server',
    text: raw`RewriteEngine On
RewriteCond %{HTTP_HOST} ^other\.example$ [NC]
RewriteRule ^/(.*)$ ${SITE}/other/$1 [R=301,L]
RewriteRule ^/fares$ ${SITE}/fares [R=302,L]`,
    asks: ['/fares', '/x/y'],
    refused: [3],
  },
  {
    name: 'a map beside it',
    context: 'server',
    text:
      'RewriteEngine On\nRewriteMap short txt:${FILES}/short.txt\n' +
      'RewriteCond ${short:$1} !=""\nRewriteRule ^/(.+)$ ${short:$1} [R=302,L]',
    files: {
      'short.txt': `# short addresses
f ${SITE}/fares
lost ${SITE}/lost-property   # counter
night/bus ${SITE}/night?line=1
`,
    },
    asks: ['/f', '/lost', '/night/bus', '/none'],
    differs: [{ path: /ight\/bus/, told: 4 }],
  },
]
