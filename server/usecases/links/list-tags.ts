import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'

/** All tags in use, by name, with how many links have each. */
export async function listTags(db: Database): Promise<{ name: string; links: number }[]> {
  const rows = await db.sequelize.query<{ name: string; links: number }>(
    'SELECT t.name, COUNT(*) AS links FROM tag t JOIN link_tag lt ON lt.tag_id = t.id GROUP BY t.id, ' +
      't.name ORDER BY t.name',
    { type: QueryTypes.SELECT },
  )
  return rows.map((row) => ({ name: row.name, links: Number(row.links) }))
}
