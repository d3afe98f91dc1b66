import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { removeSavedSet } from '../../../usecases/people/saved-sets'

export default route(operations.removeSavedSet, ({ db, actor, member, id }) => removeSavedSet(db, actor, member.id, id))
