import { getHeader, send } from 'h3'
import { operations } from '../../../contract/operations'
import { useSettings } from '../../../http/context'
import { goneSignal } from '../../../http/gone'
import { route } from '../../../http/route'
import { askTraffic } from '../../../usecases/traffic/ask-traffic'
import { noteExport } from '../../../usecases/traffic/note-export'
import { trafficCsv, trafficSheet } from '../../../usecases/traffic/traffic-files'

const SHEET = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

export default route(operations.readTraffic, async ({ db, actor, event, query }) => {
  const told = await askTraffic(useSettings().FIDES_DATABASE_URL, query, goneSignal(event))
  const accept = getHeader(event, 'accept') ?? ''
  if (accept.includes('text/csv')) {
    await noteExport(db, actor, query, 'CSV')
    return send(event, trafficCsv(query, told), 'text/csv; charset=utf-8')
  }
  if (accept.includes(SHEET)) {
    await noteExport(db, actor, query, 'a spreadsheet')
    return send(event, await trafficSheet(query, told), SHEET)
  }
  if (query.file) await noteExport(db, actor, query, 'JSON')
  return told
})
