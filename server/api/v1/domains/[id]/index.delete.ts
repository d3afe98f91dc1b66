import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeDomain } from '../../../../usecases/domains/remove-domain'

export default route(operations.removeDomain, ({ db, actor, id, version }) => removeDomain(db, actor, id, version))
