import { spawn } from 'node:child_process'
import { mkdir, mkdtemp, readFile, readdir, rm, utimes, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { writeCut } from '../../../core/misses'
import { readEvent, writeEvent, writeVisitor, type VisitEvent, writePresence } from '../../../core/visits'
import { segmentPrefix } from '../../../environment/spool-folder'
import { readSnapshot, writeSnapshot } from '../../../gateway/snapshot'
import { Spool } from '../../../gateway/spool'
import { dayReader } from '../../../core/time/calendar-day'
import { Segments } from '../../../shipper/segments'
import { answer, countLinks } from '../../../core/table'
import { tableOf } from '../table/rows'

let folder: string
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'fides-'))))
afterEach(() => rm(folder, { recursive: true, force: true }))
const spools = () => join(folder, 'spool')
const open = () =>
  Spool.open(spools(), (error) => {
    throw error
  })
const texts = async () => {
  const names = (await readdir(spools())).filter((name) => name.endsWith('.ready')).sort()
  return Promise.all(names.map((name) => readFile(join(spools(), name), 'utf8')))
}

describe('Spool', () => {
  it('keeps lines in their order and gives them as batches', async () => {
    const spool = await open()
    for (let index = 0; index < 5; index++) spool.push(`line ${index}`)
    await spool.flush()
    spool.push('line 5')
    await spool.close()
    expect(await texts()).toEqual(['line 0\nline 1\nline 2\nline 3\nline 4\nline 5\n'])
    expect(await new Segments(folder).ready()).toHaveLength(1)
  })

  it('keeps lines while the disk refuses them', async () => {
    const faults: Error[] = []
    const spool = await Spool.open(spools(), (error) => faults.push(error))
    await rm(spools(), { recursive: true })
    spool.push('kept')
    await spool.flush()
    expect(faults.length).toBeGreaterThan(0)
    await mkdir(spools())
    await spool.close()
    expect(await texts()).toEqual(['kept\n'])
  })

  it('never gives two batches one key', async () => {
    const [one, two] = [await open(), await open()]
    one.push('a')
    two.push('b')
    await one.close()
    await two.close()
    expect(new Set(await readdir(spools())).size).toBe(2)
  })
})

/** A segment in the hand of a process that lives, and of one that ended. */
const living = () => segmentPrefix() + '-1'
async function ended(): Promise<string> {
  const child = spawn('sleep', ['60'])
  const stat = await readFile(`/proc/${child.pid}/stat`, 'latin1')
  const started = stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19]
  const gone = new Promise((resolve) => child.once('exit', resolve))
  child.kill('SIGKILL')
  await gone
  return `${child.pid}.${started}-x-y-1`
}

describe('Segments', () => {
  beforeEach(() => mkdir(spools()))

  it('closes what a killed process left in hand, counts its torn line, and closes no other', async () => {
    const [left, held] = [await ended(), living()]
    await writeFile(join(spools(), `${left}.open`), `${writeEvent(event, writeVisitor(event))}\n[17950`)
    await writeFile(join(spools(), `${held}.open`), 'being written')
    const segments = new Segments(folder)
    expect(await segments.ready()).toEqual([left])
    expect(await segments.read(left)).toEqual({ key: left, events: [event], cuts: [], quarters: [], torn: 1 })
    expect(await readdir(spools())).toContain(`${held}.open`)
  })

  it('tells a process from a later one of the same number', async () => {
    const [pid] = living().split('.')
    await writeFile(join(spools(), `${pid}.1-x-y-1.open`), 'z\n')
    expect(await new Segments(folder).ready()).toEqual([`${pid}.1-x-y-1`])
  })

  it('takes over what earlier releases left in folders of their own, once forsaken', async () => {
    const old = join(folder, '2', 'spool')
    await mkdir(old, { recursive: true })
    await writeFile(join(old, 'gone-1.ready'), 'x\n')
    await writeFile(join(old, 'gone-2.open'), 'y\n')
    await writeFile(join(old, 'now-3.open'), 'z\n')
    const before = new Date(Date.now() - 120_000)
    await utimes(join(old, 'gone-2.open'), before, before)
    await writeFile(join(folder, '2', 'table.snapshot'), 'not a segment')
    expect(await new Segments(folder).ready()).toEqual(['gone-1', 'gone-2'])
    expect(await readdir(old)).toEqual(['now-3.open'])
  })

  it('reads what was cut beside events, and passes over anything else', async () => {
    const cut = { domainId: 3, hour: 1_795_000_000_000, requests: 12 }
    await writeFile(
      join(spools(), 'a.ready'),
      [writeCut(cut), writePresence(1_795_000_000_000), '["here","x"]', '["cut",1,"x",2]', '{}', 'null', ''].join('\n'),
    )
    expect(await new Segments(folder).read('a')).toEqual({
      key: 'a',
      events: [],
      cuts: [cut],
      quarters: [1_994_444],
      torn: 4,
    })
  })

  it('forgets a batch once, and does not mind being told twice', async () => {
    await writeFile(join(spools(), 'old-1.ready'), 'x\n')
    const segments = new Segments(folder)
    await segments.done('old-1')
    await segments.done('old-1')
    expect(await segments.ready()).toEqual([])
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
  network: '',
  channel: '',
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
        { slug: 'plain', status: 307, query: 'carry', queryConflict: 'both' },
        { slug: 'resting', standing: 'paused' },
      ],
      { capitalsMatter: false },
    )
    const file = join(folder, 'table.snapshot')
    await writeSnapshot(file, table)
    const read = (await readSnapshot(file))!
    expect(read.revision).toBe(table.revision)
    expect(countLinks(read)).toBe(6)
    const now = Date.now()
    for (const target of ['/NIGHT?x=1', '/soon', '/over', '/odd', '/plain?a=1', '/resting', '/nite'])
      expect(answer(read, request(target), now)).toEqual(answer(table, request(target), now))
  })
  it('of the release before is read: all links as rows', async () => {
    const table = tableOf([
      { id: 1, slug: 'Night', canonical: 'night', destination: 'https://www.example/n', status: 302 },
      { id: 2, slug: 'late', destination: 'https://www.example/l', status: 301, endsAt: 5 },
    ])
    const [part] = table.domains.values()
    const domain = part!.domain
    const rows = [
      [1, domain.id, 'night', 'https://www.example/n', 302, 'discard', 'destination', 'live', 'Night'],
      [2, domain.id, 'late', 'https://www.example/l', 301, 'discard', 'destination', 'live', null, null, 5],
    ]
    const lines = [{ format: 'fides-snapshot-5', revision: 7 }, [domain], [], { rows }, { links: 2 }]
    const file = join(folder, 'table.snapshot')
    await writeFile(file, lines.map((line) => JSON.stringify(line)).join('\n') + '\n')
    const read = (await readSnapshot(file))!
    expect(read.revision).toBe(7)
    for (const target of ['/night', '/late'])
      expect(answer(read, request(target), 1)).toEqual(answer(table, request(target), 1))
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
