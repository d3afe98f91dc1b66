import { z } from 'zod'

/** One line of text, trimmed. */
export const line = (most: number, what: string) =>
  z
    .string(`${what} must be text.`)
    .trim()
    .max(most, `${what} is too long: the maximum is ${most} characters.`)
    .refine(
      // eslint-disable-next-line no-control-regex
      (text) => !/[\u0000-\u001f\u007f]/.test(text),
      `${what} must not contain line breaks or control characters.`,
    )
