import { operations } from '../../../contract/operations'
import { useMail } from '../../../http/context'
import { route } from '../../../http/route'
import { changeNoticeSettings } from '../../../usecases/notices/notice-settings'

export default route(operations.changeNoticeSettings, ({ db, member, version, body }) =>
  changeNoticeSettings(db, useMail(), member, version, body),
)
