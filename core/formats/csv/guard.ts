/**
 * A cell that a spreadsheet would take for a formula stands behind an apostrophe (common practice, no source); so does
 * one that looks as if it stood behind one already.
 */
export const guarded = (cell: string): string => (/^(?:'*[=+\-@]|[\t\r])/.test(cell) ? `'${cell}` : cell)

/** The same without its apostrophe. */
export const unguarded = (cell: string): string => cell.replace(/^'(?='*[=+\-@])/, '')
