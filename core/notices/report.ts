import { compose, footOf, type MailFacts, type MailText, type Part } from './texts'

/** What a week’s report tells of visits. */
export interface ReportFacts {
  /** The week, as people write it: “16 to 22 November”. */
  week: string
  visits: number
  people: number | null
  /** Visits of the week before. */
  before: number
  /** The links with most visits. */
  links: readonly { name: string; visits: number; before: number }[]
  referrers: readonly { name: string; visits: number }[]
  /** What changed its level, since when. */
  movers: readonly string[]
  /** Where the desk shows the same. */
  to: string
}

const changed = (now: number, before: number) =>
  before === 0
    ? now === 0
      ? ''
      : '(none in the previous week)'
    : now === before
      ? ', as many as before'
      : `, ${Math.round((100 * Math.abs(now - before)) / before)}% ${now > before ? 'more' : 'less'} than before`

/** The report of a week’s visits. */
export function reportMail(facts: MailFacts, report: ReportFacts, stop: string): MailText {
  const number = (value: number) => value.toLocaleString('en')
  const parts: Part[] = [
    {
      heading: `Visits, ${report.week}`,
      lines: [
        `${number(report.visits)} visits` +
          (report.people === null ? '' : ` by ${number(report.people)} people (counted per day)`) +
          `${changed(report.visits, report.before)}.`,
      ],
      links: [{ label: 'Open in Traffic', to: report.to }],
    },
    ...(report.links.length > 0
      ? [
          {
            heading: 'Most visited',
            lines: report.links.map(
              ({ name, visits: count, before }) => `${name}: ${number(count)}${changed(count, before)}`,
            ),
          },
        ]
      : []),
    ...(report.referrers.length > 0
      ? [
          {
            heading: 'Sources',
            lines: report.referrers.map(({ name, visits: count }) => `${name}: ${number(count)}`),
          },
        ]
      : []),
    ...(report.movers.length > 0 ? [{ heading: 'What changed', lines: report.movers }] : []),
  ]
  return compose(
    facts,
    `${number(report.visits)} visits, ${report.week}`,
    parts,
    footOf(facts, 'You receive this because you subscribed to the weekly report.', stop),
  )
}
