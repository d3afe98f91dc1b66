import { operations } from '../../contract/operations'
import { useNames } from '../../http/context'
import { route } from '../../http/route'
import { applyRound } from '../../usecases/docket/round/apply-round'

export default route(operations.applyMorningRound, ({ db, actor, body }) => applyRound(db, useNames(), actor, body))
