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

/** Of mod_alias. */
export const ALIAS_FILES: ApacheCase[] = [
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
    name: 'the same address twice',
    context: 'server',
    text: `Redirect 301 /twice https://www.portansel.example/first
Redirect 301 /twice https://www.portansel.example/second`,
    asks: ['/twice', '/twice/x'],
  },
]
