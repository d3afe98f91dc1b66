import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import { tickOffLinkDate } from '../../usecases/dates/link-dates'
import { caseKey, linksOfCase } from '../keeper'
import type { Lane } from '../lane'
import { remedyView, type ComposedRemedy } from '../remedy'

/** The proposal a case is about; its number is part of what the case is called by. */
const proposalOf = ({ subject }: DocketCaseModel) => Number(/^Change (\d+)$/.exec(subject)?.[1] ?? 0)

/** The noted day a case is about. */
async function dayOf(db: Database, row: DocketCaseModel) {
  const kind = row.kind as 'look-again' | 'ends-there'
  const days = await db.LinkDate.findAll({ where: { linkId: row.linkId ?? 0, kind, doneAt: null } })
  return days.find(({ id }) => caseKey({ kind, domainId: null, linkId: null, subject: `day ${id}` }) === row.caseKey)
}

async function remediesOf(db: Database, row: DocketCaseModel): Promise<ComposedRemedy[]> {
  if (row.kind === 'change-held')
    return [
      {
        view: remedyView({
          id: 'look',
          title: 'Look at the change again',
          sentence: 'Recalculate, skip links, apply anyway, or withdraw it.',
          to: `/changes/${proposalOf(row)}`,
        }),
      },
    ]
  if (row.kind === 'link-ending') {
    const links = await linksOfCase(db, row.id)
    return [
      {
        view: remedyView({
          id: 'change',
          title: links.length === 1 ? 'Change the link' : `Change ${links.length} of these links`,
          sentence: 'Change or clear the end, or set an ended address.',
          to: links.length === 1 ? `/links/${links[0]}` : `/changes/new?links=${links.join(',')}`,
        }),
      },
    ]
  }
  const day = await dayOf(db, row)
  return [
    {
      view: remedyView({
        id: 'open-link',
        title: 'Look at the link',
        sentence: 'See where it leads and what it is used for; change its destination, or end it.',
        to: `/links/${row.linkId}`,
      }),
    },
    ...(day
      ? [
          {
            view: remedyView({
              id: 'tick-off',
              title: 'Mark as done',
              sentence: 'Settles the case.',
              applies: true,
            }),
            apply: async (actor) => {
              await tickOffLinkDate(db, actor, row.linkId!, day.id)
              return `Ticked off: ${row.subject}`
            },
          } satisfies ComposedRemedy,
        ]
      : []),
  ]
}

export const datesLane: Lane = {
  name: (row) => row.subject,
  affected: (visits) => `${visits} a day go through what this is about`,
  subjects: (_db, row) =>
    Promise.resolve([
      row.kind === 'change-held'
        ? { label: row.subject, to: `/changes/${proposalOf(row)}` }
        : { label: row.subject, to: row.linkId === null ? '/dates' : `/links/${row.linkId}` },
    ]),
  remedies: (db, _names, row) => remediesOf(db, row),
}
