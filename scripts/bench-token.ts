import { createHash, randomBytes } from 'node:crypto'
import type { Role } from '../core/schemas'
import type { Database } from '../server/database/open'

const SCOPES = { viewer: 'read', editor: 'write', administrator: 'administer' } as const satisfies Record<Role, string>

/** Makes a member of a role with an API token of all its rights, and gives the token. */
export async function benchToken(db: Database, role: Role): Promise<string> {
  const createdAt = new Date()
  const member = await db.Member.create({
    email: `${role}@bench.test`,
    name: role,
    role,
    passwordHash: null,
    createdAt,
  })
  const secret = 'fides_' + randomBytes(32).toString('base64url')
  const hash = createHash('sha256').update(secret).digest('hex')
  await db.ApiToken.create({
    memberId: member.id,
    name: 'bench',
    hash,
    scope: SCOPES[role],
    createdAt,
    expiresAt: null,
  })
  return secret
}
