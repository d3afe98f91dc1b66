import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeUpdateKey } from '../../../../usecases/update-key'

export default route(operations.removeUpdateKey, ({ db, actor, id }) => removeUpdateKey(db, actor, id))
