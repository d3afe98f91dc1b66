import { operations } from '../../../../contract/operations'
import { useMail } from '../../../../http/context'
import { route } from '../../../../http/route'
import { askColleague } from '../../../../usecases/exchange/ask-colleague'

export default route(operations.askColleague, ({ db, actor, id, body }) => askColleague(db, useMail(), actor, id, body))
