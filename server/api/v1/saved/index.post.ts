import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { saveSet } from '../../../usecases/people/saved-sets'

export default route(operations.saveSet, ({ db, actor, member, body }) => saveSet(db, actor, member.id, body))
