const UNITS: Record<string, number> = { '': 1, s: 1, m: 60, h: 3600, d: 86_400, w: 604_800 }
/** The greatest TTL (RFC 2181 §8). */
export const MAX_TTL = 2_147_483_647

/** A TTL in seconds, plain or with the units w d h m s (common practice); `undefined` for what is no TTL. */
export function readTtl(text: string): number | undefined {
  if (!/^(?:\d+|(?:\d+[wdhms])+)$/i.test(text)) return undefined
  let seconds = 0
  for (const [, digits, unit] of text.toLowerCase().matchAll(/(\d+)([wdhms]?)/g))
    seconds += Number(digits) * UNITS[unit!]!
  return seconds <= 4_294_967_295 ? seconds : undefined
}
