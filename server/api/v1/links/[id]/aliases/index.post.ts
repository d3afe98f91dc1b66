import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { addAlias } from '../../../../../usecases/links/aliases'

export default route(operations.addAlias, ({ db, actor, id, body }) => addAlias(db, actor, id, body))
