import type { DOMAIN_SECTIONS } from '~~/core/schemas'

/** The sections of a domain's page, in their order, as people read them. */
export const SECTION_WORDS: readonly (readonly [(typeof DOMAIN_SECTIONS)[number], string])[] = [
  ['records', 'Records'],
  ['slug-rules', 'Slug rules'],
  ['rules', 'Rules'],
  ['fallbacks', 'Fallbacks'],
  ['pages', 'Visitor pages'],
  ['certificate', 'Certificate'],
  ['renewal', 'Renewal'],
  ['old-paths', 'Old paths'],
]
