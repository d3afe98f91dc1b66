import type { Database } from '../../server/database/open'
import { writeDemo } from '../../server/database/seed/write-demo'
import { top } from '../system/outside'

// TTLs run fast: an hour passes in six seconds. The watch looks every two seconds at the latest.
export const SPEED = 600
export const RIDER = `${top('rider.example')}; the website of the survey
@ IN A 198.51.100.7
@ IN MX 10 mail
mail IN A 198.51.100.25
`

/** The demo as it is before anybody adds rider.example, with one domain and nothing at odds. */
export async function fillBeforeRider(db: Database): Promise<void> {
  await writeDemo(db)
  // The story begins before anybody added rider.example; the other domains have no part in it.
  await db.sequelize.query(
    'DELETE FROM link_tag WHERE link_id IN (SELECT l.id FROM link l JOIN domain d ON d.id = ' +
      "l.domain_id WHERE d.host <> 'ansl.example')",
  )
  await db.sequelize.query("DELETE l FROM link l JOIN domain d ON d.id = l.domain_id WHERE d.host <> 'ansl.example'")
  // Nor have conflicts among its addresses: the docket is to hold what goes wrong with the domain.
  await db.Rule.destroy({ where: {} })
  await db.LinkDate.destroy({ where: {} })
  const atOdds = await db.Link.findAll({
    attributes: ['id'],
    where: {
      slug: [
        'parkride',
        'fare',
        'lifts',
        'cards',
        'late',
        'getapp',
        'timetables',
        'boat',
        'snow',
        'cycle',
        'regatta-map',
        'regatta-plan',
        'pass',
        'annual',
      ],
    },
  })
  await db.LinkTag.destroy({ where: { linkId: atOdds.map((link) => Number(link.id)) } })
  await db.Link.destroy({ where: { id: atOdds.map((link) => Number(link.id)) } })
  await db.sequelize.query("DELETE FROM domain WHERE host <> 'ansl.example'")
  await db.Domain.update({ expiresOn: null }, { where: {} })
}
