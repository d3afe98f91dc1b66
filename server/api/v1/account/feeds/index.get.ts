import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listFeeds } from '../../../../usecases/notices/feeds'

export default route(operations.listFeeds, ({ db, member }) => listFeeds(db, member))
