import { operations } from '../../../contract/operations'
import { useSettings } from '../../../http/context'
import { route } from '../../../http/route'
import { askForReplay } from '../../../usecases/replay/replays'

export default route(operations.askForReplay, ({ db, actor, body }) =>
  askForReplay(db, useSettings().FIDES_DATABASE_URL, actor, body),
)
