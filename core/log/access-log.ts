/** One request as a web server's access log tells it. */
export interface LoggedRequest {
  method: string
  /** The path and query as they were asked for. */
  target: string
  status: number
  /** Milliseconds; `undefined` where the date cannot be read. */
  at: number | undefined
}

// host ident user [date] "request" status size, and in the combined form "referrer" "user agent" after it. Servers
// escape a quote within a field as \" (Apache HTTP Server, mod_log_config: "Common Log Format", "Combined Log Format").
const QUOTED = String.raw`"(?:[^"\\]|\\.)*"`
const LINE = new RegExp(
  String.raw`^\S+ \S+ (?:\S+|${QUOTED}) \[([^\]]{10,40})\] "((?:[^"\\]|\\.)*)" (\d{3}) (?:\d+|-)` +
    `(?: ${QUOTED} ${QUOTED})?`,
)
const MAX_LINE = 100_000
const DATE = /^(\d{2})\/([A-Z][a-z]{2})\/(\d{4}):(\d{2}):(\d{2}):(\d{2}) ([+-])(\d{2})(\d{2})$/
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

function readDate(text: string): number | undefined {
  const match = DATE.exec(text)
  if (!match) return undefined
  const [, day, month, year, hour, minute, second, sign, zoneHours, zoneMinutes] = match
  const index = MONTHS.indexOf(month!)
  if (index < 0) return undefined
  const offset = (Number(zoneHours) * 60 + Number(zoneMinutes)) * (sign === '-' ? -1 : 1)
  return Date.UTC(Number(year), index, Number(day), Number(hour), Number(minute), Number(second)) - offset * 60_000
}

/** Reads one line of an access log in Common or Combined Log Format; `undefined` where it is none. */
export function readLogLine(line: string): LoggedRequest | undefined {
  // Servers cut request lines at some 8,000 octets; what is far longer is no line, and costs the matcher its stack.
  if (line.length > MAX_LINE) return undefined
  const match = LINE.exec(line)
  const request = match && /^([A-Z]+) (\S+)(?: HTTP\/[\d.]+)?$/.exec(match[2]!)
  if (!request) return undefined
  return { method: request[1]!, target: request[2]!, status: Number(match[3]), at: readDate(match[1]!) }
}

/** A path of an old website that visitors asked for. */
export interface SeenPath {
  path: string
  visits: number
  /** Milliseconds. */
  lastAt: number | undefined
}

export interface LogReading {
  lines: number
  unread: number
  /** Requests that count: pages read, not files around them, not errors. */
  requests: number
  paths: SeenPath[]
}

/** What pages bring along; nobody has such an address printed. */
const BESIDE = /\.(?:css|js|mjs|map|png|jpe?g|gif|svg|webp|avif|ico|woff2?|ttf|eot|json|xml|txt)$/i

/**
 * Sums up an access log by path: pages that were read (GET, answered 2xx, 304 or a redirect), without their queries,
 * most visited first, at most `most` of them.
 */
export function readAccessLog(text: string, most: number): LogReading {
  const paths = new Map<string, SeenPath>()
  let lines = 0
  let unread = 0
  let requests = 0
  for (let start = 0; start < text.length;) {
    const end = text.indexOf('\n', start)
    const line = text.slice(start, end < 0 ? text.length : end).trim()
    start = end < 0 ? text.length : end + 1
    if (line === '') continue
    lines++
    const logged = readLogLine(line)
    if (!logged) {
      unread++
      continue
    }
    const path = /^(?:https?:\/\/[^/]+)?(\/[^?#]*)/.exec(logged.target)?.[1]
    if (
      logged.method !== 'GET' ||
      logged.status < 200 ||
      logged.status >= 400 ||
      path === undefined ||
      path === '/' ||
      BESIDE.test(path)
    )
      continue
    requests++
    const seen = paths.get(path)
    if (!seen) paths.set(path, { path, visits: 1, lastAt: logged.at })
    else {
      seen.visits++
      if (logged.at !== undefined && (seen.lastAt === undefined || logged.at > seen.lastAt)) seen.lastAt = logged.at
    }
  }
  return {
    lines,
    unread,
    requests,
    paths: [...paths.values()].sort((a, b) => b.visits - a.visits || (a.path < b.path ? -1 : 1)).slice(0, most),
  }
}
