import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readReplay } from '../../../usecases/replay/replays'

export default route(operations.readReplay, ({ db, id }) => readReplay(db, id))
