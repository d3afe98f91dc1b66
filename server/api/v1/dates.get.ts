import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { listDates } from '../../usecases/dates/list-dates'

export default route(operations.listDates, async ({ db, query }) => ({ items: await listDates(db, query) }))
