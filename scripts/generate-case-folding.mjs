// Writes core/address/case-folding-data.ts from the Unicode Character Database as carried by @unicode/unicode-15.1.0
// (CaseFolding.txt, statuses C and F), so that a canonical slug never depends on the version of the runtime.
import { writeFileSync } from 'node:fs'
import common from '@unicode/unicode-15.1.0/Case_Folding/C/code-points.mjs'
import full from '@unicode/unicode-15.1.0/Case_Folding/F/code-points.mjs'

const runs = []
for (const [from, to] of [...common].sort((a, b) => a[0] - b[0])) {
  const delta = to - from
  const last = runs.at(-1)
  if (
    last &&
    last.delta === delta &&
    (last.to + last.step === from || (last.to === last.from && from - last.from <= 2))
  ) {
    if (last.to === last.from) last.step = from - last.from
    last.to = from
  } else runs.push({ from, to: from, step: 1, delta })
}
const hex = (n) => n.toString(16)
const commonText = runs.map((r) => [hex(r.from), hex(r.to), r.step, r.delta].join(',')).join(' ')
const fullText = [...full]
  .sort((a, b) => a[0] - b[0])
  .map(([from, to]) => hex(from) + '>' + [to].flat().map(hex).join('+'))
  .join(' ')

writeFileSync(
  new URL('../core/address/case-folding-data.ts', import.meta.url),
  `// Made by scripts/generate-case-folding.mjs from Unicode 15.1 CaseFolding.txt. Do not edit.

/** Status C as runs: first and last code point (hexadecimal), step, distance. */
export const COMMON = '${commonText}'

/** Status F: code point and what it becomes (hexadecimal). */
export const FULL = '${fullText}'
`,
)
process.stdout.write(`${runs.length} runs for ${common.size} common foldings, ${full.size} full foldings\n`)
