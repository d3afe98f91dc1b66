import { mkdir, mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { readEvent, writeEvent, writeVisitor, type VisitEvent } from '../../../core/visits'
import { adoptSpools } from '../../../gateway/adopt'
import { dayReader } from '../../../gateway/batch'
import { readSnapshot, writeSnapshot } from '../../../gateway/snapshot'
import { Spool } from '../../../gateway/spool'
import { answer, countLinks } from '../../../core/table'
import { tableOf } from '../table/rows'

let folder: string
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'fides-'))))
afterEach(() => rm(folder, { recursive: true, force: true }))
const open = () =>
  Spool.open(folder, (error) => {
    throw error
  })

describe('Spool', () => {
  it('keeps lines in their order and gives them as batches', async () => {
    const spool = await open()
    for (let index = 0; index < 5; index++) spool.push(`line ${index}`)
    await spool.flush()
    spool.push('line 5')
    await spool.close()
    const keys = await spool.ready()
    expect(keys).toHaveLength(1)
    expect(await readFile(spool.file(keys[0]!), 'utf8')).toBe('line 0\nline 1\nline 2\nline 3\nline 4\nline 5\n')
  })

  it('gives what a killed run left open, torn line and all', async () => {
    await writeFile(join(folder, 'old-1.open'), 'whole\nto')
    const spool = await open()
    expect(await spool.ready()).toEqual(['old-1'])
    await spool.close()
  })

  it('of a place that serves no more is taken over by the first one; of a serving one it is left alone', async () => {
    for (const place of ['1', '2', '3', '4']) await mkdir(join(folder, place, 'spool'), { recursive: true })
    await writeFile(join(folder, '2', 'spool', 'serving-1.ready'), 'x\n')
    await writeFile(join(folder, '3', 'spool', 'gone-1.ready'), 'y\n')
    await writeFile(join(folder, '4', 'spool', 'gone-2.open'), 'z\nto')
    await writeFile(join(folder, '4', 'table.snapshot'), 'not a segment')
    expect(await adoptSpools(folder, '1', 2)).toBe(2)
    expect(await adoptSpools(folder, '1', 2)).toBe(0)
    const spool = await Spool.open(join(folder, '1', 'spool'), () => undefined)
    expect(await spool.ready()).toEqual(['gone-1', 'gone-2'])
    await spool.close()
    expect(await readdir(join(folder, '2', 'spool'))).toEqual(['serving-1.ready'])
  })

  it('forgets a batch once, and does not mind being told twice', async () => {
    await writeFile(join(folder, 'old-1.ready'), 'x\n')
    const spool = await open()
    await spool.done('old-1')
    await spool.done('old-1')
    expect(await spool.ready()).toEqual([])
    await spool.close()
  })

  it('keeps lines while the disk refuses them', async () => {
    const faults: Error[] = []
    const spool = await Spool.open(folder, (error) => faults.push(error))
    await rm(folder, { recursive: true })
    spool.push('kept')
    await spool.flush()
    expect(faults.length).toBeGreaterThan(0)
    await (await import('node:fs/promises')).mkdir(folder)
    await spool.close()
    const [key] = await spool.ready()
    expect(await readFile(spool.file(key!), 'utf8')).toBe('kept\n')
  })

  it('never gives two batches one key', async () => {
    const [one, two] = [await open(), await open()]
    one.push('a')
    two.push('b')
    await one.close()
    await two.close()
    expect(new Set((await readdir(folder)).map((name) => name.split('.')[0])).size).toBe(2)
  })
})

const event: VisitEvent = {
  at: 1_795_000_000_000,
  domainId: 1,
  linkId: 7,
  kind: 'visit',
  status: 302,
  outcome: 'redirect',
  path: '',
  ruleId: 0,
  mended: '',
  after: '',
  page: '',
  referrer: 'mail.test',
  country: 'PT',
  language: 'pt',
  device: 'mobile',
  system: 'Android',
  browser: 'Chrome',
  visitor: '00112233445566778899aabbccddeeff',
}
describe('events', () => {
  it('are read back as written', () => expect(readEvent(writeEvent(event, writeVisitor(event)))).toEqual(event))
  it('are read back whatever the path and referrer hold', () => {
    const odd = { ...event, path: 'a"\\\n\u2028', referrer: '"' }
    expect(readEvent(writeEvent(odd, writeVisitor(odd)))).toEqual(odd)
  })
  it.each(['', '[1,2', '{}', '[1,2,3]'])('are not made of the torn line %j', (line) =>
    expect(readEvent(line)).toBeUndefined(),
  )
})

describe('dayReader', () => {
  it.each([
    ['Europe/Lisbon', '2026-10-24T23:30:00Z', '2026-10-25'],
    ['Europe/Lisbon', '2026-10-25T23:30:00Z', '2026-10-25'],
    ['Asia/Kathmandu', '2026-01-01T18:14:00Z', '2026-01-01'],
    ['Asia/Kathmandu', '2026-01-01T18:15:00Z', '2026-01-02'],
    ['UTC', '2026-12-31T23:59:59Z', '2026-12-31'],
  ])('%s at %s is %s', (zone, moment, day) => expect(dayReader(zone)(Date.parse(moment))).toBe(day))
})

describe('snapshot', () => {
  const request = (target: string) => ({ method: 'GET', host: 'ansl.example', target })
  it('answers as the table it was written from', async () => {
    const table = tableOf(
      [
        { slug: 'Night', canonical: 'night', query: 'carry', queryConflict: 'visitor', status: 308 },
        { slug: 'soon', startsAt: Date.now() + 1e6 },
        { slug: 'over', standing: 'ended', endedDestination: 'https://www.example/over' },
        { slug: 'odd', robots: 'noindex', referrerPolicy: 'no-referrer' },
      ],
      { capitalsMatter: false },
    )
    const file = join(folder, 'table.snapshot')
    await writeSnapshot(file, table)
    const read = (await readSnapshot(file))!
    expect(read.revision).toBe(table.revision)
    expect(countLinks(read)).toBe(4)
    const now = Date.now()
    for (const target of ['/NIGHT?x=1', '/soon', '/over', '/odd', '/nite'])
      expect(answer(read, request(target), now)).toEqual(answer(table, request(target), now))
  })
  it('is not read when it is cut short, empty or another thing', async () => {
    const file = join(folder, 'table.snapshot')
    await writeSnapshot(file, tableOf([{}, { slug: 'night' }]))
    const whole = await readFile(file, 'utf8')
    for (const text of [
      whole.slice(0, -20),
      whole.split('\n').slice(0, 3).join('\n'),
      '',
      '{"format":"other"}\n',
      'garbage',
    ]) {
      await writeFile(file, text)
      expect(await readSnapshot(file)).toBeUndefined()
    }
    expect(await readSnapshot(join(folder, 'none'))).toBeUndefined()
  })
})
