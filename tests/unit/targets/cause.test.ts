import { describe, expect, it } from 'vitest'
import { causeOfFailure, type Evidence } from '../../../core/targets'

const seen = (url: string, certificate: object | null = null) =>
  ({ hops: [{ url, certificate }] }) as unknown as Evidence
const unknown = { fault: 'unknown-issuer', issuer: 'Harbour Test Authority' }

describe('what a failing destination comes of', () => {
  it.each([
    ['no-answer', seen('https://dead.example/a?x=1'), 'no-answer dead.example'],
    ['no-answer', seen('https://dead.example:8443/b'), 'no-answer dead.example:8443'],
    ['no-such-name', seen('http://gone.example/'), 'no-such-name gone.example'],
    ['certificate', seen('https://old.example/', { fault: 'expired', issuer: 'A' }), 'certificate old.example'],
    ['certificate', seen('https://one.example/', unknown), 'issuer Harbour Test Authority'],
    ['certificate', seen('https://two.example/', unknown), 'issuer Harbour Test Authority'],
    ['not-found', seen('https://www.example/a'), null],
    ['sign-in', seen('https://www.example/a'), null],
    ['no-answer', { hops: [] } as unknown as Evidence, null],
  ] as const)('%s: %#', (verdict, evidence, cause) => expect(causeOfFailure(verdict, evidence)).toBe(cause))
})
