// Turns of phrase that texts for people must not use (docs/words.md, section 1), with the word that takes their place.
// ESLint refuses them in strings and templates, scripts/lint-docs.mjs in the documents.

/** @type {{ pattern: string, instead: string }[]} */
export const REFUSED_WORDS = [
  { pattern: 'who(m|mever|ever)', instead: 'name the person, or “anyone who”' },
  { pattern: 'in vain', instead: 'without success; “requested but not found”' },
  { pattern: 'of late', instead: 'recently' },
  { pattern: 'anew', instead: 'again' },
  { pattern: 'all the same', instead: 'anyway' },
  { pattern: '(by|of) itself', instead: 'automatically' },
  { pattern: 'of (its|your|their|our|one’s) own', instead: '“separate”, “your”' },
  { pattern: '(none )?of ours', instead: '“not in the register”, “one of your domains”' },
  { pattern: 'for good', instead: 'permanently' },
  { pattern: 'for ever', instead: 'permanently' },
  { pattern: 'so many', instead: 'the number' },
  { pattern: 'let(s|ting)? (it )?go', instead: 'discard' },
  { pattern: '(takes?|taken|took|taking) (it |them |that |this )?back', instead: 'undo' },
  { pattern: '(takes?|taken|took|taking) (it |them |that |this )?(away|off)', instead: 'remove' },
  { pattern: '(takes?|taken|took|taking) (it |them |that |this )?out', instead: '“export”, “remove”' },
  { pattern: '(brings?|brought|bringing) (it |them |that |this )?in', instead: 'import' },
  { pattern: 'lies? ahead', instead: 'is in the future' },
  { pattern: 'mend(s|ed|ing)?', instead: '“correct”, “repair”' },
  { pattern: 'forgiv(e|es|en|eness|ing)', instead: '“tolerant matching”, “correct”' },
  { pattern: 'slips?', instead: 'typing error' },
  { pattern: 'in a circle', instead: 'redirect loop' },
  { pattern: 'octets?', instead: 'bytes' },
  { pattern: '(work|works|worked|working) out', instead: 'calculate' },
  { pattern: "o[’']clock", instead: 'the time, for example 07:00' },
  {
    pattern: "(do|does|did|is|are|was|were|ca|wo|has|have|had|should|would|could)n[’']t",
    instead: 'the full form, for example “cannot”',
  },
]

/** Returns the source of the expression that finds one of them as whole words. */
export const refusedSource = (pattern) => `(?<![\\w-])(?:${pattern})(?![\\w-])`
