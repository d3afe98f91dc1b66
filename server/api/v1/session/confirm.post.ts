import { operations } from '../../../contract/operations'
import { useNames } from '../../../http/context'
import { route } from '../../../http/route'
import { prove, stepUpMethods } from '../../../usecases/people/factors'

export default route(operations.confirm, async ({ db, member, session, caller, body }) => {
  await prove(db, useNames().sealingKey, { member, session }, caller, await stepUpMethods(db, member), body)
  await session.update({ confirmedAt: new Date() })
})
