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

/** The methods the API answers at a path below /api/v1; none where there is no such path. */
export const methodsAt = (path: string): string[] => [
  ...new Set(PATHS.filter(({ matches }) => matches.test(path)).map(({ method }) => method)),
]
