import parseDuration from 'parse-duration'

const UNITS = [
  ['day', 86_400],
  ['hour', 3600],
  ['minute', 60],
  ['second', 1],
] as const
const WRITTEN = /^(?:\s*\d+(?:[.,]\d+)?\s*[a-z]+(?:\s*(?:,|and)?\s*(?=\d|$)))+\s*$/i

/** A duration in words, exactly: `1 day 12 hours`. Whole seconds. */
export function durationWords(seconds: number): string {
  const parts: string[] = []
  let rest = seconds
  for (const [unit, length] of UNITS) {
    const count = Math.floor(rest / length)
    rest -= count * length
    if (count > 0) parts.push(`${count.toLocaleString('en')} ${unit}${count === 1 ? '' : 's'}`)
  }
  return parts.join(' ') || '0 seconds'
}

/**
 * Reads a duration as people type it: `7 days`, `1.5 h`, `1 day 12 hours`, `2w`. Gives whole seconds; undefined where
 * it is none, or a number without a unit other than 0.
 */
export function readTypedDuration(typed: string): number | undefined {
  const text = typed.trim().replace(/,(?=\d{3}\b)/g, '')
  if (text === '0') return 0
  if (!WRITTEN.test(text)) return undefined
  const seconds = parseDuration(text.replace(/\band\b/g, ' '), 's')
  return seconds === null || !Number.isFinite(seconds) ? undefined : Math.round(seconds)
}
