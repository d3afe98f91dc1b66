import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listChecks } from '../../../../usecases/targets/list-checks'

export default route(operations.listChecks, ({ db, id }) => listChecks(db, id))
