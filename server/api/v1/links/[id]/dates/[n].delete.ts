import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { tickOffLinkDate } from '../../../../../usecases/dates/link-dates'

export default route(operations.tickOffLinkDate, ({ db, actor, id, n }) => tickOffLinkDate(db, actor, id, n))
