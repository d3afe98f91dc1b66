import { operations } from '../../../../contract/operations'
import { useMail } from '../../../../http/context'
import { route } from '../../../../http/route'
import { makeFeed } from '../../../../usecases/notices/feeds'

export default route(operations.makeFeed, ({ db, member, body }) => makeFeed(db, useMail(), member, body.kind))
