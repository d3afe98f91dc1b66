import { operations } from '../../../contract/operations'
import { useMail } from '../../../http/context'
import { route } from '../../../http/route'
import { readNoticeSettings } from '../../../usecases/notices/notice-settings'

export default route(operations.readNoticeSettings, ({ db, member }) => readNoticeSettings(db, useMail(), member))
