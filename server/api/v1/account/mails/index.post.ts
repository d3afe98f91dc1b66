import { operations } from '../../../../contract/operations'
import { useMail } from '../../../../http/context'
import { route } from '../../../../http/route'
import { sendTrial } from '../../../../usecases/notices/notice-settings'

export default route(operations.sendTrialMail, ({ db, member }) => sendTrial(db, useMail(), member))
