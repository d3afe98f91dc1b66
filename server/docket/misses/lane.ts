import { showHost } from '../../../core/address'
import type { Lane } from '../lane'
import { servedBy } from '../../usecases/misses/served'
import { missRemedies } from './remedies'
import { missOf, membersOf } from './subject'

export const missesLane: Lane = {
  name: (row) => row.subject,
  affected: (visits) => `${visits.replace('visit', 'visitor')} a day are not served`,
  async subjects(db, row) {
    const miss = await missOf(db, row)
    const members = miss ? [miss] : (await membersOf(db, row)).slice(0, 4)
    const host = showHost((await db.Domain.findByPk(row.domainId ?? 0, { attributes: ['host'] }))?.host ?? '')
    return members.map(({ id, path }) => ({ label: `${host}/${path}`, to: `/misses?miss=${id}` }))
  },
  remedies: (db, _names, row) => missRemedies(db, row),
  async aftermath(db, row) {
    const miss = await missOf(db, row)
    if (!miss?.answered || !miss.answeredAt) return []
    const served = (await servedBy(db, [miss])).get(miss.id) ?? 0
    const since = miss.answeredAt.toISOString().slice(0, 16).replace('T', ' ')
    return [
      {
        label: 'Since then',
        text:
          miss.answeredBy?.by === 'gone'
            ? `Visitors are told that it is gone, since ${since} UTC`
            : `${served === 1 ? 'One visitor' : `${served.toLocaleString('en')} visitors`} served since ${since} UTC`,
        state: 'sound',
      },
    ]
  },
}
