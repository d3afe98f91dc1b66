import { expect, describe, it } from 'vitest'
import { TableFollower, type LinkChange, type TableChange } from '../../../core/ledger-follower'
import { ScheduledPatches } from '../../../core/ledger-follower/scheduled-patches'
import type { LinkRow } from '../../../core/rows'
import { answer, compile, entryRow, patchTable, putLink, type Table } from '../../../core/table'
import { seeded } from '../../../server/database/seed/chance'
import { domainRow, linkRow } from '../table/rows'
import { RegisterModel } from './register-model'

/** Random histories tried. */
const HISTORIES = Number(process.env.FIDES_HISTORIES ?? 20_000)
const contents = (table: Table) =>
  new Map(
    [...table.domains].flatMap(([id, { links }]) =>
      [...links].map(([canonical, entry]) => [`${id}/${canonical}`, JSON.stringify(entryRow(entry, id, canonical))]),
    ),
  )

/** A gateway: a follower, and what it has on disk. */
class Gateway {
  private snapshot: { revision: number; rows: LinkRow[]; domains: string } | undefined
  private journal: string[] = []
  follower!: TableFollower

  constructor(
    private readonly model: RegisterModel,
    private readonly between: () => void,
  ) {
    this.start()
  }

  start(): void {
    let table: Table | undefined
    if (this.snapshot) {
      table = compile(JSON.parse(this.snapshot.domains), this.snapshot.rows, this.snapshot.revision)
      for (const line of this.journal) {
        const { revision, ...change } = JSON.parse(line) as { revision: number } & TableChange
        if (revision < table.revision) continue
        patchTable(table, change)
        table.revision = revision
      }
    }
    const follower: TableFollower = new TableFollower(
      this.model.source(this.between),
      {
        patched: (change) => this.journal.push(JSON.stringify({ revision: follower.settledRevision, ...change })),
        loaded: () => this.write(),
      },
      () => this.model.now,
      table,
    )
    this.follower = follower
  }

  write(): void {
    const { table, settledRevision } = this.follower
    this.snapshot = {
      revision: settledRevision,
      rows: [...table.domains].flatMap(([id, { links }]) =>
        [...links].map(([canonical, entry]) => entryRow(entry, id, canonical)),
      ),
      domains: JSON.stringify([...table.domains.values()].map(({ domain }) => domain)),
    }
    this.journal = []
  }
}

async function history(seed: number): Promise<void> {
  const random = seeded(seed)
  const model = new RegisterModel(random)
  for (let acts = 0; acts < 6; acts++) model.act()
  // In half of the histories nobody acts between two reads of one poll, and a poll reads all there is.
  const isAtomic = random() < 0.5
  model.entriesAtOnce = isAtomic ? Infinity : 6
  let interleaves = isAtomic ? 0 : 0.1
  const gateway = new Gateway(model, () => {
    while (random() < interleaves) model.act()
  })
  await gateway.follower.load()
  /** Addresses that answered, and since when each has belonged to a link. */
  const answered = new Map<string, number>()
  for (let step = 0; step < 25; step++) {
    const chance = random()
    if (chance < 0.45) model.act()
    else if (chance < 0.75) await gateway.follower.catchUp()
    else if (chance < 0.9) {
      model.now += Math.floor(random() * 1500)
      gateway.follower.applyDue()
    } else if (chance < 0.95) gateway.write()
    else gateway.start()
    // What the gateway has not read yet it cannot answer by.
    if (!isAtomic || gateway.follower.table.revision !== model.revision) continue
    const seen = contents(gateway.follower.table)
    for (const [address, since] of model.since) {
      if (seen.has(address)) answered.set(address, since)
      else if (answered.get(address) === since)
        throw new Error(`seed ${seed}: ${address}, which answered and still belongs to a link, answers no more`)
    }
  }
  interleaves = 0
  if (random() < 0.5) gateway.start()
  await gateway.follower.catchUp()
  model.now = Math.max(model.now, model.lastDue) + 1
  gateway.follower.applyDue()
  expect(contents(gateway.follower.table), `seed ${seed}`).toEqual(contents(compile(model.domains, model.rows())))
  expect(gateway.follower.settledRevision).toBe(model.revision)
}

describe('a table that follows the ledger', () => {
  it(`equals a fresh load after ${HISTORIES} random histories of changes, schedules and restarts`, async () => {
    for (let seed = 1; seed <= HISTORIES; seed++) await history(seed)
  }, 600_000)
})

const domain = domainRow({ id: 1, host: 'go.example' })
const poster = (more: Partial<LinkRow> = {}) =>
  linkRow({ id: 7, slug: 'poster', destination: 'https://old.example/', ...more })
const change = (more: Partial<LinkChange> & { id: number }): LinkChange => ({
  revision: 10,
  liveAt: undefined,
  addresses: [],
  together: false,
  ...more,
})
const NOW = 1_000_000
const LATER = NOW + 4000

describe('a change that takes effect later', () => {
  const setUp = (...rows: LinkRow[]) => {
    const table = compile([domain], rows)
    const patches = new ScheduledPatches()
    const sort = (changes: LinkChange[], links: LinkRow[]) =>
      patchTable(table, patches.sort(table, changes, links, NOW))
    const ask = (path: string) => {
      const given = answer(table, { method: 'GET', host: 'go.example', target: path }, NOW)
      return given.location ?? given.status
    }
    const due = () => patchTable(table, patches.due(table, LATER) ?? {})
    return { table, patches, sort, ask, due }
  }
  const scheduled = (id: number) => change({ id, liveAt: LATER, together: true })
  const moved = poster({ destination: 'https://new.example/' })
  const address = { domainId: 1, canonical: 'poster' }

  it('leaves the address of a link answering that is renamed before its time', () => {
    const { sort, ask, due } = setUp(poster())
    sort([scheduled(7)], [moved])
    const further = linkRow({ id: 8, slug: 'poster', destination: 'https://new.example/', forwardsTo: 7 })
    sort(
      [change({ id: 8, revision: 11 }), change({ id: 7, revision: 12, addresses: [address] })],
      [{ ...moved, slug: 'plakat', canonical: 'plakat' }, further],
    )
    expect(ask('/poster')).toBe('https://old.example/')
    due()
    expect([ask('/poster'), ask('/plakat')]).toEqual(['https://new.example/', 'https://new.example/'])
  })

  it('does not revive a link that is deleted before its time', () => {
    const { sort, ask, due } = setUp(poster())
    sort([scheduled(7)], [moved])
    sort([change({ id: 7, revision: 11, addresses: [address] })], [])
    expect(ask('/poster')).toBe(404)
    due()
    expect(ask('/poster')).toBe(404)
  })

  it('is not carried along by an immediate change that is read with it', () => {
    const { sort, ask, due } = setUp(poster())
    sort([change({ id: 7, revision: 9, addresses: [address] }), scheduled(7)], [moved])
    expect(ask('/poster')).toBe('https://old.example/')
    due()
    expect(ask('/poster')).toBe('https://new.example/')
  })

  it('does not take an address from a link that has it by now', () => {
    const { sort, ask, due } = setUp(poster())
    sort([scheduled(7)], [moved])
    sort(
      [change({ id: 7, revision: 11, addresses: [address] }), change({ id: 9, revision: 12 })],
      [{ ...moved, slug: 'plakat', canonical: 'plakat' }, poster({ id: 9, destination: 'https://nine.example/' })],
    )
    expect(ask('/poster')).toBe('https://nine.example/')
    due()
    expect([ask('/poster'), ask('/plakat')]).toEqual(['https://nine.example/', 'https://new.example/'])
  })

  it('keeps the revision before it until its time', () => {
    const { patches, sort, due } = setUp(poster())
    sort([scheduled(7)], [moved])
    expect(patches.settledRevision).toBe(9)
    due()
    expect(patches.settledRevision).toBe(Infinity)
  })

  it('of very many links is sorted without a limit', () => {
    const { table, sort, due } = setUp()
    const many = Array.from({ length: 150_000 }, (_, index) => linkRow({ id: index + 1, slug: `many/${index}` }))
    for (const row of many) putLink(table, row)
    sort(
      many.map(({ id }) => scheduled(id)),
      many,
    )
    due()
    expect(table.domains.get(1)!.links.size).toBe(150_000)
  })
})
