import { operations } from '../../contract/operations'
import { useMail, useNames } from '../../http/context'
import { route } from '../../http/route'
import { readHandoverPage } from '../../usecases/domains/handover'

export default route(operations.readHandoverPage, ({ db, query }) =>
  readHandoverPage(db, useNames(), useMail(), query.key),
)
