import { appendFileSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { compile, countLinks, type Table } from '../../../core/table'
import { LINK_FIELDS, rowOfState, type DomainRow, type LinkRow } from '../../../core/rows'
import { domainRowOfState } from '../../../core/rows'
import { ScheduledPatches } from '../../../core/ledger-follower/scheduled-patches'
import { Journal } from '../../../gateway/journal'
import { readSnapshot, snapshotKeeper } from '../../../gateway/snapshot'

const domain = domainRowOfState({ id: 1, host: 'ansl.example', standing: 'open', defaultStatus: 302 }) as DomainRow
const link = (id: number, slug: string, destination = `https://www.example/${slug}`) =>
  rowOfState(LINK_FIELDS, 'table', { id, domainId: 1, slug, canonical: slug, destination, status: 302 }) as LinkRow
const gone = (canonical: string) => ({ domainId: 1, canonical })

let folder: string
let faults: string[]
let table: Table
let revision: number
let journal: Journal
let keeper: ReturnType<typeof snapshotKeeper>
const file = (name: string) => join(folder, name)
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'fides-journal-'))
  faults = []
  table = compile([domain], [link(1, 'fares'), link(2, 'night')], 10)
  revision = 10
  journal = new Journal(file('table.journal'), (error) => faults.push(error.message))
  keeper = snapshotKeeper(file('table.snapshot'), journal, { table: () => table, revision: () => revision }, (line) =>
    faults.push(line),
  )
})
afterEach(() => {
  rmSync(folder, { recursive: true, force: true })
  expect(faults).toEqual([])
})

/** What a gateway that starts without the database would answer from. */
async function started(): Promise<Table> {
  const fresh = (await readSnapshot(file('table.snapshot')))!
  await new Journal(file('table.journal'), () => undefined).replay(fresh)
  return fresh
}
const leads = (from: Table, slug: string) => from.domains.get(1)!.links.get(slug)?.destination

describe('the journal beside a snapshot', () => {
  it('brings a table to where it stood, change by change', async () => {
    await keeper.now()
    revision = 11
    keeper.note({ links: [link(1, 'fares', 'https://new.example/')] })
    revision = 12
    keeper.note({ gone: [gone('night')], links: [link(2, 'late')] })
    revision = 13
    keeper.note({ domains: [{ ...domain, rootDestination: 'https://root.example/' }] })
    await keeper.settle()
    const fresh = await started()
    expect(fresh.revision).toBe(13)
    expect(leads(fresh, 'fares')).toBe('https://new.example/')
    expect(leads(fresh, 'night')).toBeUndefined()
    expect(leads(fresh, 'late')).toBe('https://www.example/late')
    expect(fresh.domains.get(1)!.domain.rootDestination).toBe('https://root.example/')
  })

  it('is folded into the next snapshot, and what comes meanwhile is kept', async () => {
    await keeper.now()
    revision = 11
    keeper.note({ links: [link(3, 'three')] })
    table = compile([domain], [link(1, 'fares'), link(2, 'night'), link(3, 'three')], 11)
    const writing = keeper.now()
    // Once it is under way.
    await new Promise(setImmediate)
    await journal.flushed()
    revision = 12
    keeper.note({ links: [link(4, 'four')] })
    await writing
    await keeper.settle()
    expect(existsSync(file('table.journal.before'))).toBe(false)
    const fresh = await started()
    expect(countLinks(fresh)).toBe(4)
    expect(fresh.revision).toBe(12)
  })

  it('that was cut short in the middle of a line ends there', async () => {
    await keeper.now()
    revision = 11
    keeper.note({ links: [link(3, 'three')] })
    await keeper.settle()
    appendFileSync(file('table.journal'), '{"revision":12,"links":[{"id":4,"dom')
    const fresh = await started()
    expect(fresh.revision).toBe(11)
    expect(countLinks(fresh)).toBe(3)
  })

  it('of a process killed while it wrote a snapshot is whole in two files', async () => {
    await keeper.now()
    revision = 11
    keeper.note({ links: [link(3, 'three')] })
    await journal.flushed()
    // Killed after the turn, before the snapshot was in its place.
    await journal.turn()
    revision = 12
    keeper.note({ links: [link(4, 'four')] })
    await journal.flushed()
    expect(countLinks(await started())).toBe(4)
    // And once more: nothing of the first is lost.
    await journal.turn()
    expect(readFileSync(file('table.journal.before'), 'utf8').split('\n').filter(Boolean)).toHaveLength(2)
    expect(countLinks(await started())).toBe(4)
  })

  it('never claims what still waits for its moment', async () => {
    const patches = new ScheduledPatches()
    const waits = { id: 1, revision: 11, liveAt: Date.now() + 60_000, addresses: [], together: true }
    patches.sort(table, [waits], [link(1, 'fares', 'https://waits.example/')], Date.now())
    revision = Math.min(12, patches.settledRevision)
    await keeper.now()
    keeper.note({ links: [link(2, 'night', 'https://later.example/')] })
    await keeper.settle()
    // The ledger is followed from before it, so that it is taken in again.
    expect((await started()).revision).toBe(10)
    patches.due(table, Date.now() + 120_000)
    expect(patches.settledRevision).toBe(Infinity)
  })

  it('without a snapshot it belongs to is nothing', async () => {
    writeFileSync(file('table.journal'), '{"revision":99,"links":[]}\n')
    expect(await readSnapshot(file('table.snapshot'))).toBeUndefined()
  })
})
