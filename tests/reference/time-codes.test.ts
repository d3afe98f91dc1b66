import { generateSync } from 'otplib'
import { describe, expect, it } from 'vitest'

// RFC 6238, appendix B: the rows for SHA-1, secret “12345678901234567890”; eight digits there, of which an
// authenticator shows the last six (RFC 4226 §5.3: the code is a remainder).
const SECRET = 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ'
describe('time codes', () => {
  it.each([
    [59, '94287082'],
    [1_111_111_109, '07081804'],
    [1_111_111_111, '14050471'],
    [1_234_567_890, '89005924'],
    [2_000_000_000, '69279037'],
    [20_000_000_000, '65353130'],
  ])('at %i seconds', (epoch, code) => expect(generateSync({ secret: SECRET, epoch })).toBe(code.slice(2)))
})
