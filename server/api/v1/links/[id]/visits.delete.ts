import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { forgetLinkVisits } from '../../../../usecases/traffic/forget-link-visits'

export default route(operations.forgetRawVisits, ({ db, actor, id }) => forgetLinkVisits(db, actor, id))
