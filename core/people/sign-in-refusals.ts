/** Why a sign-in form was refused, by the word in the address of the page that is shown again. */
export const SIGN_IN_REFUSALS = {
  wrong: 'Wrong e-mail address or password.',
  limited: 'Too many attempts. Wait 15 minutes, then try again.',
  later: 'Signing in does not work at the moment. Try again shortly.',
  origin: 'Open the sign-in page again and sign in there.',
} as const

export type SignInRefusal = keyof typeof SIGN_IN_REFUSALS

/** The sentence for a refusal; empty where there is none. */
export const refusalWords = (word: string | null): string =>
  word !== null && Object.hasOwn(SIGN_IN_REFUSALS, word) ? SIGN_IN_REFUSALS[word as SignInRefusal] : ''
