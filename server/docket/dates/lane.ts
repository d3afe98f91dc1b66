import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Lane } from '../lane'
import { remedyView } from '../remedy'

/** The proposal a case is about; its number is part of what the case is called by. */
const proposalOf = ({ subject }: DocketCaseModel) => Number(/^Change (\d+)$/.exec(subject)?.[1] ?? 0)

export const datesLane: Lane = {
  name: (row) => row.subject,
  affected: (visits) => `${visits} a day go through these links`,
  subjects: (_db, row) => Promise.resolve([{ label: row.subject, to: `/changes/${proposalOf(row)}` }]),
  remedies: (_db, _names, row) =>
    Promise.resolve([
      {
        view: remedyView({
          id: 'look',
          title: 'Look at the change again',
          sentence: 'Work it out again, leave links out, or make it all the same; or withdraw it.',
          to: `/changes/${proposalOf(row)}`,
        }),
      },
    ]),
}
