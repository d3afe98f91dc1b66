import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listSavedSets } from '../../../usecases/people/saved-sets'

export default route(operations.listSavedSets, async ({ db, member }) => ({
  items: await listSavedSets(db, member.id),
}))
