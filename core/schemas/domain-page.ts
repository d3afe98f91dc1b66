import { z } from 'zod'
import { SIGHTS, zoneRecord } from './names'

/** What the person who keeps a domain's zone is given: a text to send, and a page that needs no account. */
export const handover = z.object({ text: z.string(), page: z.string() })
export type Handover = z.infer<typeof handover>

export const handoverQuery = z.strictObject({
  key: z
    .string('The key of the page is missing.')
    .regex(/^\d{1,16}\.[A-Za-z0-9_-]{43}$/, 'This address is not complete. Copy it whole from the message.'),
})
/** The records a zone is to have, and at which of its name servers each was seen. */
export const handoverPage = z.object({
  host: z.string(),
  zone: z.string(),
  organisation: z.string(),
  records: z.array(
    z.object({
      ...zoneRecord.shape,
      forms: z.object({ relative: z.string(), plain: z.string(), absolute: z.string() }),
      /** What each name server of the zone was seen to give. */
      seen: z.array(z.object({ server: z.string(), sight: z.enum(SIGHTS).nullable() })),
      arrived: z.boolean(),
    }),
  ),
  lookedAt: z.string().nullable(),
})
export type HandoverPage = z.infer<typeof handoverPage>

/** What is set and seen of a domain, by the sections of its page. */
export const DOMAIN_SECTIONS = [
  'records',
  'slug-rules',
  'rules',
  'fallbacks',
  'pages',
  'certificate',
  'renewal',
  'old-paths',
] as const
export const domainSections = z.object({
  items: z.array(
    z.object({
      section: z.enum(DOMAIN_SECTIONS),
      state: z.enum(['sound', 'doubtful', 'broken', 'idle']),
      /** A few words; empty where there is nothing to say. */
      text: z.string(),
    }),
  ),
})
export type DomainSections = z.infer<typeof domainSections>
