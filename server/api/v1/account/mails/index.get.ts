import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listMails } from '../../../../usecases/notices/notice-settings'

export default route(operations.listMails, ({ db, member }) => listMails(db, member))
