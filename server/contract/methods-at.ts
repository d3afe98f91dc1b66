import type { Operation } from './operation'
import { operations } from './operations'

const escaped = (text: string) => text.replace(/[.*+?^$()|[\]\\]/g, '\\$&')

/** Paths of operations as expressions: each part in braces is one segment. */
const PATHS = (Object.values(operations) as Operation[]).map(({ path, method }) => ({
  method,
  matches: new RegExp(
    `^${path
      .split(/\{\w+\}/)
      .map(escaped)
      .join('[^/]+')}$`,
  ),
}))

/** A stream of events has no end, and so no HEAD. */
export const isStream = (path: string): boolean => path.endsWith('/events')

/** The methods the API answers at a path below /api/v1, HEAD with GET; none where there is no such path. */
export function methodsAt(path: string): string[] {
  const methods = PATHS.filter(({ matches }) => matches.test(path)).map(({ method }) => method)
  return [...new Set(methods.flatMap((method) => (method === 'GET' && !isStream(path) ? ['GET', 'HEAD'] : [method])))]
}
