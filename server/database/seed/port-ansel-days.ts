import type { Transaction } from 'sequelize'
import type { Database } from '../open'
import { HOSTS } from './port-ansel-links'

/** Days that people noted: when to look at a link again, or when what it leads to ends; in days from now. */
const PORT_ANSEL_DAYS: readonly {
  host: string
  slug: string
  kind: 'look-again' | 'ends-there'
  inDays: number
  note: string
  remindDays: number
}[] = [
  {
    host: HOSTS.apex,
    slug: 'museum',
    kind: 'look-again',
    inDays: 5,
    note: 'ask whether the joint ticket goes on',
    remindDays: 7,
  },
  {
    host: HOSTS.apex,
    slug: 'open-data',
    kind: 'look-again',
    inDays: 26,
    note: 'the licence is reviewed',
    remindDays: 14,
  },
  {
    host: HOSTS.apex,
    slug: 'night',
    kind: 'look-again',
    inDays: 3,
    note: 'the night network of the new year',
    remindDays: 10,
  },
  {
    host: HOSTS.apex,
    slug: 'winter',
    kind: 'ends-there',
    inDays: 12,
    note: 'the weather service ends its page',
    remindDays: 14,
  },
  { host: HOSTS.apex, slug: 'quiz', kind: 'ends-there', inDays: 4, note: 'the prize draw closes', remindDays: 7 },
  {
    host: HOSTS.beside,
    slug: 'jobs',
    kind: 'ends-there',
    inDays: -2,
    note: 'the call for drivers is over',
    remindDays: 7,
  },
]

const DAY_MS = 86_400_000
const NOTED_BY = 'Tomas Vale'

/** Notes the days of the demo's links, which lie in the database by their order. */
export async function writeDays(
  db: Database,
  links: readonly { host: string; slug: string }[],
  now: Date,
  transaction: Transaction,
): Promise<void> {
  const rows = links.flatMap((link, index) =>
    PORT_ANSEL_DAYS.filter((day) => day.host === link.host && day.slug === link.slug).map((day) => ({
      linkId: index + 1,
      kind: day.kind,
      day: new Date(now.getTime() + day.inDays * DAY_MS).toISOString().slice(0, 10),
      note: day.note,
      remindDays: day.remindDays,
      madeBy: NOTED_BY,
      madeAt: new Date(now.getTime() - 30 * DAY_MS),
    })),
  )
  await db.LinkDate.bulkCreate(rows, { transaction })
}
