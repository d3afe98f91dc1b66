import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { countLinks } from '../../../usecases/links/count-links'

export default route(operations.countLinks, ({ db, query }) => countLinks(db, query))
