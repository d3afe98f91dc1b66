import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readLink } from '../../../../usecases/links/read-link'

export default route(operations.readLink, ({ db, id }) => readLink(db, id))
