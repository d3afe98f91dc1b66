/**
 * Characters that show nothing themselves, break a line or turn its direction (Unicode general categories Cc, Cf, Zl,
 * Zp): in what strangers give they could make a text pass for another.
 */
export const HIDDEN_CHARACTERS = /[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu
