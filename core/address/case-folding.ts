import { COMMON, FULL } from './case-folding-data'

const foldings = new Map<string, string>()
for (const run of COMMON.split(' ')) {
  const [from, to, step, delta] = run.split(',') as [string, string, string, string]
  for (let code = parseInt(from, 16); code <= parseInt(to, 16); code += Number(step)) {
    foldings.set(String.fromCodePoint(code), String.fromCodePoint(code + Number(delta)))
  }
}
for (const rule of FULL.split(' ')) {
  const [from, to] = rule.split('>') as [string, string]
  foldings.set(
    String.fromCodePoint(parseInt(from, 16)),
    to
      .split('+')
      .map((code) => String.fromCodePoint(parseInt(code, 16)))
      .join(''),
  )
}

/** Full case folding, statuses C and F of Unicode 15.1's CaseFolding.txt (The Unicode Standard §3.13, toCasefold). */
export function foldCase(text: string): string {
  if (/^[\0-\x7f]*$/.test(text)) return text.toLowerCase()
  let folded = ''
  for (const character of text) folded += foldings.get(character) ?? character
  return folded
}
