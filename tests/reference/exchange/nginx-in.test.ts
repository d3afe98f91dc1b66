// Files for nginx are loaded by nginx itself and read by us; both are asked the same addresses. Reference: Debian’s
// nginx.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { findFormat } from '../../../core/formats'
import { askTable, asLed, EXACT, neighboursOf, tableFor } from './as-gateway'
import { NGINX_FILES, type NginxCase } from './nginx-files'
import { startNginx, type RealServer } from './servers'

const hostOf = (index: number) => `site-${index}.example`
/** Variables are of the whole server: those of each file get their own names. */
const apart = (text: string, index: number) => text.replace(/\$(moved|to)\b/g, `$$$1_${index}`)
const whole = ({ text, beside = '' }: NginxCase, index: number) =>
  apart(`${beside}\nserver { listen 127.0.0.1:\${PORT}; server_name ${hostOf(index)};\n${text}\n}`, index)

let server: RealServer
beforeAll(async () => {
  const files = Object.assign({}, ...NGINX_FILES.map(({ files: own }) => own ?? {})) as Record<string, string>
  server = await startNginx(NGINX_FILES.map(whole).join('\n'), files)
})
afterAll(() => server?.stop())

describe('nginx and the gateway answer alike', () => {
  it.each(NGINX_FILES.map((file, index) => [file.name, file, index] as const))('%s', async (_name, file, index) => {
    const host = hostOf(index)
    const reading = findFormat('nginx')!.read(
      [
        { name: 'site.conf', text: whole(file, index) },
        ...Object.entries(file.files ?? {}).map(([name, text]) => ({ name, text })),
      ],
      { host, sameness: EXACT },
    )
    const words = file.refused ?? []
    expect(
      reading.refusals.map(({ source, sentence }, at) =>
        source.includes(words[at] ?? '–') ? words[at] : `${source}: ${sentence}`,
      ),
    ).toEqual(words)
    const table = tableFor(reading, host)
    const told = [...reading.refusals, ...reading.remarks].map(({ sentence }) => sentence)
    const used = new Set<RegExp>()
    for (const target of neighboursOf(file.asks)) {
      const real = asLed(await server.ask(host, target))
      const ours = asLed(askTable(table, host, target))
      // Told of every file: several slashes are one there.
      if (real === ours || /\/\//.test(target)) continue
      const known = file.differs?.find(({ path }) => path.test(target))
      if (!known) {
        expect.soft(ours, target).toBe(real)
        continue
      }
      expect(
        told.some((sentence) => known.told.test(sentence)),
        `${known.told} is told`,
      ).toBe(true)
      used.add(known.path)
    }
    expect(used.size, 'every difference named is one').toBe(file.differs?.length ?? 0)
  })
})
