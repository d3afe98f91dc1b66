import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { forgivenessReport } from '../../../../usecases/slug-rules/forgiveness-report'

export default route(operations.readForgiveness, ({ db, id }) => forgivenessReport(db, id))
