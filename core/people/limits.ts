/** A password has at least so many characters (OWASP ASVS 5.0 §6.2.1 asks for 8, and recommends 15). */
export const MIN_CHARACTERS = 10

/** A session nobody used for so long is over, and every one is so long after signing in (docs/security.md). */
export const SESSION_IDLE_HOURS = 8
export const SESSION_WHOLE_DAYS = 7
