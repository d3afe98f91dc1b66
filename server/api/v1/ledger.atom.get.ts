import { operations } from '../../contract/operations'
import { useMail } from '../../http/context'
import { route } from '../../http/route'
import { readLedgerFeed } from '../../usecases/notices/feeds'

export default route(operations.readLedgerFeed, ({ db, query }) => readLedgerFeed(db, useMail(), query.key))
