import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { openDomain } from '../../../../usecases/domains/open-domain'

export default route(operations.openDomain, ({ db, actor, id, body }) => openDomain(db, useNames(), actor, id, body))
