import pino, { type DestinationStream, type Logger } from 'pino'
import { prettyFactory } from 'pino-pretty'

/** How lines are written: one JSON object each for a log's reader, or as sentences. */
type LogForm = 'json' | 'readable'

interface DatabaseFault {
  code?: unknown
  errno?: unknown
  sqlState?: unknown
}

/** The driver's own error in what Sequelize or the driver threw; `undefined` for any other. */
function databaseFault(error: object): DatabaseFault | undefined {
  for (const one of [error, ...['original', 'parent', 'cause'].map((key) => (error as Record<string, unknown>)[key])])
    if (typeof one === 'object' && one !== null && ('sqlState' in one || 'sqlMessage' in one || 'sql' in one))
      return (one as { original?: DatabaseFault }).original ?? (one as DatabaseFault)
  return undefined
}

/**
 * A fault as a log may hold it. What databases and sockets say quotes values and addresses of people: of theirs only
 * the code is kept, and where in our sources it came from.
 */
export function faultForLog(error: unknown): Record<string, unknown> {
  if (typeof error !== 'object' || error === null) return { message: 'something that is no error was thrown' }
  const { name, message, stack, code, syscall } = error as Error & { code?: unknown; syscall?: unknown }
  const places = (stack ?? '').split('\n').filter((line) => /^\s+at /.test(line))
  const where = places.slice(0, 12).map((line) => line.trim())
  const database = databaseFault(error)
  if (database) {
    const { code: kind, errno, sqlState } = database
    return { type: name, code: kind, errno, sqlState, where }
  }
  if (code !== undefined) return { type: name, code, syscall, where }
  return { type: name, message, where }
}

/** A fault in few words, for the end of a sentence. */
export function faultInWords(error: unknown): string {
  const { type, code, errno, message } = faultForLog(error)
  return String(code ?? errno ?? message ?? type).split('\n')[0]!
}

/** The form asked for by FIDES_LOG; without it JSON. */
export const logForm = (asked = process.env.FIDES_LOG): LogForm => (asked === 'readable' ? 'readable' : 'json')

/**
 * The log of one process, on standard output unless `to` is given: pino's JSON lines, or `process: sentence`. Lines are
 * written before the call returns, as the process may be about to end. Faults go in as `log.error(fault, 'sentence')`.
 */
export function makeLog(process: string, form: LogForm = logForm(), to?: DestinationStream): Logger {
  const destination = to ?? pino.destination({ fd: 1, sync: true })
  const sentence = prettyFactory({
    colorize: false,
    hideObject: true,
    ignore: 'pid,hostname,level,time,process,err',
    messageFormat: (fields, key) => {
      const fault = fields.err as object | undefined
      return `${String(fields.process)}: ${String(fields[key])}${fault ? ` ${JSON.stringify(fault)}` : ''}`
    },
  })
  return pino(
    {
      base: { process },
      formatters: { level: (label) => ({ level: label }) },
      timestamp: pino.stdTimeFunctions.isoTime,
      serializers: { err: faultForLog },
    },
    form === 'json' ? destination : { write: (line) => destination.write(sentence(line)) },
  )
}
