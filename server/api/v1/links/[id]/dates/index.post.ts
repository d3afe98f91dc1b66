import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { addLinkDate } from '../../../../../usecases/dates/link-dates'

export default route(operations.addLinkDate, ({ db, actor, id, body }) => addLinkDate(db, actor, id, body))
