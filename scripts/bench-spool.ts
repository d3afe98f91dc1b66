import { randomBytes } from 'node:crypto'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { writeEvent, writeVisitor } from '../core/visits'
import { READY, segmentPrefix, spoolFolder } from '../environment/spool-folder'

const LINES = 5000

/** Puts segments of visits to `links` random links into the spool of a gateway's state folder, as a gateway would. */
export function fillSpool(state: string, visits: number, links: number): void {
  const folder = spoolFolder(state)
  mkdirSync(folder, { recursive: true })
  const prefix = segmentPrefix()
  const visitors = Array.from({ length: 2000 }, () =>
    writeVisitor({
      country: 'PT',
      language: 'pt',
      device: 'mobile',
      system: 'Android',
      browser: 'Chrome',
      visitor: randomBytes(16).toString('hex'),
    }),
  )
  const pick = (most: number) => Math.floor(Math.random() * most)
  for (let segment = 1; segment * LINES <= visits; segment++) {
    const lines = Array.from({ length: LINES }, () =>
      writeEvent(
        {
          at: Date.now() - pick(60_000),
          domainId: 1,
          linkId: 1 + pick(links),
          kind: 'visit',
          status: 302,
          outcome: 'redirect',
          path: '',
          referrer: pick(3) ? '' : 'mail.test',
          ruleId: 0,
          mended: '',
          after: '',
          page: '',
        },
        visitors[pick(visitors.length)]!,
      ),
    )
    writeFileSync(join(folder, `${prefix}-${segment}${READY}`), lines.join('\n') + '\n')
  }
}
