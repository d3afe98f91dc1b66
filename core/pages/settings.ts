import { z } from 'zod'
import { line } from '../schemas/line'
import { yesOrNo } from '../schemas/values'
import { contrastWith } from './contrast'
import { PAGE_KINDS, PAGE_LANGUAGES, type PageKind, type PageLanguage } from './words'

const LANGUAGE_TAGS = Object.keys(PAGE_LANGUAGES) as [PageLanguage, ...PageLanguage[]]
const KIND_NAMES = Object.keys(PAGE_KINDS) as [PageKind, ...PageKind[]]

/** Text on both papers must be read: WCAG 2.2 §1.4.3 asks for 4.5 to 1. */
const MIN_CONTRAST = 4.5
const PAPERS = { light: '#f6f3ec', dark: '#1b1a1d' } as const

const colour = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^#[0-9a-f]{6}$/, 'Give a colour as six hexadecimal digits, like #6a2c4f.')
  .superRefine((value, context) => {
    if (!/^#[0-9a-f]{6}$/.test(value)) return
    const contrast = contrastWith(value, PAPERS.light)
    if (contrast < MIN_CONTRAST)
      context.addIssue({
        code: 'custom',
        message:
          `On the paper of the page this colour has a contrast of ${contrast.toFixed(1)} to 1; 4.5 is needed. ` +
          'Choose a darker one.',
      })
  })

const contact = line(200, 'The contact').refine(
  (text) => text === '' || /^(?:https?:\/\/[^\s]+|[^\s@]+@[^\s@]+\.[^\s@]+|\+?[0-9 ()/-]{5,})$/.test(text),
  'Give a mail address, a telephone number, or a page beginning with https://.',
)

const pageText = z.strictObject({ heading: line(80, 'The heading'), sentence: line(300, 'The sentence') }).partial()

/** What a domain’s own pages say and show; what is left out is as it comes. */
export const pageSettings = z
  .strictObject({
    /** What the domain is called on its pages; its host where empty. */
    name: line(60, 'The name'),
    /** One to three characters beside the name. */
    mark: line(3, 'The mark'),
    colour: colour.nullable(),
    contact,
    /** The languages it speaks; the first is the default. */
    languages: z
      .array(z.enum(LANGUAGE_TAGS, 'Choose among en, pt, de, fr and es.'))
      .min(1, 'Choose at least one language.')
      .max(LANGUAGE_TAGS.length)
      .refine((tags) => new Set(tags).size === tags.length, 'Name each language once.'),
    /** Whether links that were likely meant are offered to who mistyped. */
    offers: yesOrNo,
    texts: z.partialRecord(z.enum(LANGUAGE_TAGS), z.partialRecord(z.enum(KIND_NAMES), pageText)),
  })
  .partial()
export type PageSettings = z.output<typeof pageSettings>
