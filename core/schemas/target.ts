import { z } from 'zod'
import { VERDICT_NAMES } from '../targets/verdicts'
import { destination, yesOrNo } from './values'

const confidence = z.enum(['sound', 'doubtful', 'broken'])
const fact = z.object({ label: z.string(), text: z.string(), state: confidence })

/** How a link’s destination stands, as the link tells it; without a verdict before the first check. */
export const linkTarget = z.object({
  verdict: z.enum(VERDICT_NAMES),
  confidence,
  sentence: z.string(),
  checkedAt: z.string(),
  since: z.string(),
  /** Where visitors end up; null where nothing answers. */
  final: z.string().nullable(),
})
export type LinkTarget = z.infer<typeof linkTarget>

export const checkHop = z.object({
  url: z.string(),
  /** 0 where nothing was answered. */
  status: z.int(),
  via: z.enum(['request', 'status', 'refresh', 'script']),
  address: z.string().nullable(),
  milliseconds: z.int(),
  text: z.string(),
  state: confidence,
})
export type CheckHop = z.infer<typeof checkHop>

/** One check with every hop; of old checks that saw nothing new the hops are not kept. */
export const targetCheck = z.object({
  id: z.int(),
  at: z.string(),
  verdict: z.enum(VERDICT_NAMES),
  failed: z.boolean(),
  sentence: z.string(),
  milliseconds: z.int(),
  hops: z.array(checkHop),
  facts: z.array(fact),
})
export type TargetCheckView = z.infer<typeof targetCheck>

/** The checks of one link’s destination, the newest first. */
export const targetChecks = z.object({
  target: linkTarget.nullable(),
  nextAt: z.string().nullable(),
  /** Whether others may show it in a frame; null before the first check. */
  frames: z.object({ allowed: z.boolean(), field: z.string() }).nullable(),
  items: z.array(targetCheck),
})
export type TargetChecks = z.infer<typeof targetChecks>

export const checkRequest = z
  .strictObject({
    links: z
      .array(z.int().min(1))
      .max(10_000, 'At most 10,000 links at once; for more ask for a domain, or for all.')
      .optional(),
    domain: z.string().min(1).optional(),
    all: z.literal(true, 'Say true, or leave it out.').optional(),
  })
  .refine(
    ({ links, domain, all }) => [links, domain, all].filter((one) => one !== undefined).length === 1,
    'Say which to check: “links” with their numbers, “domain” with a host, or “all”.',
  )
export type CheckRequest = z.output<typeof checkRequest>

/** Checks that somebody asked for, and how far they are. */
export const checkRun = z.object({
  id: z.int(),
  total: z.int(),
  done: z.int(),
  state: z.enum(['running', 'done', 'cancelled']),
  /** How those checked so far stand. */
  counts: z.object({ sound: z.int(), doubtful: z.int(), broken: z.int() }),
  askedBy: z.string(),
  askedAt: z.string(),
  endedAt: z.string().nullable(),
  /** Since when checks rest because this machine itself seems cut off. */
  pausedSince: z.string().nullable(),
})
export type CheckRun = z.infer<typeof checkRun>

export const checkPreviewRequest = z.strictObject({ destination })

/** What a destination answers now, before anything leads there. */
export const checkPreview = z.object({
  verdict: z.enum(VERDICT_NAMES),
  /** How bad it would be if it stayed so. */
  confidence,
  sentence: z.string(),
  final: z.string().nullable(),
  title: z.string(),
  card: z.object({ title: z.string(), text: z.string(), picture: z.string(), site: z.string() }).nullable(),
  frames: z.object({ allowed: z.boolean(), field: z.string() }).nullable(),
  hops: z.array(checkHop),
  facts: z.array(fact),
})
export type CheckPreview = z.infer<typeof checkPreview>

const CIDR_4 = /^\d{1,3}(?:\.\d{1,3}){3}(?:\/(?:\d|[12]\d|3[0-2]))?$/
const CIDR_6 = /^[0-9a-fA-F:]*:[0-9a-fA-F:.]*(?:\/(?:\d|[1-9]\d|1[01]\d|12[0-8]))?$/
const cidr = z
  .string()
  .trim()
  .refine((text) => CIDR_4.test(text) || CIDR_6.test(text), 'Give networks like 10.20.0.0/16 or fd00:1::/48.')

export const settingsPatch = z.strictObject({
  checkNetworks: z.array(cidr).max(100, 'At most 100 networks.').optional(),
  checkPerHost: z.int('Give a whole number.').min(1, 'At least 1 at once.').max(20, 'At most 20 at once.').optional(),
  checkPerSecond: z
    .number('Give a number.')
    .min(0.02, 'At least one in fifty seconds (0.02).')
    .max(100, 'At most 100 a second.')
    .optional(),
  checkContact: z
    .string()
    .trim()
    .max(254, 'At most 254 characters.')
    .regex(/^(?:[^\s@]+@[^\s@]+\.[^\s@]+|https?:\/\/\S+|)$/, 'Give an e-mail address or a web address.')
    .refine((text) => /^[\x21-\x7e]*$/.test(text), 'Use plain ASCII; it is sent in a field of HTTP.')
    .optional(),
  brokenAfter: z.int('Give a whole number.').min(1, 'At least 1 check.').max(20, 'At most 20 checks.').optional(),
  brokenOverMinutes: z
    .int('Give a whole number.')
    .min(0, 'At least 0 minutes.')
    .max(43_200, 'At most 30 days, 43,200 minutes.')
    .optional(),
  visitDays: z.int('Give whole days.').min(2, 'At least 2 days.').max(730, 'At most 730 days.').optional(),
  keepNetwork: yesOrNo.optional(),
  honourGpc: yesOrNo.optional(),
  fewPeople: z.int('Give a whole number.').min(1, 'At least 1.').max(100, 'At most 100.').optional(),
})
export type SettingsPatch = z.output<typeof settingsPatch>

export const settings = z.object({
  checkNetworks: z.array(z.string()),
  checkPerHost: z.int(),
  checkPerSecond: z.number(),
  checkContact: z.string(),
  brokenAfter: z.int(),
  brokenOverMinutes: z.int(),
  /** Visits are kept one by one for so many days. */
  visitDays: z.int(),
  keepNetwork: z.boolean(),
  honourGpc: z.boolean(),
  /** Countries of fewer people than this are not told apart. */
  fewPeople: z.int(),
  version: z.int(),
})
export type Settings = z.infer<typeof settings>
