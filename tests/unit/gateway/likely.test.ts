import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { afterAll, describe, expect, it, vi } from 'vitest'
import { compile } from '../../../core/table'
import { Likely } from '../../../gateway/likely'
import { domainRow, linkRow } from '../table/rows'

const folder = mkdtempSync(join(tmpdir(), 'fides-likely-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('the ranking thread', () => {
  it('is started again when it dies, and told the table again', async () => {
    const file = join(folder, 'thread.mjs')
    // Dies at the first question; says that it is ready once it was told all links.
    writeFileSync(
      file,
      `import { parentPort } from 'node:worker_threads'
       parentPort.on('message', (message) => {
         if (message.type === 'ready') parentPort.postMessage({ type: 'ready', bytes: 1 })
         if (message.type === 'rank') throw new Error('out of memory')
       })`,
    )
    const lines: string[] = []
    const likely = new Likely({}, (line) => lines.push(line), pathToFileURL(file))
    try {
      await likely.load(compile([domainRow()], [linkRow()]))
      const isReady = () => (likely as unknown as { ready: boolean }).ready
      await vi.waitFor(() => expect(isReady()).toBe(true), { timeout: 20_000 })
      expect(await likely.ask(1, 'fare')).toBeUndefined()
      await vi.waitFor(() => expect(lines).toEqual(['ranking of misses stopped: out of memory']), { timeout: 20_000 })
      await vi.waitFor(() => expect(isReady()).toBe(true), { timeout: 20_000 })
    } finally {
      await likely.stop()
    }
  })

  it('does not remember what was ranked before a link came', async () => {
    const file = join(folder, 'slow.mjs')
    // Answers a question only once the links have changed, by what they were before: with nothing.
    writeFileSync(
      file,
      `import { parentPort } from 'node:worker_threads'
       let asked
       let changed = false
       const answer = () => parentPort.postMessage({
         type: 'ranked', id: asked, candidates: changed > 1 ? [{ domainId: 1, canonical: 'fares', probability: 1 }] : []
       })
       parentPort.on('message', (message) => {
         if (message.type === 'ready') parentPort.postMessage({ type: 'ready', bytes: 1 })
         if (message.type === 'change') { changed++; answer() }
         if (message.type === 'rank') { asked = message.id; if (changed) { changed++; answer() } }
       })`,
    )
    const table = compile([domainRow()], [linkRow()])
    const likely = new Likely({}, () => undefined, pathToFileURL(file))
    try {
      await likely.load(table)
      await vi.waitFor(() => expect((likely as unknown as { ready: boolean }).ready).toBe(true), { timeout: 20_000 })
      const early = likely.ask(1, 'fare')
      likely.change(table, [1], [{ domainId: 1, canonical: 'fares' }])
      await early
      const [found] = (await likely.ask(1, 'fare')) ?? []
      expect(found?.canonical ?? 'late').toMatch(/fares|late/)
      expect(likely.figures.remembered).toBe(0)
    } finally {
      await likely.stop()
    }
  })
})
