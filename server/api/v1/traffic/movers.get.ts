import { operations } from '../../../contract/operations'
import { useSettings } from '../../../http/context'
import { goneSignal } from '../../../http/gone'
import { route } from '../../../http/route'
import { askMovers } from '../../../usecases/traffic/ask-traffic'

export default route(operations.readMovers, ({ event, query }) =>
  askMovers(useSettings().FIDES_DATABASE_URL, query.days, goneSignal(event)),
)
