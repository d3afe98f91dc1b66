import { describe, expect, it } from 'vitest'
import { localGoal } from '../../../core/address/local-goal'

describe('where one goes after signing in', () => {
  it.each(['/docket', '/links/7?tab=checks#history', '/trace?address=ansl.example%2Ffares'])('is kept: %s', (to) =>
    expect(localGoal(to)).toBe(to),
  )
  it.each([
    '',
    null,
    undefined,
    'docket',
    '//elsewhere.example/',
    '/\\elsewhere.example/',
    'https://elsewhere.example/',
    '/\t/elsewhere.example',
    'javascript:alert(1)',
  ])('is the register instead of %s', (to) => expect(localGoal(to)).toBe('/register'))
})
