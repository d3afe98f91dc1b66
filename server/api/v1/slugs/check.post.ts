import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { checkSlug } from '../../../usecases/links/check-slug'

export default route(operations.checkSlug, ({ db, body }) => checkSlug(db, body))
