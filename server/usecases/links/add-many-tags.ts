import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'

/** Gives links tags that they have not; makes the tags that are new. */
export async function addManyTags(
  db: Database,
  transaction: Transaction,
  links: readonly { linkId: number; names: readonly string[] }[],
): Promise<void> {
  const names = [...new Set(links.flatMap((link) => link.names))]
  if (names.length === 0) return
  await db.Tag.bulkCreate(
    names.map((name) => ({ name })),
    { ignoreDuplicates: true, transaction },
  )
  const tags = new Map(
    (await db.Tag.findAll({ where: { name: names }, transaction })).map(({ id, name }) => [name, id]),
  )
  await db.LinkTag.bulkCreate(
    links.flatMap(({ linkId, names: own }) => [...new Set(own)].map((name) => ({ linkId, tagId: tags.get(name)! }))),
    { transaction },
  )
}
