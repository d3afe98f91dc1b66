/** Scripts recommended for identifiers (UAX #31 Table 5). */
const RECOMMENDED = [
  'Latin',
  'Cyrillic',
  'Greek',
  'Arabic',
  'Armenian',
  'Bengali',
  'Bopomofo',
  'Devanagari',
  'Ethiopic',
  'Georgian',
  'Gujarati',
  'Gurmukhi',
  'Han',
  'Hangul',
  'Hebrew',
  'Hiragana',
  'Kannada',
  'Katakana',
  'Khmer',
  'Lao',
  'Malayalam',
  'Myanmar',
  'Oriya',
  'Sinhala',
  'Tamil',
  'Telugu',
  'Thaana',
  'Thai',
  'Tibetan',
]
const TESTS = RECOMMENDED.map((script) => [script, new RegExp(`^\\p{Script_Extensions=${script}}$`, 'u')] as const)
const COMMON = /^[\p{Script=Common}\p{Script=Inherited}]$/u
// UTS #39 §5.1: writing systems that use several scripts together.
const TOGETHER: Record<string, string[]> = {
  Han: ['Japan', 'Korea', 'Bopomofo use'],
  Hiragana: ['Japan'],
  Katakana: ['Japan'],
  Hangul: ['Korea'],
  Bopomofo: ['Bopomofo use'],
}

const known = new Map<string, string[] | undefined>()

function scriptsOf(character: string): string[] | undefined {
  if (!known.has(character)) {
    const scripts = TESTS.filter(([, test]) => test.test(character)).map(([script]) => script)
    known.set(
      character,
      COMMON.test(character) && scripts.length === 0
        ? undefined
        : scripts.flatMap((script) => [script, ...(TOGETHER[script] ?? [])]),
    )
  }
  return known.get(character)
}

/** Whether a text is of a single recommended script (UTS #39 §5.1); characters common to all scripts go with any. */
export function isSingleScript(text: string): boolean {
  let left: string[] | undefined
  for (const character of text) {
    const scripts = scriptsOf(character)
    if (scripts === undefined) continue
    left = left === undefined ? scripts : left.filter((script) => scripts.includes(script))
    if (left.length === 0) return false
  }
  return true
}
