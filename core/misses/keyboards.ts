/**
 * Rows of the letter part of keyboards, as far as they lie differently: places of ISO/IEC 9995-2 with the national
 * layouts in common use (US and GB, DIN 2137, the usual French one). From memory. Each row is shifted against the one
 * above it by about half a key.
 */
const LAYOUTS: Record<string, readonly string[]> = {
  qwerty: ['1234567890-', 'qwertyuiop', 'asdfghjkl', 'zxcvbnm'],
  qwertz: ['1234567890', 'qwertzuiop', 'asdfghjkl', 'yxcvbnm-'],
  azerty: ['1234567890', 'azertyuiop', 'qsdfghjklm', 'wxcvbn'],
}

/** Digits of a phone’s dialling pad (ITU-T E.161), where each key lies beside, above or below others. */
const PAD: readonly string[] = ['123', '456', '789', ' 0 ']

/** How far each key of a row lies to the right, in keys. */
const SHIFTS = [0, 0.5, 0.75, 1.25]
/** Keys whose middles are no farther apart than this are neighbours. */
const NEAR = 1.3

const pairs = new Uint8Array(128 * 128)
const pairOf = (a: number, b: number) => a * 128 + b

function add(rows: readonly string[], shifts: readonly number[]): void {
  const keys = rows.flatMap((row, y) => [...row].map((key, x) => ({ key, x: x + (shifts[y] ?? 0), y })))
  for (const one of keys)
    for (const other of keys)
      if (one.key !== other.key && one.key !== ' ' && other.key !== ' ')
        if (Math.hypot(one.x - other.x, one.y - other.y) <= NEAR)
          pairs[pairOf(one.key.charCodeAt(0), other.key.charCodeAt(0))] = 1
}
for (const rows of Object.values(LAYOUTS)) add(rows, SHIFTS)
add(PAD, [])

/** Whether two keys are neighbours on a keyboard people use: QWERTY, QWERTZ, AZERTY, or a phone’s digits. */
export const areNeighbours = (a: number, b: number): boolean => a < 128 && b < 128 && pairs[pairOf(a, b)] === 1
