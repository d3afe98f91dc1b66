/** The redirect statuses of RFC 9110 §15.4 that Fides gives. */
export const REDIRECT_STATUSES = [301, 302, 303, 307, 308] as const
export type RedirectStatus = (typeof REDIRECT_STATUSES)[number]

/**
 * A permanent status may be kept by browsers and replaces the address in search engines (RFC 9110 §15.4.2, §15.4.9).
 */
export const isPermanent = (status: number) => status === 301 || status === 308
