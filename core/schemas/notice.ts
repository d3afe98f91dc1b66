import { z } from 'zod'
import { LANES, type LaneName } from '../docket'
import { WEBHOOK_KINDS } from '../notices/webhooks'
import { yesOrNo } from './values'

const lane = z.enum(Object.keys(LANES) as [LaneName, ...LaneName[]], 'Choose lanes of the docket.')
const hour = (what: string) =>
  z.int(`${what}: an hour from 0 to 23.`).min(0, `${what}: from 0.`).max(23, `${what}: to 23.`)
const visits = (what: string) =>
  z
    .int(`${what}: a whole number of visits a day.`)
    .min(0, `${what}: at least 0.`)
    .max(1_000_000_000, `${what}: too many.`)

const fields = {
  lanes: z.array(lane).max(20),
  onlyMine: yesOrNo,
  minVisits: visits('The least a case harms'),
  digest: z.enum(['none', 'daily', 'weekly'], 'Choose none, daily or weekly.'),
  digestHour: hour('The hour of the digest'),
  digestWeekday: z
    .int('Choose a day of the week.')
    .min(1, 'Choose a day of the week.')
    .max(7, 'Choose a day of the week.'),
  atOnce: yesOrNo,
  atOnceVisits: visits('What is told at once'),
  quiet: yesOrNo,
  quietFrom: hour('The beginning of the quiet hours'),
  quietTo: hour('The end of the quiet hours'),
  report: yesOrNo,
}

export const noticeSettings = z.object({
  ...fields,
  /** The address mails go to. */
  email: z.string(),
  /** Whether this installation sends mail at all. */
  sends: z.boolean(),
  version: z.int(),
})
export type NoticeSettingsView = z.infer<typeof noticeSettings>

export const noticeSettingsPatch = z.strictObject(fields).partial()
export type NoticeSettingsPatch = z.output<typeof noticeSettingsPatch>

export const mailView = z.object({
  id: z.int(),
  kind: z.string(),
  subject: z.string(),
  state: z.enum(['waiting', 'sent', 'dropped', 'failed']),
  madeAt: z.string(),
  dueAt: z.string(),
  sentAt: z.string().nullable(),
  problem: z.string(),
})
export type MailView = z.infer<typeof mailView>

export const stopMails = z.strictObject({
  key: z
    .string('The key of the mail is missing.')
    .regex(/^\d{1,16}\.[A-Za-z0-9_-]{43}$/, 'This is no key of one of our mails.'),
})

const kinds = z
  .array(z.enum(WEBHOOK_KINDS as [(typeof WEBHOOK_KINDS)[number], ...typeof WEBHOOK_KINDS], 'Choose what it is told.'))
  .min(1, 'Choose at least one event.')
  .max(20)

export const webhookCreate = z.strictObject({
  url: z
    .string('Give a web address.')
    .trim()
    .max(2000, 'At most 2,000 characters.')
    .refine((text) => {
      if (!URL.canParse(text)) return false
      const url = new URL(text)
      return /^https?:$/.test(url.protocol) && url.username === '' && url.password === '' && url.hash === ''
    }, 'Give a web address like https://hooks.example/fides, without a name, password or fragment.'),
  kinds,
})
export type WebhookCreate = z.output<typeof webhookCreate>

export const webhookPatch = z.strictObject({ kinds, active: yesOrNo }).partial()

export const webhook = z.object({
  id: z.int(),
  url: z.string(),
  kinds: z.array(z.string()),
  active: z.boolean(),
  madeBy: z.string(),
  madeAt: z.string(),
  /** Since when no delivery succeeded. */
  failingSince: z.string().nullable(),
  problem: z.string(),
  version: z.int(),
})
export type WebhookView = z.infer<typeof webhook>
/** The secret its messages are signed with is told once. */
export const webhookMade = webhook.extend({ secret: z.string() })

export const delivery = z.object({
  id: z.int(),
  messageId: z.string(),
  kind: z.string(),
  state: z.enum(['waiting', 'delivered', 'failed']),
  madeAt: z.string(),
  /** When it is tried next, while it waits. */
  dueAt: z.string(),
  tries: z.int(),
  triedAt: z.string().nullable(),
  status: z.int().nullable(),
  milliseconds: z.int().nullable(),
  problem: z.string(),
  payload: z.string(),
})
export type DeliveryView = z.infer<typeof delivery>

export const deliveriesQuery = z.strictObject({
  cursor: z
    .string()
    .regex(/^\d{1,15}$/, 'Use the “next” of the page before.')
    .optional(),
  limit: z.coerce.number('limit: a number.').int().min(1).max(200).default(50),
})

export const feedKind = z.enum(['calendar', 'ledger'], 'Choose calendar or ledger.')
export const feedMake = z.strictObject({ kind: feedKind })
export const feedAddress = z.object({ kind: feedKind, madeAt: z.string(), address: z.string().nullable() })
export type FeedAddress = z.infer<typeof feedAddress>

export const feedQuery = z.strictObject({
  key: z.string('The key is missing.').regex(/^[A-Za-z0-9_-]{43}$/, 'This is no key of a feed.'),
})
