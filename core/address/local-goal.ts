/** Where one goes after signing in, unless another page of the desk was asked for. */
const USUAL = '/register'

/** A path of the desk itself, or the register: an address from elsewhere must not decide where a person lands. */
export function localGoal(to: string | null | undefined): string {
  if (!to || !/^\/(?![/\\])/.test(to) || /[\\\p{Cc}]/u.test(to)) return USUAL
  const { origin, pathname, search, hash } = new URL(to, 'https://desk.invalid')
  return origin === 'https://desk.invalid' ? pathname + search + hash : USUAL
}
