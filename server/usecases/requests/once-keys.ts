import { createHash } from 'node:crypto'
import { QueryTypes, UniqueConstraintError } from 'sequelize'
import type { Database } from '../../database/open'
import { Problem } from '../problem'

/** Keys are kept so long; the same key is another request’s afterwards. */
export const ONCE_KEPT_HOURS = 24
/** Whoever works on a request longer than this has died over it. */
const LEASE_SECONDS = 300

interface Kept {
  fingerprint: string
  done: number
  type: string | null
  etag: string | null
  body: string | null
  old: number
  left: number
}

const hash = (key: string) => createHash('sha256').update(key).digest('hex')

/**
 * Takes a key for a request. Gives the answer where the request was carried out before. Throws 422 where the key was
 * another request’s, and 409 where one with it is under way or was never ended
 * (draft-ietf-httpapi-idempotency-key-header §2.7).
 */
export async function beginOnce(
  db: Database,
  member: number,
  key: string,
  fingerprint: string,
): Promise<{ body: string; type?: string; etag?: string } | undefined> {
  for (;;) {
    try {
      await db.sequelize.query(
        'INSERT INTO once_key (member_id, key_hash, fingerprint, made_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))',
        { replacements: [member, hash(key), fingerprint] },
      )
      return undefined
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error
    }
    const [kept] = await db.sequelize.query<Kept>(
      `SELECT fingerprint, done, type, etag, body, made_at < UTC_TIMESTAMP(3) - INTERVAL ${ONCE_KEPT_HOURS} HOUR AS old,
         made_at < UTC_TIMESTAMP(3) - INTERVAL ${LEASE_SECONDS} SECOND AS \`left\`
       FROM once_key WHERE member_id = ? AND key_hash = ?`,
      { replacements: [member, hash(key)], type: QueryTypes.SELECT },
    )
    if (kept && !Number(kept.old)) return answerOf(kept, fingerprint)
    if (kept) await dropOnce(db, member, key)
  }
}

function answerOf({ fingerprint: first, done, left, body, type, etag }: Kept, fingerprint: string) {
  if (first !== fingerprint)
    throw new Problem(
      422,
      'Idempotency-Key was used',
      'This Idempotency-Key was used for a different request in the last 24 hours. Use a new key.',
    )
  if (Number(done)) return { body: body ?? '', type: type ?? undefined, etag: etag ?? undefined }
  throw Number(left)
    ? new Problem(
        409,
        'Not known what became of it',
        'The first request with this key was broken off; whether it was carried out the ledger tells. Send it again ' +
          'with another key where it was not.',
      )
    : underWayProblem()
}

export const underWayProblem = () =>
  new Problem(409, 'Under way', 'A request with this key is being carried out; send it again in a moment.')

/** Keeps the answer of a request that was carried out. */
export async function endOnce(
  db: Database,
  member: number,
  key: string,
  { body, type, etag }: { body: string | Buffer; type?: string; etag?: string },
): Promise<void> {
  await db.sequelize.query(
    'UPDATE once_key SET done = TRUE, body = ?, type = ?, etag = ? WHERE member_id = ? AND key_hash = ?',
    { replacements: [body.toString('utf8'), type ?? null, etag ?? null, member, hash(key)] },
  )
}

/** Lets a key go: nothing was done with it. */
export async function dropOnce(db: Database, member: number, key: string): Promise<void> {
  await db.sequelize.query('DELETE FROM once_key WHERE member_id = ? AND key_hash = ?', {
    replacements: [member, hash(key)],
  })
}

/** Lets keys go that are kept no longer. */
export const forgetOnceKeys = (db: Database): Promise<unknown> =>
  db.sequelize.query(
    `DELETE FROM once_key WHERE made_at < UTC_TIMESTAMP(3) - INTERVAL ${ONCE_KEPT_HOURS} HOUR LIMIT 10000`,
  )
