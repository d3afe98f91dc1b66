import { describe, expect, it } from 'vitest'
import { isScattered, noiseOf } from '../../../core/misses'
import { agentKind } from '../../../core/visits'
import { labelledLog } from './labelled-log'

const print = (line: string) => process.stdout.write(line + '\n')

// Signs of scans, declared robots and scattershot clients: common practice, no source. The log and its labels are
// made by
// another generator than the signatures.
describe('noise on a labelled log of 5,000 requests', () => {
  const log = labelledLog(5000, 4242)
  const byToken = new Map<string, string[]>()
  for (const { token, path } of log) byToken.set(token, [...(byToken.get(token) ?? []), path])
  const scattered = new Set([...byToken].filter(([, paths]) => isScattered(new Set(paths))).map(([token]) => token))
  const told = log.map((request) => ({
    ...request,
    taken: agentKind(request.agent) === 'robot' || noiseOf(request.path) !== null || scattered.has(request.token),
  }))
  const share = (of: typeof told) => of.filter(({ taken }) => taken).length / of.length

  it('loses at most 1% of true demand, and at least 95% of noise goes', () => {
    const lost = share(told.filter(({ noise }) => !noise))
    const gone = share(told.filter(({ noise }) => noise))
    print(`noise gone ${(gone * 100).toFixed(1)} %, true demand lost ${(lost * 100).toFixed(2)} %`)
    expect(lost).toBeLessThanOrEqual(0.01)
    expect(gone).toBeGreaterThanOrEqual(0.95)
  })
})
