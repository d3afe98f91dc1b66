import type { Database } from '../database/open'
import type { MemberModel } from '../database/models/member'
import type { SessionModel } from '../database/models/session'
import { stepUpMethods } from '../usecases/people/factors'
import { Problem } from '../usecases/problem'

/** Who proved who they are so lately is not asked again. */
const FRESH_MS = 15 * 60_000

/** Refuses a token, and a person who did not prove within a quarter of an hour who they are. */
export async function requireFreshPerson(
  db: Database,
  { member, session }: { member: MemberModel; session: SessionModel | undefined },
): Promise<void> {
  if (!session) throw new Problem(403, 'Not by a token', 'Only a person who signed in may do this, no token.')
  if (Date.now() - session.confirmedAt.getTime() > FRESH_MS)
    throw new Problem(403, 'Confirm that it is you', 'Prove once more who you are, then try again.', [], {
      confirm: await stepUpMethods(db, member),
    })
}
