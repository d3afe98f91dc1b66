import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readActor } from '../../../http/session'
import { askPasskey } from '../../../usecases/people/passkeys'
import { Problem } from '../../../usecases/problem'

export default route(operations.askPasskey, async ({ event, db, caller }) => {
  // While signing in, or of somebody who is in and is to confirm.
  const who = (await readActor(db, event, true)) ?? (await readActor(db, event))
  const options = who?.session && (await askPasskey(db, who.member.id, who.session, caller))
  if (!options) throw new Problem(401, 'Not signed in', 'There is nobody here whose passkey could be asked for.')
  return options
})
