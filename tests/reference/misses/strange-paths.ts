import { spellingList } from './spelling-list'

const OTHERS =
  'blog news en de shop products category tag author 2019/05 2023 docs api/v2 images forum user item'.split(' ')
const ENDINGS = ['', '', '', '', '.html', '.php', '/', '.jpg', '.txt']

/** Paths that mean nothing of ours: words of elsewhere, other sites’ folders, codes by chance. */
export function strangePaths(random: () => number, count: number, half: 'test' | 'tuning' = 'test'): string[] {
  // Words of a spelling list of the registry; ours are among them only by chance.
  const words = [...new Set(spellingList(half).map(({ meant }) => meant))].filter((word) => word.length <= 12)
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
  const code = (length: number) => Array.from({ length }, () => pick([...'abcdefghijkmnpqrstuvwxyz23456789'])).join('')
  return Array.from({ length: count }, () => {
    const kind = random()
    if (kind < 0.35) return `${pick(words)}-${pick(words)}${pick(ENDINGS)}`
    if (kind < 0.55) return `${pick(OTHERS)}/${pick(words)}${pick(ENDINGS)}`
    if (kind < 0.7) return code(6 + Math.floor(random() * 5))
    if (kind < 0.85) return pick(words.filter((word) => word.length > 5))
    return `${pick(words)}/${code(4)}`
  }).map((path) => path.replace(/\/$/, ''))
}
