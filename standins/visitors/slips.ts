/**
 * How people mistype a short address: an error model of our own, documented by its weights, for the crowd and for what
 * the ranking is measured with. It knows nothing of the ranking's own figures. That single slips are mostly a wrong, a
 * missing, an added or two swapped letters is Damerau (1964), from memory; the shares are invented.
 */
export interface Slip {
  kind: SlipKind
  /** The host asked instead, where that is the slip. */
  host: string
  typed: string
}

const KINDS = {
  punctuation: 12,
  capitals: 10,
  neighbour: 12,
  lookAlike: 8,
  dropped: 9,
  doubled: 5,
  swapped: 8,
  extra: 5,
  other: 3,
  separator: 9,
  cutOff: 4,
  gluedOn: 5,
  family: 4,
  domain: 4,
  escape: 2,
  numeral: 2,
  variant: 3,
  order: 2,
  two: 4,
} as const
export type SlipKind = keyof typeof KINDS

const BESIDE: Record<string, string> = {
  a: 'qsz',
  b: 'vgn',
  c: 'xdv',
  d: 'sfe',
  e: 'wrd',
  f: 'dgr',
  g: 'fht',
  h: 'gjy',
  i: 'uok',
  j: 'hku',
  k: 'jli',
  l: 'kop',
  m: 'nj',
  n: 'bmh',
  o: 'ipl',
  p: 'o',
  q: 'wa',
  r: 'etf',
  s: 'adw',
  t: 'ryg',
  u: 'yij',
  v: 'cbf',
  w: 'qes',
  x: 'zcs',
  y: 'tuh',
  z: 'xa',
  '0': '9',
  '1': '2',
  '2': '13',
  '3': '24',
  '4': '35',
  '5': '46',
  '6': '57',
  '7': '68',
  '8': '79',
  '9': '80',
}
const ALIKE: Record<string, string> = { '0': 'o', o: '0', '1': 'l', l: '1', i: 'l', s: '5', '5': 's', b: '8', '8': 'b' }
const NUMBERS = 'zero one two three four five six seven eight nine ten eleven twelve'.split(' ')
const MARKS = ['.', ',', ').', '!', '?', ';', ':', '"', '%20', '...', '>', "'s"]
const TAILS = ['-to', 'for', '-today', '.html', '%20please', ',thanks', '/index', '/en', 'and', '.Then']
const LETTERS = 'abcdefghijklmnopqrstuvwxyz'

/** Slips with a source of chance (numbers in [0, 1)) and the hosts there are. */
export function makeSlips(random: () => number, hosts: readonly string[]) {
  const pick = <Item>(items: readonly Item[] | string): Item => items[Math.floor(random() * items.length)] as Item
  const place = (text: string, wanted: (unit: string, at: number) => boolean): number => {
    const places = [...text].flatMap((unit, at) => (wanted(unit, at) ? [at] : []))
    return places.length === 0 ? -1 : pick(places)
  }
  const put = (text: string, at: number, piece: string, cut = 1) => text.slice(0, at) + piece + text.slice(at + cut)
  const small = (unit: string) => /[a-z0-9]/.test(unit)

  /** One way to mistype a text; `undefined` where it does not fit. */
  function one(kind: SlipKind, text: string): string | undefined {
    switch (kind) {
      case 'punctuation':
        return text + pick<string>(MARKS)
      case 'capitals':
        return random() < 0.6 ? text[0]!.toUpperCase() + text.slice(1) : text.toUpperCase()
      case 'neighbour': {
        const at = place(text, (unit) => unit in BESIDE)
        return at < 0 ? undefined : put(text, at, pick<string>(BESIDE[text[at]!]!))
      }
      case 'lookAlike': {
        const at = place(text, (unit) => unit in ALIKE)
        return at < 0 ? undefined : put(text, at, ALIKE[text[at]!]!)
      }
      case 'dropped': {
        const at = place(text, (unit, index) => small(unit) && index > 0)
        return at < 0 || text.length < 4 ? undefined : put(text, at, '')
      }
      case 'doubled': {
        const at = place(text, (unit) => small(unit))
        return at < 0 ? undefined : put(text, at, text[at]! + text[at]!)
      }
      case 'swapped': {
        const at = place(text, (unit, index) => index + 1 < text.length && unit !== text[index + 1])
        return at < 0 ? undefined : put(text, at, text[at + 1]! + text[at]!, 2)
      }
      case 'extra': {
        const at = place(text, (unit) => unit in BESIDE)
        return at < 0 ? undefined : put(text, at, text[at]! + pick<string>(BESIDE[text[at]!]!))
      }
      case 'other': {
        const at = place(text, small)
        return at < 0 ? undefined : put(text, at, pick<string>(/[0-9]/.test(text[at]!) ? '0123456789' : LETTERS))
      }
      case 'separator': {
        const at = place(text, (unit) => /[-/_]/.test(unit))
        if (at >= 0) return put(text, at, pick<string>(['', '-', '_', '/', '%20']))
        const edge = place(text, (unit, index) => index > 0 && /[0-9]/.test(unit) && /[a-z]/.test(text[index - 1]!))
        return edge < 0 ? undefined : put(text, edge, pick<string>(['-', '/', '_']), 0)
      }
      case 'cutOff':
        // Mail breaks long lines; what is short stays whole.
        return text.length < 10 ? undefined : text.slice(0, Math.ceil(text.length * (0.55 + random() * 0.35)))
      case 'gluedOn':
        return text + pick<string>(TAILS)
      case 'family': {
        const at = text.indexOf('/')
        if (at < 0) return pick<string>(['go', 'm', 'link', 'p']) + '/' + text
        return random() < 0.5 ? text.slice(at + 1) : pick<string>(['stops', 's', 'route', 'go', 'bus']) + text.slice(at)
      }
      case 'escape':
        return random() < 0.5 ? text.replace(/[-/]/, '%2520') : text.replace('/', '%252F')
      case 'numeral': {
        const found = /(?<![0-9])([0-9]{1,2})(?![0-9])/.exec(text)
        const word = found && NUMBERS[Number(found[1])]
        return word ? put(text, found.index, word, found[1]!.length) : undefined
      }
      case 'variant':
        return text.endsWith('s') ? text.slice(0, -1) : /[a-z]$/.test(text) ? text + 's' : undefined
      case 'order': {
        const words = text.split('-')
        return words.length < 2 ? undefined : [...words.slice(1), words[0]].join('-')
      }
      default:
        return undefined
    }
  }

  const total = Object.values(KINDS).reduce((sum, weight) => sum + weight, 0)
  function kindByChance(): SlipKind {
    let share = random() * total
    for (const [kind, weight] of Object.entries(KINDS)) if ((share -= weight) < 0) return kind as SlipKind
    return 'neighbour'
  }

  /** One mistyping of an address, never the address itself. */
  return function slip(host: string, slug: string): Slip {
    for (;;) {
      const kind = kindByChance()
      if (kind === 'domain') {
        const others = hosts.filter((other) => other !== host)
        if (others.length > 0) return { kind, host: pick<string>(others), typed: slug }
        continue
      }
      let typed: string | undefined
      if (kind === 'two') {
        const single = ['neighbour', 'dropped', 'doubled', 'swapped', 'extra', 'separator', 'capitals'] as const
        const first = slug.length < 5 ? undefined : one(pick<SlipKind>(single), slug)
        typed = first === undefined ? undefined : one(pick<SlipKind>(single), first)
      } else typed = one(kind, slug)
      if (typed !== undefined && typed !== slug && typed !== '') return { kind, host, typed }
    }
  }
}
