import { createHash, randomBytes } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import { randomSlug } from '../../../core/slugs'
import type { Database } from '../../database/open'

const COUNT = 10
/** Without letters and digits that look alike. */
const ALPHABET = 'abcdefghjkmnpqrstuvwxyz23456789'
const LENGTH = 16

// Random enough that nothing slower than a plain hash is needed: 16 of 31 characters are 79 bits.
const hashOf = (code: string) =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^a-z0-9]/g, ''))
    .digest('hex')

const draw = () => randomSlug(ALPHABET, LENGTH, randomBytes).match(/.{4}/g)!.join('-')

/** Makes ten recovery codes in place of all before; they are told once. */
export async function makeRecoveryCodes(db: Database, memberId: number): Promise<string[]> {
  const codes = Array.from({ length: COUNT }, draw)
  await db.sequelize.transaction(async (transaction) => {
    await db.sequelize.query('DELETE FROM recovery_code WHERE member_id = ?', { replacements: [memberId], transaction })
    await db.sequelize.query(
      `INSERT INTO recovery_code (member_id, hash) VALUES ${codes.map(() => '(?, ?)').join(',')}`,
      {
        replacements: codes.flatMap((code) => [memberId, hashOf(code)]),
        transaction,
      },
    )
  })
  return codes
}

/** How many are left. */
export async function countRecoveryCodes(db: Database, memberId: number): Promise<number> {
  const [row] = await db.sequelize.query<{ left: number }>(
    'SELECT COUNT(*) AS `left` FROM recovery_code WHERE member_id = ? AND used_at IS NULL',
    { replacements: [memberId], type: QueryTypes.SELECT },
  )
  return Number(row!.left)
}

/** Whether a code is one of those left; it is then used up, also where two come at the same moment. */
export async function takeRecoveryCode(db: Database, memberId: number, code: string): Promise<boolean> {
  const [, count] = await db.sequelize.query(
    'UPDATE recovery_code SET used_at = UTC_TIMESTAMP(3) WHERE member_id = ? AND hash = ? AND used_at IS NULL',
    { replacements: [memberId, hashOf(code)], type: QueryTypes.UPDATE },
  )
  return count === 1
}
