import { operations } from '../../contract/operations'
import { useMail } from '../../http/context'
import { route } from '../../http/route'
import { stopMails } from '../../usecases/notices/notice-settings'

export default route(operations.stopMails, ({ db, query }) => stopMails(db, useMail(), query.key))
