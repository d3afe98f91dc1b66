import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { cancelReplay } from '../../../usecases/replay/replays'

export default route(operations.cancelReplay, ({ db, id }) => cancelReplay(db, id))
