import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { askForZone } from '../../../../../usecases/domains/bring-zone'

export default route(operations.askForZone, ({ db, actor, id }) => askForZone(db, useNames(), actor, id))
