import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listLinks } from '../../../usecases/links/list-links'

export default route(operations.listLinks, ({ db, query }) => listLinks(db, query))
