/** A page of the invented site, before and after it was reorganised. */
export interface MovedPage {
  kind: string
  from: string
  title: string
  /** Where it is now; nothing where it is gone. */
  to: string | undefined
  newTitle: string
}

/** Numbers in [0, 1) from a seed (a linear congruential generator, Numerical Recipes' constants). */
export function chance(seed: number): () => number {
  let state = seed >>> 0
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
}

const SUBJECTS = [
  'night',
  'harbour',
  'ferry',
  'tram',
  'season',
  'school',
  'senior',
  'visitor',
  'cycle',
  'parcel',
  'lost',
  'winter',
  'summer',
  'airport',
  'market',
  'museum',
  'stadium',
  'hospital',
  'campus',
  'island',
  'bridge',
  'tunnel',
  'depot',
  'quay',
]
const THINGS = [
  'timetable',
  'map',
  'ticket',
  'pass',
  'fare',
  'route',
  'service',
  'notice',
  'survey',
  'report',
  'project',
  'guide',
  'offer',
  'accessibility',
  'parking',
  'shelter',
  'announcement',
  'contract',
  'consultation',
  'festival',
]
const PLACES = [
  'saltgate',
  'ropewalk',
  'tidewater',
  'gullwing',
  'lantern',
  'observatory',
  'foundry',
  'weavers',
  'orchard',
  'beacon',
  'chandlers',
  'signal',
  'terrace',
  'millbasin',
  'northmole',
  'oldmint',
]
const FOLDERS = ['travel', 'news', 'about', 'help', 'plans', 'places', 'company', 'service-changes']
const cap = (word: string) => word[0]!.toUpperCase() + word.slice(1)
const SITE = 'Port Ansel Transit'

type Move = (page: {
  folder: string
  words: string[]
  random: () => number
  index: number
  /** A subject no other page of this thing and place has. */
  beside: string
}) => [from: string, to: string, title?: string]
const plural = (word: string) => word + (word.endsWith('s') ? 'es' : 's')
const slug = (words: readonly string[]) => words.join('-')

/** Ten kinds of reorganisation, as they happen when a site is made anew (common practice, no source). */
const KINDS: Record<string, Move> = {
  'folder renamed': ({ folder, words }) => [`/${folder}/${slug(words)}`, `/${folder}-and-more/${slug(words)}`],
  'dates taken out': ({ folder, words, random }) => [
    `/${folder}/20${17 + Math.floor(random() * 9)}/${10 + Math.floor(random() * 3)}/${slug(words)}`,
    `/${folder}/${slug(words)}`,
  ],
  'slugs reworded': ({ folder, words }) => [
    `/${folder}/${slug(words)}`,
    `/${folder}/${slug([words[2]!, 'the', plural(words[1]!), words[0]!])}`,
    `${cap(words[2]!)}: the ${words[0]} ${plural(words[1]!)}`,
  ],
  'language prefix added': ({ folder, words }) => [`/${folder}/${slug(words)}`, `/en/${folder}/${slug(words)}`],
  'extension dropped': ({ folder, words }) => [`/${folder}/${slug(words)}.html`, `/${folder}/${slug(words)}/`],
  flattened: ({ folder, words }) => [
    `/${folder}/${words[2]}/${slug(words.slice(0, 2))}`,
    `/${slug([...words.slice(0, 2), words[2]!])}`,
  ],
  'nested deeper': ({ folder, words }) => [`/${slug(words)}`, `/${folder}/${words[2]}/${slug(words)}`],
  'numbers put before': ({ folder, words, index }) => [
    `/${folder}/${slug(words)}`,
    `/${folder}/${41_000 + index}-${slug(words)}`,
  ],
  'separators changed': ({ folder, words }) => [
    `/${folder}/${words.join('_')}`,
    `/${folder}/${words[0]}${words.slice(1).map(cap).join('')}`,
  ],
  // Two pages of one thing and place became one that names both.
  merged: ({ folder, words, beside }) => [
    `/${folder}/${slug(words)}`,
    `/${folder}/${slug(words.slice(1))}`,
    `${cap(words[0]!)} and ${beside} ${words[1]} ${cap(words[2]!)}`,
  ],
}

/**
 * A site of `count` pages, reorganised in ten ways; about one in eight is gone for good, with pages of like names left.
 */
export function movedSite(count: number, seed: number): MovedPage[] {
  const random = chance(seed)
  const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
  const kinds = Object.entries(KINDS)
  const pages: MovedPage[] = []
  const used = new Set<string>()
  for (let index = 0; pages.length < count; index++) {
    const words = [pick(SUBJECTS), pick(THINGS), pick(PLACES)]
    if (used.has(words.join())) continue
    used.add(words.join())
    const beside = SUBJECTS.find((subject) => !used.has([subject, ...words.slice(1)].join()))
    if (!beside) continue
    used.add([beside, ...words.slice(1)].join())
    const [kind, move] = kinds[pages.length % kinds.length]!
    const [from, to, newTitle] = move({ folder: pick(FOLDERS), words, random, index: pages.length, beside })
    const title = `${cap(words[0]!)} ${words[1]} ${cap(words[2]!)} | ${SITE}`
    const gone = random() < 0.12
    pages.push({ kind, from, title, to: gone ? undefined : to, newTitle: newTitle ? `${newTitle} | ${SITE}` : title })
  }
  return pages
}
