import { operations } from '../../../../contract/operations'
import { useSettings } from '../../../../http/context'
import { route } from '../../../../http/route'
import { aboutExport } from '../../../../usecases/exchange/take-out'

export default route(operations.aboutExport, ({ word, query }) =>
  aboutExport(useSettings().FIDES_DATABASE_URL, word, query),
)
