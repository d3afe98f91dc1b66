// Configurations as people write them, made by us after nginx’s documentation.

export interface NginxCase {
  name: string
  /** What stands in `server`, or whole where `whole` says so. */
  text: string
  /** What stands beside the server, in `http`. */
  beside?: string
  files?: Record<string, string>
  asks: string[]
  /** Statements told as not carried over, by a word that stands in each, in order. */
  refused?: string[]
  /** Addresses answered otherwise, and a word of the sentence that tells it. */
  differs?: { path: RegExp; told: RegExp }[]
}

export const NGINX_FILES: NginxCase[] = [
  {
    name: 'single pages',
    text: `location = /old { return 301 https://www.portansel.example/new; }
location = /sale { return 302 https://www.portansel.example/sale?from=old; }
location = /closed { return 410; }
location = /see { return 303 https://www.portansel.example/thanks; }
location = /t { return 307 https://www.portansel.example/t; }
location = /p { return 308 https://www.portansel.example/p; }`,
    asks: ['/old', '/sale', '/closed', '/see', '/t', '/p'],
  },
  {
    name: 'a folder moved',
    text: `location /archive/ { return 301 https://archive.portansel.example$request_uri; }
location /press { return 301 https://press.portansel.example/; }`,
    asks: ['/archive/', '/archive/2019/map', '/archive', '/press', '/pressed', '/press/today'],
    differs: [{ path: /%61/, told: /as it was asked/ }],
  },
  {
    name: 'all of a site moved',
    text: `return 301 https://www.portansel.example$request_uri;`,
    asks: ['/', '/a', '/a/b/c'],
    differs: [{ path: /%61/, told: /as it was asked/ }],
  },
  {
    name: 'one after the other: kinds of locations',
    text: `location / { return 302 https://www.portansel.example/all; }
location = /exact { return 302 https://www.portansel.example/exact; }
location /pre { return 302 https://www.portansel.example/pre; }
location /prefix/long { return 302 https://www.portansel.example/long; }
location ~ \\.php$ { return 302 https://www.portansel.example/php; }
location ^~ /first { return 302 https://www.portansel.example/first; }
location ~* ^/IMAGE/ { return 302 https://www.portansel.example/image; }`,
    asks: [
      '/exact',
      '/pre',
      '/prefix',
      '/prefix/long',
      '/prefix/long/a.php',
      '/a.php',
      '/first/a.php',
      '/image/a',
      '/Image/b.php',
      '/first',
      '/exactly',
    ],
  },
  {
    name: 'captures of a location',
    text: `location ~ ^/stop/(\\d+)$ { return 301 https://live.portansel.example/s/$1; }
location ~ ^/line/(?<line>[a-z0-9]+)/(?<way>out|home)$ { return 302 https://www.portansel.example/$way?line=$line; }`,
    asks: ['/stop/4417', '/stop/x', '/line/4a/out', '/line/4a/in'],
  },
  {
    name: 'rewriting',
    text: `rewrite ^/old$ https://www.portansel.example/new permanent;
rewrite ^/tram/(.*)$ https://www.portansel.example/lines/$1 redirect;
rewrite ^/ask$ https://www.portansel.example/ask? permanent;
rewrite ^/more$ https://www.portansel.example/more?x=1 permanent;
rewrite ^/short/(\\w+) https://www.portansel.example/$1;`,
    asks: ['/old', '/tram/4/night', '/ask', '/more', '/short/abc', '/short/abc/def'],
  },
  {
    name: 'rewriting within a location',
    text: `location /tram/ {
  rewrite ^/tram/(\\d+)$ https://www.portansel.example/lines/$1 permanent;
  return 302 https://www.portansel.example/lines;
}`,
    asks: ['/tram/4', '/tram/x', '/tram'],
  },
  {
    name: 'a map',
    beside: `map $uri $moved {
  default "";
  /fares https://www.portansel.example/fares;
  /Night/Bus https://www.portansel.example/night;
  ~^/stop/(?<stop>\\d+)$ https://live.portansel.example/s/$stop;
  ~*^/ZONE/(.*)$ https://www.portansel.example/zones/$1; }`,
    text: `if ($moved) { return 301 $moved; }`,
    asks: ['/fares', '/Night/Bus', '/night/bus', '/stop/4417', '/zone/a', '/ZONE/B'],
  },
  {
    name: 'a map whose values are paths',
    beside: `map $uri $to {
  /a /new/a;
  /b /new/b; }`,
    text: `if ($to) { rewrite ^ https://www.portansel.example$to permanent; }`,
    asks: ['/a', '/b'],
  },
  {
    name: 'files included',
    beside: `map $uri $moved {
  include \${FILES}/moved.map; }`,
    files: {
      'moved.map': `# moved
/fares https://www.portansel.example/fares;
"/lost property" "https://www.portansel.example/lost";
`,
    },
    text: `if ($moved) { return 302 $moved; }`,
    asks: ['/fares', '/lost%20property'],
  },
  {
    name: 'what cannot be carried over',
    text: `location / { root /nowhere; try_files $uri =404; }
location ~ ^/(?!pdf)x/(.*)$ { return 301 https://www.portansel.example/$1; }
location = /agent { return 302 https://www.portansel.example/$http_user_agent; }
location = /no { return 403; }
rewrite ^/in/(.*)$ /index.html?page=$1 last;`,
    asks: ['/no'],
    refused: ['rewrite', 'agent', '403', 'pdf', 'try_files', 'location /'],
  },
  {
    name: 'a location without regard to capitals',
    text: `location ~* ^/fares$ { return 301 https://www.portansel.example/fares; }
location ~ ^/Zones$ { return 301 https://www.portansel.example/zones; }`,
    asks: ['/fares', '/FARES', '/Zones', '/zones'],
  },
  {
    name: 'the longest prefix counts',
    text: `location /a { return 302 https://www.portansel.example/a; }
location /a/b { return 302 https://www.portansel.example/b; }
location /a/b/c { return 302 https://www.portansel.example/c; }`,
    asks: ['/a', '/ab', '/a/b', '/a/b/c', '/a/b/cd', '/a/c'],
  },
  {
    name: 'expressions in their order',
    text: `location ~ ^/x/(\\d+) { return 302 https://www.portansel.example/number/$1; }
location ~ ^/x/ { return 302 https://www.portansel.example/other; }`,
    asks: ['/x/12', '/x/12a', '/x/a', '/x'],
  },
  {
    name: 'the server itself first',
    text: `rewrite ^/first$ https://www.portansel.example/by-server permanent;
location = /first { return 302 https://www.portansel.example/by-location; }
location = /second { return 302 https://www.portansel.example/second; }`,
    asks: ['/first', '/second'],
  },
  {
    name: 'queries of rewriting',
    text: `rewrite ^/keep$ https://www.portansel.example/keep?own=1 redirect;
rewrite ^/drop$ https://www.portansel.example/drop?own=1? redirect;`,
    asks: ['/keep', '/drop'],
  },
  {
    name: 'queries by name',
    text: `location = /args { return 302 https://www.portansel.example/args$is_args$args; }
location = /more { return 302 https://www.portansel.example/more?$args; }`,
    asks: ['/args', '/more'],
    differs: [{ path: /^\/(?:more|%6dore)$/, told: /ends the address/ }],
  },
  {
    name: 'addresses of the same host',
    text: `location = /here { return 301 /there; }
location = /gone { return 410; }`,
    asks: ['/here', '/gone'],
    differs: [{ path: /^\/(?:h|%68)ere(?:\?.*)?$/, told: /scheme and port/ }],
  },
  {
    name: 'the scheme by its name',
    text: 'location = /s { return 301 $scheme://www.portansel.example/s; }',
    asks: ['/s'],
    differs: [{ path: /^\/(?:s|%73)(?:\?.*)?$/, told: /scheme and port/ }],
  },
  {
    name: 'over TLS only',
    text: 'return 301 https://$host$request_uri;',
    asks: ['/a'],
    refused: ['return'],
    differs: [{ path: /.*/, told: /HTTPS/ }],
  },
  {
    name: 'a map with expressions and a text',
    beside: `map $uri $to {
  default "";
  /plain https://www.portansel.example/plain;
  ~^/p/(.+)$ https://www.portansel.example/q/$1;
  "~^/with space/(.*)$" https://www.portansel.example/space/$1;
}`,
    text: 'if ($to) { return 301 $to; }',
    asks: ['/plain', '/p/a/b', '/PLAIN', '/with%20space/x'],
  },
  {
    name: 'quotes and comments',
    text: `# a comment; with { braces }
location = "/quo;ted" { return 302 "https://www.portansel.example/q?a={b}"; }
location = '/single' { return 302 'https://www.portansel.example/s'; }`,
    asks: ['/quo;ted', '/single'],
  },
  {
    name: 'what stands behind an answer',
    text: `return 302 https://www.portansel.example/all;
location = /never { return 301 https://www.portansel.example/never; }`,
    asks: ['/never', '/x'],
    refused: ['location = /never'],
  },
  {
    name: 'a map that is asked of something else',
    beside: 'map $http_user_agent $moved { default ""; ~Mobile https://m.portansel.example/; }',
    text: 'if ($moved) { return 302 $moved; }\nlocation = /ok { return 302 https://www.portansel.example/ok; }',
    asks: ['/ok'],
    refused: ['map $', 'if ('],
  },
  {
    name: 'a bare code and an address alone',
    text: `location = /code { return 404; }
location = /address { return https://www.portansel.example/address; }`,
    asks: ['/code', '/address'],
    refused: ['return 404'],
  },
  {
    name: 'nested and named locations',
    text: `location /outer/ {
  location /outer/inner { return 302 https://www.portansel.example/inner; }
  return 302 https://www.portansel.example/outer;
}
location @named { return 302 https://www.portansel.example/named; }`,
    asks: ['/outer/x', '/outer/inner'],
    refused: ['location /outer/inner'],
    differs: [{ path: /inner/, told: /within a location/ }],
  },
]
