import { readFileSync } from 'node:fs'

/**
 * Real people’s misspellings, each with its one correction: “Common English Misspellings Dictionary for cspell” of the
 * npm registry (CC BY-SA 4.0), read from where it was installed. Words of small letters only.
 */
export function spellingList(): { typed: string; meant: string }[] {
  const file = new URL(
    '../../../node_modules/@cspell/dict-en-common-misspellings/dict/dict-en.json',
    import.meta.url,
  )
  const { dictionaryDefinitions } = JSON.parse(readFileSync(file, 'utf8')) as {
    dictionaryDefinitions: [{ suggestWords: string[] }]
  }
  return dictionaryDefinitions[0].suggestWords.flatMap((line) => {
    const [typed = '', meant = ''] = line.split('->')
    return /^[a-z]+$/.test(typed) && /^[a-z]{4,}$/.test(meant) ? [{ typed, meant }] : []
  })
}
