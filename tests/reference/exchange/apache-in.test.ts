// Files for Apache are loaded by Apache itself and read by us; both are asked the same addresses. Reference: Debian’s
// apache2 2.4.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { findFormat } from '../../../core/formats'
import { ALIAS_FILES, type ApacheCase } from './apache-files'
import { REWRITING_FILES } from './apache-rewriting'
import { askTable, asLed, EXACT, neighboursOf, tableFor } from './as-gateway'
import { startApache, type RealServer } from './servers'

const APACHE_FILES = [...ALIAS_FILES, ...REWRITING_FILES]
const hostOf = (index: number) => `site-${index}.example`
const aliasOf = (index: number) => `ServerName ${hostOf(index)}\nServerAlias other.example\n`
let server: RealServer
beforeAll(async () => {
  server = await startApache(
    APACHE_FILES.map(({ context, text, files, base = '/' }, index) => ({
      host: hostOf(index),
      files,
      ...(context === 'server'
        ? {
            server: (text.includes('other\\.example') ? aliasOf(index) : '') + text,
          }
        : { folders: { [base]: text } }),
    })),
  )
})
afterAll(() => server?.stop())

const read = ({ text, context, base, files = {} }: ApacheCase, host: string) =>
  findFormat('apache')!.read(
    [{ name: 'site.conf', text }, ...Object.entries(files).map(([name, content]) => ({ name, text: content }))],
    { host, sameness: EXACT, context, base },
  )

describe('Apache and the gateway answer alike', () => {
  it.each(APACHE_FILES.map((file, index) => [file.name, file, index] as const))('%s', async (_name, file, index) => {
    const host = hostOf(index)
    const reading = read(file, host)
    expect([...new Set(reading.refusals.map(({ line }) => line))].sort((a, b) => a - b)).toEqual(file.refused ?? [])
    const table = tableFor(reading, host)
    const told = new Set([...reading.refusals, ...reading.remarks].map(({ line }) => line))
    const used = new Set<RegExp>()
    for (const asked of file.text.includes('other\\.example') ? [host, 'other.example'] : [host])
      for (const target of neighboursOf(file.asks)) {
        const real = asLed(await server.ask(asked, target))
        const ours = asLed(askTable(table, asked, target))
        // Told of every file: several slashes are one there.
        if (real === ours || /\/\//.test(target)) continue
        const known = file.differs?.find(({ path }) => path.test(target))
        if (!known) {
          expect.soft(ours, target).toBe(real)
          continue
        }
        expect(told, `line ${known.told} is told`).toContain(known.told)
        used.add(known.path)
      }
    expect(used.size, 'every difference named is one').toBe(file.differs?.length ?? 0)
  })
})
