import { operations } from '../../contract/operations'
import { useMail } from '../../http/context'
import { route } from '../../http/route'
import { readCalendar } from '../../usecases/notices/feeds'

export default route(operations.readCalendar, ({ db, query }) => readCalendar(db, useMail(), query.key))
