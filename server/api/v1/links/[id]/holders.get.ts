import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { linkHolders } from '../../../../usecases/changes/holders'

export default route(operations.linkHolders, ({ db, id }) => linkHolders(db, id))
