import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { requireFreshPerson } from '../../../http/fresh-person'
import { changeSettings, listsOthers } from '../../../usecases/targets/check-settings'

export default route(operations.changeSettings, async (call) => {
  const { db, actor, version, body } = call
  if (await listsOthers(db, body)) await requireFreshPerson(db, call)
  return changeSettings(db, actor, version, body)
})
