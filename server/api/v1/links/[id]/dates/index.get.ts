import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { listLinkDates } from '../../../../../usecases/dates/link-dates'

export default route(operations.listLinkDates, ({ db, id }) => listLinkDates(db, id))
