import { LANES, type LaneName } from '../docket'
import { markup } from '../pages'

/** What every mail names. */
export interface MailFacts {
  organisation: string
  /** The desk's address, without a slash at its end. */
  desk: string
  timeZone: string
}

/** A mail's words; its subject is one line without control characters. */
export interface MailText {
  subject: string
  text: string
  html: string
}

/** A case as a mail tells it. */
interface CaseLine {
  id: number
  lane: LaneName
  headline: string
  sentence: string
  /** Visits a day it harms, or will. */
  harmed: number
  /** What it is about, in short. */
  name: string
  /** Whether its harm lies ahead. */
  ahead: boolean
}

/** Cases of one cause. */
interface DigestGroup {
  cases: readonly CaseLine[]
}

const MAX_TOLD = 10
const MAX_SUBJECT = 180

/** Whatever stands in a name or title, it stays on its line. */
const oneLine = (text: string): string =>
  text
    .replace(/[\p{Cc}\p{Zl}\p{Zp}\p{Cf}]+/gu, ' ')
    .replace(/ {2,}/g, ' ')
    .trim()

const visits = (count: number) => {
  const rounded = Math.round(count)
  return rounded === 1 ? '1 visit a day' : `${rounded.toLocaleString('en')} visits a day`
}
const casesWords = (count: number) => (count === 1 ? '1 case' : `${count.toLocaleString('en')} cases`)

const oneCause = (cases: number) => (cases > 1 ? `, ${casesWords(cases)} with the same cause` : '')

/** A part of a mail: a heading, sentences, and where it leads. */
export interface Part {
  heading?: string
  lines: readonly string[]
  links?: readonly { label: string; to: string }[]
}

export function compose(facts: MailFacts, subject: string, parts: readonly Part[], foot: string): MailText {
  const all = parts.map((part) => ({ ...part, lines: part.lines.map(oneLine), links: part.links ?? [] }))
  const address = (to: string) => facts.desk + to
  const text =
    all
      .map(({ heading, lines, links }) =>
        [
          ...(heading ? [oneLine(heading), ''] : []),
          ...lines,
          ...links.map(({ label, to }) => `${label}: ${address(to)}`),
        ].join('\n'),
      )
      .join('\n\n') + `\n\n-- \n${foot}\n`
  const body = all.map(({ heading, lines, links }) => [
    heading && markup`<h2 style="font-size:17px;margin:22px 0 6px">${oneLine(heading)}</h2>`,
    lines.map((line) => markup`<p style="${PARAGRAPH}">${line}</p>`),
    links.map(
      ({ label, to }) => markup`<p style="${PARAGRAPH}"><a style="${LINK}" href="${address(to)}">${label}</a></p>`,
    ),
  ])
  const head = markup`<head><meta charset="utf-8"><title>${oneLine(subject)}</title></head>`
  const page = markup`<!doctype html><html lang="en">${head}<body style="${BODY}"><div style="${SHEET}">${body}
<p style="${FOOT}">${linked(foot)}</p></div></body></html>`
  return { subject: oneLine(subject).slice(0, MAX_SUBJECT), text, html: page.text }
}

// Mail programs know no style sheets.
const BODY = 'margin:0;background:#F6F3EC;color:#22252B;font:15px/1.5 sans-serif'
const SHEET = 'max-width:640px;margin:0 auto;padding:24px;background:#FFFDF9'
const PARAGRAPH = 'margin:0 0 8px'
const LINK = 'color:#6A2C4F'
const FOOT = 'margin:28px 0 0;padding-top:12px;border-top:1px solid #DDD6C8;color:#5B606B;font-size:13px'

/** Text in which addresses can be followed. */
const linked = (text: string) =>
  text
    .split('\n')
    .map((line, index) => [
      index > 0 && markup`<br>`,
      line
        .split(/(https?:\/\/\S+)/)
        .map((part) => (/^https?:/.test(part) ? markup`<a style="color:#5B606B" href="${part}">${part}</a>` : part)),
    ])

export const footOf = (facts: MailFacts, why: string, stop: string | undefined) =>
  oneLine(`Fides, for ${facts.organisation}. ${why}`) +
  `\nNotifications: ${facts.desk}/settings/notices` +
  (stop ? `\nUnsubscribe: ${stop}` : '')

const harmWord = ({ ahead }: CaseLine) => (ahead ? 'will be affected' : 'are affected')

/** A case in one line: what it is about, where the headline does not say so, and what happened. */
const headlineOf = ({ name, headline }: CaseLine) => (headline.includes(name) ? headline : `${name}: ${headline}`)

const caseLink = ({ id }: CaseLine) => `/docket?case=${id}`

/** The mail about one cause that harms many: what happened, how many are harmed, and the case that says what to do. */
export function caseMail(facts: MailFacts, cases: readonly CaseLine[], stop: string): MailText {
  const [first] = cases as [CaseLine]
  const harmed = cases.reduce((sum, one) => sum + one.harmed, 0)
  const others = cases.slice(1, MAX_TOLD)
  const rest = cases.length - 1 - others.length
  const parts: Part[] = [
    {
      heading: headlineOf(first),
      lines: [first.sentence, `About ${visits(harmed)} ${harmWord(first)}${oneCause(cases.length)}.`],
      links: [{ label: 'Open the case and its remedies', to: caseLink(first) }],
    },
    ...(others.length > 0
      ? [
          {
            heading: 'Same cause',
            lines: [
              ...others.map((one) => `${headlineOf(one)} (${visits(one.harmed)})`),
              ...(rest > 0 ? [`and ${casesWords(rest)} more`] : []),
            ],
          },
        ]
      : []),
  ]
  const many = cases.length > 1 ? ` and ${(cases.length - 1).toLocaleString('en')} more` : ''
  return compose(
    facts,
    `${headlineOf(first)}${many}, ${visits(harmed)}`,
    parts,
    footOf(facts, 'You receive this because you asked for immediate notification of urgent cases.', stop),
  )
}

interface DigestFacts {
  /** From when on it tells. */
  since: string
  /** New causes, the most harmful first. */
  groups: readonly DigestGroup[]
  settled: number
  open: number
  /** Dates of the days to come, in words. */
  dates: readonly string[]
}

/** The digest: what opened since the last one, what was settled, and which dates come. */
export function digestMail(facts: MailFacts, digest: DigestFacts, stop: string): MailText {
  const { groups, settled, open, dates, since } = digest
  const opened = groups.reduce((sum, { cases }) => sum + cases.length, 0)
  const parts: Part[] = [
    {
      lines: [
        `Since ${since}: ${casesWords(opened)} opened, ${settled.toLocaleString('en')} settled; ` +
          `${casesWords(open)} open.`,
      ],
      links: [{ label: 'The docket', to: '/docket' }],
    },
    ...groups.slice(0, MAX_TOLD).map(({ cases }): Part => {
      const [first] = cases as [CaseLine]
      const harmed = cases.reduce((sum, one) => sum + one.harmed, 0)
      return {
        heading: `${LANES[first.lane]}: ${headlineOf(first)}`,
        lines: [first.sentence, `About ${visits(harmed)} ${harmWord(first)}${oneCause(cases.length)}.`],
        links: [{ label: 'See the case', to: caseLink(first) }],
      }
    }),
    ...(groups.length > MAX_TOLD
      ? [{ lines: [`${(groups.length - MAX_TOLD).toLocaleString('en')} more causes are in the docket.`] }]
      : []),
    ...(dates.length > 0
      ? [{ heading: 'Upcoming dates', lines: dates, links: [{ label: 'All dates', to: '/dates' }] }]
      : []),
  ]
  const subject =
    opened > 0 ? `${casesWords(opened)} opened for ${facts.organisation}` : `Upcoming dates for ${facts.organisation}`
  return compose(facts, subject, parts, footOf(facts, 'This is your digest.', stop))
}

interface ChangeFacts {
  id: number
  words: string
  links: number
  /** When it counts, or was to. */
  at: string
  state: 'applied' | 'held' | 'failed'
  problem: string
}

/** The mail to the member who scheduled a change: that it was applied, or why it was not. */
export function changeMail(facts: MailFacts, change: ChangeFacts): MailText {
  const links = change.links === 1 ? '1 link' : `${change.links.toLocaleString('en')} links`
  const made = change.state === 'applied'
  const parts: Part[] = [
    {
      heading: made ? `Changed ${links}` : `The change to ${links} was not applied`,
      lines: made
        ? [`${change.words}. In effect since ${change.at} on every gateway.`]
        : [`It was set for ${change.at}: ${change.words}.`, change.problem, 'Nothing was changed.'],
      links: [
        made
          ? { label: 'View or undo in the ledger', to: '/ledger' }
          : { label: 'Look at the change', to: `/changes/${change.id}` },
      ],
    },
  ]
  return compose(
    facts,
    made ? `Made: ${links} changed at ${change.at}` : `Held: the change to ${links} of ${change.at}`,
    parts,
    footOf(facts, 'You receive this because you scheduled this change.', undefined),
  )
}

/** The mail that asks a colleague to look at something. */
export const askMail = (
  facts: MailFacts,
  { by, name, note, to }: { by: string; name: string; note: string; to: string },
): MailText =>
  compose(
    facts,
    `${by} asks you to review ${name}`,
    [
      {
        lines: [`${by} asks you to review ${name} before it is imported.`, ...(note ? [`“${note}”`] : [])],
        links: [{ label: 'Open the import', to }],
      },
    ],
    footOf(facts, `${by} asked for this mail to you.`, undefined),
  )

/** A mail to see whether mails arrive. */
export const trialMail = (facts: MailFacts): MailText =>
  compose(
    facts,
    `Test e-mail from Fides for ${facts.organisation}`,
    [{ lines: ['This is a test. E-mail from Fides reaches this address.'], links: [{ label: 'The desk', to: '/' }] }],
    footOf(facts, 'You asked for this mail.', undefined),
  )
