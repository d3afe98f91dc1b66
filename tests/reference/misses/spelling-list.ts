import { readFileSync } from 'node:fs'

/**
 * Real people’s misspellings, each with its one correction: “Common English Misspellings Dictionary for cspell” of the
 * npm registry (CC BY-SA 4.0), read from where it was installed. Words of small letters only;
 * half of the corrections, by their letters, are for tuning and never for a test.
 */
export function spellingList(half: 'test' | 'tuning' = 'test'): { typed: string; meant: string }[] {
  const file = new URL('../../../node_modules/@cspell/dict-en-common-misspellings/dict/dict-en.json', import.meta.url)
  const { dictionaryDefinitions } = JSON.parse(readFileSync(file, 'utf8')) as {
    dictionaryDefinitions: [{ suggestWords: string[] }]
  }
  return dictionaryDefinitions[0].suggestWords.flatMap((line) => {
    const [typed = '', meant = ''] = line.split('->')
    const sum = [...meant].reduce((total, letter) => total + letter.charCodeAt(0), 0)
    return /^[a-z]+$/.test(typed) && /^[a-z]{4,}$/.test(meant) && sum % 2 === Number(half === 'tuning')
      ? [{ typed, meant }]
      : []
  })
}
