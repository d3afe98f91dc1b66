import { operations } from '../../../contract/operations'
import { useNames } from '../../../http/context'
import { route } from '../../../http/route'
import { giveWord, readActor, toSessionView } from '../../../http/session'
import { recordSecurityEvent } from '../../../usecases/people/door-log'
import { factorsOf, prove } from '../../../usecases/people/factors'
import { renewSession } from '../../../usecases/people/sessions'
import { Problem } from '../../../usecases/problem'

export default route(operations.giveFactor, async ({ event, db, body, caller }) => {
  const who = await readActor(db, event, true)
  if (!who?.session) throw new Problem(401, 'Not signed in', 'Give e-mail address and password first.')
  const { member, session } = who
  await prove(db, useNames().sealingKey, { member, session }, caller, await factorsOf(db, member), body)
  giveWord(event, await renewSession(session))
  await recordSecurityEvent(db, member.id, 'signed-in', caller)
  return toSessionView(db, member)
})
