import { charactersOf, type SlugRules } from './slug-rules'

/** Beyond this length the number is told as “more than”. */
const MAX_LENGTH = 60

/**
 * How many addresses a domain's rules allow, of up to 60 characters: alphabet and separators, length, nesting, family
 * prefixes. A separator stands between two characters of the alphabet; capitals that do not matter count once.
 * Reserved and blocked words are not subtracted. Exact.
 */
export function capacityOf(rules: SlugRules, capitalsMatter: boolean): bigint {
  const size = BigInt(charactersFor(rules, capitalsMatter).length)
  const separators = BigInt(new Set(rules.separators).size)
  const families =
    rules.prefixes.length > 0
      ? rules.prefixes.map((prefix) => ({ used: prefix.length + 1, depth: rules.depth - prefix.split('/').length }))
      : [{ used: 0, depth: rules.depth }]
  let total = 0n
  for (const { used, depth } of families) {
    const most = Math.min(rules.maxLength, MAX_LENGTH) - used
    const least = Math.max(1, rules.minLength - used)
    if (depth < 1 || most < least) continue
    // open[d]: texts with d slashes that end in a character of the alphabet; joint[d]: that end in a separator;
    // begun[d]: in a slash.
    let open = row(depth),
      joint = row(depth),
      begun = row(depth)
    open[0] = size
    for (let length = 1; length <= most; length++) {
      if (length >= least) for (const count of open) total += count
      const [before, between, after] = [open, joint, begun]
      open = before.map((_, d) => (before[d]! + between[d]! + after[d]!) * size)
      joint = before.map((count) => count * separators)
      begun = before.map((_, d) => (d === 0 ? 0n : before[d - 1]!))
    }
  }
  return total
}

const row = (depth: number): bigint[] => Array<bigint>(Math.min(depth, MAX_LENGTH)).fill(0n)

/** How many characters random slugs are drawn from; capitals that do not matter count once. */
export const alphabetSize = (rules: SlugRules, capitalsMatter: boolean): number =>
  randomAlphabet(rules, capitalsMatter).length

function charactersFor(rules: SlugRules, capitalsMatter: boolean): string[] {
  const characters = [...charactersOf(rules)]
  return [...new Set(capitalsMatter ? characters : characters.map((character) => character.toLowerCase()))]
}

/** The characters random slugs are drawn from. */
export const randomAlphabet = (rules: SlugRules, capitalsMatter: boolean): string[] =>
  charactersFor(rules, capitalsMatter).filter((character) => !rules.randomUnmistakable || !/[il1o0]/i.test(character))
