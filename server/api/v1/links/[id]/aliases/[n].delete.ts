import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { removeAlias } from '../../../../../usecases/links/aliases'

export default route(operations.removeAlias, ({ db, actor, id, n }) => removeAlias(db, actor, id, n, ''))
