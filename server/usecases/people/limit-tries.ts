import ipaddr from 'ipaddr.js'
import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'
import { Problem } from '../problem'

const WINDOW_SECONDS = 15 * 60
/** As one member from one peer. Nobody elsewhere is locked out by it, whoever they try to be. */
const MAX_AS_ONE = 10
/** From one peer, whoever it tries to be. */
const MAX_FROM_ONE_PEER = 60

/** Second factors of one member, from all networks together: only a person who knows the password gets this far. */
const MAX_FACTORS_AS_ONE = 30
/** Wrong second factors of one half-finished sign-in. */
const MAX_FACTORS_A_SESSION = 5

/** Counts one more try under a key; gives how many there were within the window, and until when they count. */
async function count(db: Database, key: string, now: number): Promise<{ points: number; expire: number }> {
  const [row] = await db.sequelize.query<{ points: number; expire: number }>(
    `INSERT INTO sign_in_try (\`key\`, points, expire) VALUES (:key, 1, :until)
     ON DUPLICATE KEY UPDATE points = IF(expire <= :now, 1, points + 1), expire = IF(expire <= :now, :until, expire)
     RETURNING points, expire`,
    { replacements: { key, now, until: now + WINDOW_SECONDS * 1000 }, type: QueryTypes.SELECT },
  )
  return { points: Number(row!.points), expire: Number(row!.expire) }
}

/** A peer as it is counted: an IPv6 subscriber has a whole /64 (RFC 6177), and may come from any address of it. */
export function networkOf(peer: string): string {
  if (!ipaddr.isValid(peer)) return peer
  const address = ipaddr.process(peer)
  if (address.kind() === 'ipv4') return address.toString()
  return (
    (address as ipaddr.IPv6).parts
      .slice(0, 4)
      .map((part) => part.toString(16))
      .join(':') + '::/64'
  )
}

/**
 * Counts a try to prove who one is before anything is verified, so that tries at the same moment count, too. Refuses
 * with 429 beyond ten as one member from one peer, or sixty from one peer, in a quarter of an hour; shared by all
 * processes. `refused` is told first.
 */
export async function countTry(db: Database, who: string, peer: string, refused?: () => Promise<void>): Promise<void> {
  const network = networkOf(peer)
  const now = Date.now()
  const asOne = await count(db, `one:${who} ${network}`, now)
  if (asOne.points > MAX_AS_ONE) {
    // Told once, so that trying on and on writes nothing more.
    if (asOne.points === MAX_AS_ONE + 1) await refused?.()
    throw tooMany(asOne.expire - now)
  }
  const fromPeer = await count(db, `peer:${network}`, now)
  if (fromPeer.points > MAX_FROM_ONE_PEER) throw tooMany(fromPeer.expire - now)
}

/** Counts a try to prove a second factor as a member, from whatever peer; refuses with 429 beyond thirty. */
export async function countFactorTry(db: Database, memberId: number): Promise<void> {
  const now = Date.now()
  const { points, expire } = await count(db, `factor:${memberId}`, now)
  if (points > MAX_FACTORS_AS_ONE) throw tooMany(expire - now)
}

/** Counts a wrong factor of a half-finished sign-in; true where it was the last that is taken there. */
export const isLastFactorTry = async (db: Database, sessionId: number): Promise<boolean> =>
  (await count(db, `half:${sessionId}`, Date.now())).points >= MAX_FACTORS_A_SESSION

/** Forgets the tries of a member who proved a second factor. */
export const forgetFactorTries = async (db: Database, memberId: number): Promise<void> =>
  void (await db.sequelize.query('DELETE FROM sign_in_try WHERE `key` = ?', { replacements: [`factor:${memberId}`] }))

function tooMany(milliseconds: number): Problem {
  const minutes = Math.max(1, Math.ceil(milliseconds / 60_000))
  return new Problem(
    429,
    'Too many tries',
    `Too many failed attempts. Try again in ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}.`,
  )
}

/** Forgets the tries of somebody who proved who they are. */
export async function forgetTries(db: Database, who: string, peer: string): Promise<void> {
  const network = networkOf(peer)
  await db.sequelize.query('DELETE FROM sign_in_try WHERE `key` = ?', { replacements: [`one:${who} ${network}`] })
  await db.sequelize.query('UPDATE sign_in_try SET points = GREATEST(0, points - 1) WHERE `key` = ?', {
    replacements: [`peer:${network}`],
  })
}

/** Deletes what counts no more; returns how many rows. */
export async function forgetOldTries(db: Database): Promise<number> {
  const [, deleted] = await db.sequelize.query('DELETE FROM sign_in_try WHERE expire <= ?', {
    replacements: [Date.now()],
    type: QueryTypes.UPDATE,
  })
  return deleted
}
