import { QueryTypes } from 'sequelize'
import type { ProposalCounts } from '../../../core/schemas'
import type { Database } from '../../database/open'

/** How many rows of each kind a proposal has. */
export async function countRows(db: Database, id: number): Promise<Omit<ProposalCounts, 'unknown' | 'permanent'>> {
  const rows = await db.sequelize.query<{
    kind: 'change' | 'clash' | 'unchanged' | 'refused'
    left_out: number
    failed: number
    links: number
  }>(
    `SELECT r.kind, r.left_out, COALESCE(t.confidence IN ('doubtful', 'broken'), FALSE) AS failed, COUNT(*) AS links
     FROM proposal_row r LEFT JOIN target t ON t.hash = r.hash
     WHERE r.proposal_id = ? GROUP BY r.kind, r.left_out, failed`,
    { replacements: [id], type: QueryTypes.SELECT },
  )
  const sum = (fits: (row: (typeof rows)[number]) => boolean) =>
    rows.filter(fits).reduce((total, { links }) => total + Number(links), 0)
  return {
    change: sum(({ kind, left_out }) => kind === 'change' && !Number(left_out)),
    clash: sum(({ kind }) => kind === 'clash'),
    unchanged: sum(({ kind }) => kind === 'unchanged'),
    refused: sum(({ kind }) => kind === 'refused'),
    checkFailed: sum(({ kind, failed, left_out }) => kind === 'change' && Number(failed) === 1 && !Number(left_out)),
    leftOut: sum(({ kind, left_out }) => kind === 'change' && Number(left_out) === 1),
  }
}
