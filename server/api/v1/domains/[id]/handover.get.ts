import { operations } from '../../../../contract/operations'
import { useMail, useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readHandover } from '../../../../usecases/domains/handover'

export default route(operations.readHandover, ({ db, id }) => readHandover(db, useNames(), useMail(), id))
