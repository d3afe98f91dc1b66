import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeUpdateKey } from '../../../../usecases/domains/update-key'

export default route(operations.removeUpdateKey, ({ db, actor, id }) => removeUpdateKey(db, actor, id))
