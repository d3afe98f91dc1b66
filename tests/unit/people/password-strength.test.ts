import { describe, expect, it } from 'vitest'
import { passwordStrength } from '../../../core/people'

const ABOUT = ['Ines Caldwell', 'ines.caldwell@portansel.example', 'Port Ansel Transit']

describe('passwordStrength', () => {
  it.each([
    ['short', 'too short'],
    ['password1234', 'among the common ones'],
    ['qwertyuiop', 'a row of the keyboard'],
    ['aaaaaaaaaaaa', 'one letter'],
    ['Ines Caldwell1', 'the owner’s name'],
    ['portansel.example', 'the owner’s address'],
    ['Port Ansel Transit', 'the organisation'],
  ])('refuses %j: %s', (password) => expect(passwordStrength(password, ABOUT).refusal).not.toBe(''))

  it.each(['ferry otter umbrella nine', 'tram lantern mussel quay', 'v8#kQ-x2!pLw'])('takes %j', (password) =>
    expect(passwordStrength(password, ABOUT)).toMatchObject({ refusal: '' }),
  )

  it('takes no longer for a long one', () => {
    const began = performance.now()
    passwordStrength('correct horse '.repeat(1000), ABOUT)
    expect(performance.now() - began).toBeLessThan(3000)
  })
})
