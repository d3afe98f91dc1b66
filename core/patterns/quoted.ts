/** A text as an expression that takes exactly it; it may stand in quotes as well. */
export const quoted = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|"]/g, '\\$&')
