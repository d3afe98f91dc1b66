import { getHeader, send, sendStream, setResponseHeader, setResponseStatus } from 'h3'
import { operations } from '../../../../contract/operations'
import { useSettings } from '../../../../http/context'
import { route } from '../../../../http/route'
import { exportTag, takeOut } from '../../../../usecases/exchange/take-out'

const TYPES: Record<string, string> = {
  csv: 'text/csv; charset=utf-8',
  json: 'application/json; charset=utf-8',
  jsonl: 'application/x-ndjson; charset=utf-8',
  html: 'text/html; charset=utf-8',
  zip: 'application/zip',
}

export default route(operations.takeOut, async ({ event, db, word, query }) => {
  const tag = await exportTag(db, word, query)
  setResponseHeader(event, 'ETag', tag)
  setResponseHeader(event, 'Cache-Control', 'private, no-cache')
  // Whoever has it already is not sent it again (RFC 9110 §13.1.2).
  const held = (getHeader(event, 'if-none-match') ?? '').split(',').map((one) => one.trim().replace(/^W\//, ''))
  if (held.includes(tag) || held.includes('*')) {
    setResponseStatus(event, 304)
    return send(event, '')
  }
  const { name, bytes, handle } = await takeOut(useSettings().FIDES_DATABASE_URL, word, query)
  setResponseHeader(event, 'Content-Type', TYPES[name.split('.').at(-1)!] ?? 'text/plain; charset=utf-8')
  setResponseHeader(event, 'Content-Disposition', `attachment; filename="${name.replace(/[^\w.-]/g, '_')}"`)
  setResponseHeader(event, 'X-Content-Type-Options', 'nosniff')
  setResponseHeader(event, 'Content-Length', bytes)
  return sendStream(event, handle.createReadStream())
})
