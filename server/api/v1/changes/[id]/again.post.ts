import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { computeAgain } from '../../../../usecases/changes/proposals'

export default route(operations.computeAgain, ({ db, id }) => computeAgain(db, id))
