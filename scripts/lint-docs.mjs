// Refuses the turns of phrase of refused-words.mjs in the README and docs/; part of npm run lint.
import { readdirSync, readFileSync } from 'node:fs'
import { REFUSED_WORDS, refusedSource } from './refused-words.mjs'

// words.md quotes what it refuses; semantics.md holds the rules in the words of their sources.
const QUOTING = new Set(['words.md', 'semantics.md'])
const files = ['README.md', ...readdirSync('docs').flatMap((name) => (QUOTING.has(name) ? [] : [`docs/${name}`]))]
let faults = 0
for (const file of files.filter((name) => name.endsWith('.md'))) {
  // Code is exempt.
  const text = readFileSync(file, 'utf8').replaceAll(/```[\s\S]*?```|`[^`\n]*`/g, (code) =>
    code.replaceAll(/[^\n]/g, ' '),
  )
  text.split('\n').forEach((line, index) => {
    for (const { pattern, instead } of REFUSED_WORDS) {
      const found = new RegExp(refusedSource(pattern), 'i').exec(line)
      if (!found) continue
      faults++
      process.stderr.write(`${file}:${index + 1}: “${found[0]}”; write ${instead} (docs/words.md)\n`)
    }
  })
}
process.exit(faults > 0 ? 1 : 0)
