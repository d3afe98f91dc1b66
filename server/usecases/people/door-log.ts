import { LRUCache } from 'lru-cache'
import { QueryTypes, type Transaction } from 'sequelize'
import { DOOR_EVENTS, type DoorEventKind } from '../../../core/people'
import type { Doors } from '../../../core/schemas'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { Caller } from './caller'

const log = makeLog('doors')
const SHOWN = 30
/** What was noted is kept so long. */
const KEPT_DAYS = 90

/** A member who is refused again and again writes it once a minute. */
const refusals = new LRUCache<number, true>({ max: 10_000, ttl: 60_000 })

/** Notes that a member was refused what the role does not allow. */
export async function noteRefusal(
  db: Database,
  memberId: number,
  caller: Pick<Caller, 'peer' | 'agent'>,
): Promise<void> {
  if (refusals.has(memberId)) return
  refusals.set(memberId, true)
  await recordSecurityEvent(db, memberId, 'role-refused', caller)
}

/** Notes what happened at a member's doors, for its owner and for the log. */
export async function recordSecurityEvent(
  db: Database,
  memberId: number,
  kind: DoorEventKind,
  { peer, agent }: Pick<Caller, 'peer' | 'agent'>,
  transaction?: Transaction,
): Promise<void> {
  log[DOOR_EVENTS[kind].failed ? 'warn' : 'info']({ member: memberId, event: kind }, DOOR_EVENTS[kind].words)
  await db.sequelize.query(
    'INSERT INTO door_event (at, member_id, kind, peer, agent) VALUES (UTC_TIMESTAMP(3), ?, ?, ?, ?)',
    { replacements: [memberId, kind, peer.slice(0, 45), agent], transaction },
  )
}

/** What happened at a member's doors last, the newest first. */
export async function listDoorEvents(db: Database, memberId: number): Promise<Doors['events']> {
  const rows = await db.sequelize.query<{ at: Date; kind: string; peer: string; agent: string }>(
    'SELECT at, kind, peer, agent FROM door_event WHERE member_id = ? ORDER BY id DESC LIMIT ?',
    { replacements: [memberId, SHOWN], type: QueryTypes.SELECT },
  )
  return rows.map(({ at, kind, peer, agent }) => {
    // An entry of an older release may be of a kind that is no more.
    const { words, failed } = DOOR_EVENTS[kind as DoorEventKind] ?? { words: kind, failed: false }
    return { at: new Date(at).toISOString(), words, failed, peer, agent }
  })
}

/** Forgets what is too old to be of use to its owner. */
export const forgetDoorEvents = (db: Database): Promise<unknown> =>
  db.sequelize.query('DELETE FROM door_event WHERE at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY)', {
    replacements: [KEPT_DAYS],
  })
