import { z } from 'zod'
import { DESTINATION_REFUSALS, judgeSlug, readDestination, SLUG_REFUSALS } from '../address'
import { line } from './line'

/** Schemes no destination may have, whatever an administrator lists: they run or read in the visitor's browser. */
const NEVER = ['javascript', 'data', 'vbscript', 'file', 'blob', 'about']

/**
 * A destination as kept: what `readDestination` makes of it. App schemes are judged by the use case, which knows the
 * domain.
 */
export const destination = z.string('Enter a destination.').transform((typed, context) => {
  const scheme = /^([a-z][a-z0-9+.-]*):/i.exec(typed.trim())?.[1]?.toLowerCase()
  const reading = readDestination(typed, scheme && !NEVER.includes(scheme) ? [scheme] : [])
  if (reading.ok) return reading.destination
  context.addIssue(DESTINATION_REFUSALS[reading.reason])
  return z.NEVER
})

/** A scheme an administrator may list for destinations that open an app. */
export const appScheme = z
  .string()
  .regex(/^[a-z][a-z0-9+.-]{1,30}$/, 'A scheme is lower case, like “mailto”.')
  .refine((scheme) => ![...NEVER, 'http', 'https'].includes(scheme), 'This scheme cannot be listed.')

export const MAX_DESTINATION_SENTENCE = 'The destination can be at most 8,000 characters.'

export const slug = z.string('Enter a slug, for example “fares”.').superRefine((typed, context) => {
  const refusal = judgeSlug(typed)
  if (refusal) context.addIssue(SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
})

// What the database's DATETIME holds, and no clock of a printed thing reads otherwise.
const [EARLIEST, LATEST] = [Date.UTC(1970, 0, 1), Date.UTC(9999, 11, 31)]

/** A moment with its offset from UTC, within what can be kept. */
export const moment = z.iso
  .datetime({
    offset: true,
    error: 'Enter a date and time in RFC 3339 form, for example 2027-03-01T08:00:00Z.',
    abort: true,
  })
  .refine((text) => Date.parse(text) >= EARLIEST && Date.parse(text) <= LATEST, 'Give a moment from 1970 to 9999.')

export const yesOrNo = z.boolean('Use true or false.')
export const note = z.string('The note must be text.').max(4000, 'The note can be at most 4,000 characters.')
export const title = line(300, 'The title')
export const reason = line(500, 'The reason').optional()
export const domainName = z
  .string('Name the domain, like “ansl.example”.')
  .min(1, 'Name the domain, like “ansl.example”.')

/** The value of a visitor's Accept-Language (RFC 9110 §12.5.4); empty where they name none. */
export const acceptLanguage = z.string().trim().max(1000, 'At most 1,000 characters.').default('')
