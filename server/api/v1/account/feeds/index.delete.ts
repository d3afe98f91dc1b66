import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { dropFeed } from '../../../../usecases/notices/feeds'

export default route(operations.dropFeed, ({ db, member, query }) => dropFeed(db, member, query.kind))
