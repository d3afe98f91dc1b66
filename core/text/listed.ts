const LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' })

/** Names as a sentence lists them: `a`, `a and b`, `a, b and c`; empty where there are none. */
export const listed = (names: readonly string[]): string => LIST.format(names)
