import { describe, expect, it } from 'vitest'
import { isTrustworthyOrigin } from '../../../server/http/secure-origin'

// W3C Secure Contexts §3.1, “Is origin potentially trustworthy?”
describe('an origin is trustworthy', () => {
  it.each([
    'https://desk.example',
    'http://127.0.0.1:3000',
    'http://127.8.9.10',
    'http://[::1]:3000',
    'http://localhost',
  ])('%s', (origin) => expect(isTrustworthyOrigin(origin)).toBe(true))
  it.each(['http://desk.example', 'http://127.0.0.1.desk.example', 'http://localhost.example', 'http://10.0.0.1', ''])(
    'not %s',
    (origin) => expect(isTrustworthyOrigin(origin)).toBe(false),
  )
})
