import { operations } from '../../../../contract/operations'
import { useSettings } from '../../../../http/context'
import { route } from '../../../../http/route'
import { replayLog } from '../../../../usecases/exchange/replay-log'

export default route(operations.replayLog, ({ db, id, octets }) =>
  replayLog(db, useSettings().FIDES_DATABASE_URL, id, octets),
)
