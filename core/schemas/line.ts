import { z } from 'zod'

/** One line of text, trimmed. */
export const line = (most: number, what: string) =>
  z
    .string(`${what} must be text.`)
    .trim()
    .max(most, `${what} can be at most ${most} characters.`)
    // eslint-disable-next-line no-control-regex
    .refine((text) => !/[\u0000-\u001f\u007f]/.test(text), `${what} must not hold line breaks or control characters.`)
