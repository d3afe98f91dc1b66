import { appendFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { compile, entryRow, patchTable, type Table } from '../../../core/table'
import { seeded } from '../../../server/database/seed/chance'
import { Journal } from '../../../gateway/journal'
import { readSnapshot, removePartials, snapshotKeeper, writeSnapshot } from '../../../gateway/snapshot'
import { Spool } from '../../../gateway/spool'
import { domainRow, linkRow } from '../table/rows'
import { faultyDisk } from './faulty-disk'

/** Random sequences of faults tried of each kind. */
const RUNS = Number(process.env.FIDES_FAULT_RUNS ?? 60)

let folder: string
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'fides-durable-'))))
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const spooled = (where: string, ending: string) =>
  readdirSync(where)
    .filter((name) => name.endsWith(ending))
    .flatMap((name) => readFileSync(join(where, name), 'utf8').split('\n').filter(Boolean))

describe('the spool on a disk that fails', () => {
  /** A spool that flushes only when it is told to. */
  async function still(where: string, disk = faultyDisk(() => undefined), faults: string[] = []): Promise<Spool> {
    const spool = await Spool.open(where, (error) => faults.push(error.message), disk)
    clearInterval((spool as unknown as { timer: NodeJS.Timeout }).timer)
    return spool
  }

  it('writes what one refused write left over, at an orderly stop and without a new visitor', async () => {
    let refuse = false
    const spool = await still(
      folder,
      faultyDisk((operation) => (refuse && operation === 'write' ? 'error' : undefined)),
    )
    spool.push('first')
    await spool.flush()
    refuse = true
    spool.push('second')
    await spool.flush()
    refuse = false
    await spool.flush()
    await spool.close()
    expect(spooled(folder, '.ready')).toEqual(['first', 'second'])
    expect(spool.lost).toBe(0)
  })

  it('counts what it could not write until the end', async () => {
    const faults: string[] = []
    const disk = faultyDisk((operation) => (operation === 'open' ? 'error' : undefined))
    const spool = await still(folder, disk, faults)
    for (let line = 0; line < 5; line++) spool.push(`line ${line}`)
    await spool.close(0)
    expect(spool.lost).toBe(5)
    expect(faults.at(-1)).toBe('5 lines are lost: the disk refused them until the end')
  })

  it(`loses and doubles nothing in ${RUNS} runs of random faults at every operation`, async () => {
    for (let seed = 1; seed <= RUNS; seed++) {
      const random = seeded(seed)
      let isFull = true
      const where = join(folder, String(seed))
      const spool = await still(
        where,
        faultyDisk(() =>
          isFull && random() < 0.3 ? (['error', 'short', 'torn'] as const)[Math.floor(random() * 3)] : undefined,
        ),
      )
      const pushed: string[] = []
      for (let step = 0; step < 12; step++) {
        for (let line = Math.floor(random() * 4); line > 0; line--) {
          pushed.push(`${seed} ${pushed.length} ${'x'.repeat(Math.floor(random() * 40))}`)
          spool.push(pushed.at(-1)!)
        }
        await spool.flush()
        const { segment } = spool as unknown as { segment?: { since: number } }
        // As if a second had passed.
        if (segment && random() < 0.3) segment.since = 0
      }
      const endsFull = random() < 0.2
      isFull = endsFull
      await spool.close(endsFull ? 0 : 2000)
      const found = [...spooled(where, '.ready'), ...spooled(where, '.open')]
      // A torn line at the very end is passed over by the shipper.
      const whole = found.filter((line) => pushed.includes(line))
      expect(new Set(whole).size, `seed ${seed}: a line is there twice`).toBe(whole.length)
      if (!endsFull) expect(new Set(whole), `seed ${seed}`).toEqual(new Set(pushed))
      expect(whole.length + spool.lost, `seed ${seed}: lost without being counted`).toBeGreaterThanOrEqual(
        pushed.length,
      )
    }
  })
})

const domain = domainRow()
const rowsOf = (table: Table) =>
  [...table.domains.get(1)!.links].map(([canonical, entry]) => JSON.stringify(entryRow(entry, 1, canonical))).sort()

describe('journal and snapshot on a disk that fails', () => {
  it('a torn line spoils nothing but itself', async () => {
    const file = join(folder, 'table.journal')
    const journal = new Journal(file, () => undefined)
    journal.note(11, {})
    await journal.flushed()
    // An append that a full disk cut short.
    appendFileSync(file, '{"revision":12,"li')
    for (let revision = 12; revision <= 20; revision++) journal.note(revision, {})
    await journal.flushed()
    const table = compile([], [], 10)
    expect(await new Journal(file, () => undefined).replay(table)).toBe(true)
    expect(table.revision).toBe(20)
  })

  it('a missing line is noticed, and what comes after it is not claimed', async () => {
    const file = join(folder, 'table.journal')
    const journal = new Journal(file, () => undefined)
    for (const revision of [11, 12, 13]) journal.note(revision, {})
    await journal.flushed()
    const lines = readFileSync(file, 'utf8').split('\n')
    rmSync(file)
    appendFileSync(file, lines.filter((line) => !line.includes('"revision":12')).join('\n'))
    const table = compile([], [], 10)
    expect(await new Journal(file, () => undefined).replay(table)).toBe(false)
    expect(table.revision).toBe(11)
  })

  it('removes what a killed process left of a snapshot, and nothing of a living one', async () => {
    const file = join(folder, 'table.snapshot')
    appendFileSync(`${file}.999999999.partial`, 'x')
    appendFileSync(`${file}.${process.pid}.partial`, 'x')
    await removePartials(file)
    expect(readdirSync(folder)).toEqual([`table.snapshot.${process.pid}.partial`])
  })

  it('leaves no partial snapshot behind and the old one whole', async () => {
    const file = join(folder, 'table.snapshot')
    await writeSnapshot(file, compile([domain], [linkRow()], 1))
    for (const operation of ['open', 'write', 'datasync', 'rename'] as const) {
      const disk = faultyDisk((one) => (one === operation ? 'torn' : undefined))
      await expect(writeSnapshot(file, compile([domain], [], 2), 2, disk)).rejects.toThrow('ENOSPC')
      expect(readdirSync(folder)).toEqual(['table.snapshot'])
      expect((await readSnapshot(file))!.revision).toBe(1)
    }
  })

  it('goes with its journal only once the disk has the snapshot’s name', async () => {
    const file = join(folder, 'table.snapshot')
    const table = compile([domain], [linkRow()], 11)
    const disk = faultyDisk((operation) => (operation === 'syncFolder' ? 'error' : undefined))
    const journal = new Journal(join(folder, 'table.journal'), () => undefined)
    journal.note(11, { links: [linkRow()] })
    const keeper = snapshotKeeper(file, journal, { table: () => table, revision: () => 11 }, () => undefined, disk)
    await keeper.now()
    expect(existsSync(join(folder, 'table.journal.before'))).toBe(true)
    await keeper.settle()
  })

  it(`never claim a revision they do not hold in ${RUNS} runs of random faults and kills`, async () => {
    for (let seed = 1; seed <= RUNS; seed++) {
      const random = seeded(seed)
      const where = mkdtempSync(join(folder, 'run-'))
      const [file, lines] = [join(where, 'table.snapshot'), join(where, 'table.journal')]
      let faulty = false
      const disk = faultyDisk(() =>
        faulty && random() < 0.25 ? (['error', 'short', 'torn'] as const)[Math.floor(random() * 3)] : undefined,
      )
      /** The register at each revision. */
      const states = new Map<number, string[]>()
      let table = compile([domain], [linkRow()], 1)
      states.set(1, rowsOf(table))
      await writeSnapshot(file, table)
      let journal = new Journal(lines, () => undefined, disk)
      let keeper = snapshotKeeper(
        file,
        journal,
        { table: () => table, revision: () => table.revision },
        () => undefined,
        disk,
      )
      for (let step = 0; step < 30; step++) {
        faulty = random() < 0.5
        const chance = random()
        if (chance < 0.75) {
          const links = [
            linkRow({
              id: 1 + Math.floor(random() * 5),
              slug: `s${Math.floor(random() * 5)}`,
              destination: `https://www.example/${step}`,
            }),
          ]
          patchTable(table, { links })
          table.revision++
          states.set(table.revision, rowsOf(table))
          keeper.note({ links })
          if (random() < 0.5) await journal.flushed()
        } else if (chance < 0.87) await keeper.now()
        else {
          // Killed: what is in memory is gone. The next process starts from the disk and catches up with the ledger.
          await journal.flushed()
          keeper.stop()
          const started = (await readSnapshot(file))!
          await new Journal(lines, () => undefined).replay(started)
          expect(rowsOf(started), `seed ${seed}, revision ${started.revision}`).toEqual(states.get(started.revision))
          const newest = table
          table = started
          journal = new Journal(lines, () => undefined, disk)
          if (!(await journal.replay(compile([domain], [linkRow()], 1)))) journal.needsSnapshot = true
          keeper = snapshotKeeper(
            file,
            journal,
            { table: () => table, revision: () => table.revision },
            () => undefined,
            disk,
          )
          const links = [...newest.domains.get(1)!.links].map(([canonical, entry]) => entryRow(entry, 1, canonical))
          patchTable(table, { links })
          table.revision = newest.revision
          keeper.note({ links })
        }
      }
      faulty = false
      await keeper.settle()
      const last = (await readSnapshot(file))!
      await new Journal(lines, () => undefined).replay(last)
      expect(last.revision, `seed ${seed}`).toBe(table.revision)
      expect(rowsOf(last), `seed ${seed}`).toEqual(rowsOf(table))
    }
  }, 600_000)
})
