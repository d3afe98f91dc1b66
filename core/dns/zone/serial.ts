const MODULUS = 2 ** 32
const HALF = 2 ** 31

/**
 * Compares two serials (RFC 1982 §3.2): negative where `a` is before `b`, positive where after, 0 where equal, and
 * `undefined` where the two lie exactly half the circle apart, which the standard leaves undefined.
 */
export function compareSerials(a: number, b: number): number | undefined {
  if (a === b) return 0
  const ahead = (b - a + MODULUS) % MODULUS
  return ahead === HALF ? undefined : ahead < HALF ? -1 : 1
}

/** Adds to a serial, at most 2^31 − 1 (RFC 1982 §3.1); throws a RangeError beyond. */
export function addToSerial(serial: number, by: number): number {
  if (by < 0 || by > HALF - 1) throw new RangeError('RFC 1982 allows adding 0 to 2147483647')
  return (serial + by) % MODULUS
}

/**
 * The serial after a change on `day` (UTC). Where the zone counts as YYYYMMDDnn (common practice), the day's first
 * number is taken if that lies ahead, else the next one; any other serial goes up by one.
 */
export function nextSerial(serial: number, day: Date): number {
  const dated = /^(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\d|3[01])\d\d$/.test(String(serial))
  if (!dated) return addToSerial(serial, 1)
  const today = Number(day.toISOString().slice(0, 10).replaceAll('-', '') + '00')
  return compareSerials(serial, today) === -1 ? today : addToSerial(serial, 1)
}
