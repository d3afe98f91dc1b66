import { describe, expect, it } from 'vitest'
import { onBehalfOf } from '../../../server/threads/asker'
import { IMPORT_JOB, isFinal, JOB_KINDS, mayMove, PROPOSAL_JOB, type JobKind } from '../../../core/jobs'
import { seeded } from '../../../server/database/seed/chance'
import { LeasedWork, LeaseLost } from '../../../server/usecases/jobs/leased-work'
import { Slots } from '../../../server/usecases/jobs/slots'
import { Problem } from '../../../server/usecases/problem'
import { MemoryTable, Transaction } from './memory-table'

/** Random runs tried. */
const RUNS = Number(process.env.FIDES_JOB_RUNS ?? 20_000)

/** A work of each kind under test: where it begins, is, and ends, and where it goes back to. */
interface Plan {
  kind: JobKind<string>
  first: string
  /** [from, work, done, resume] */
  works: readonly [from: string, work: string, done: string, resume: string][]
  /** What people do to it in between. */
  acts: readonly [from: string, to: string][]
  /** Where its effect becomes visible, in the transaction of that transition. */
  effect: string
}

const PLANS: readonly Plan[] = [
  {
    kind: PROPOSAL_JOB as JobKind<string>,
    first: 'ready',
    works: [
      ['ready', 'computing', 'ready', 'ready'],
      ['waiting', 'computing', 'waiting', 'waiting'],
      ['waiting', 'applying', 'applied', 'waiting'],
      ['ready', 'applying', 'applied', 'ready'],
    ],
    acts: [
      ['ready', 'waiting'],
      ['waiting', 'waiting'],
      ['waiting', 'ready'],
      ['ready', 'withdrawn'],
      ['waiting', 'withdrawn'],
      ['computing', 'withdrawn'],
    ],
    effect: 'applied',
  },
  {
    kind: IMPORT_JOB as JobKind<string>,
    first: 'failed',
    works: [
      ['failed', 'reading', 'ready', 'failed'],
      ['ready', 'reading', 'ready', 'failed'],
      ['ready', 'applying', 'applied', 'ready'],
    ],
    acts: [
      ['ready', 'withdrawn'],
      ['reading', 'withdrawn'],
      ['applying', 'ready'],
      ['ready', 'ready'],
    ],
    effect: 'applied',
  },
]

async function run(seed: number): Promise<void> {
  const random = seeded(seed)
  const plan = PLANS[seed % PLANS.length]!
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
  // Whoever is paused goes on after a random number of turns of the others.
  const pause = async () => {
    for (let turns = Math.floor(random() * 3); turns > 0; turns--) await Promise.resolve()
  }
  const table = new MemoryTable(plan.kind, pause)
  table.rows.set(1, { id: 1, state: plan.first, version: 1, leasedUntil: null, resume: null })
  const row = table.rows.get(1)!
  /** What was written by whom: each write names the version of the work it belongs to. */
  const written: { version: number; at: number }[] = []
  let effects = 0
  const read = () => ({ id: 1, state: row.state, version: row.version })

  /** A worker or a desk that works: begins, writes, beats, and ends, fails or is killed at any point. */
  async function work(): Promise<void> {
    const seen = read()
    await pause()
    const chosen = plan.works.filter(([from]) => from === seen.state)
    if (chosen.length === 0) return
    const [, state, done, resume] = pick(chosen)
    const lease = await LeasedWork.begin<string, Transaction>(table, seen, state, { state: resume, problem: '' })
    if (!lease) return
    try {
      for (let step = Math.floor(random() * 4); step > 0; step--) {
        const chance = random()
        // Killed: nothing more is heard of it.
        if (chance < 0.15) return
        // It stood still for longer than its lease, or the clock of the database stepped.
        if (chance < 0.3) table.now += (random() - 0.2) * 60_000
        else if (chance < 0.5) await lease.beat()
        else {
          const transaction = new Transaction()
          try {
            await lease.hold(transaction)
            await pause()
            written.push({ version: lease.expected.version, at: row.version })
            transaction.end(true)
          } catch (error) {
            transaction.end(false)
            throw error
          }
        }
      }
      const transaction = new Transaction()
      try {
        await lease.finish({ to: done }, transaction)
        await pause()
        // The transaction may fail after all, as in a deadlock.
        if (random() < 0.1) throw new Error('rolled back')
        if (done === plan.effect) effects++
        transaction.end(true)
      } catch (error) {
        transaction.end(false)
        throw error
      }
    } catch (error) {
      if (error instanceof LeaseLost) return
      await lease.finish({ to: resume }).catch(() => undefined)
    }
  }

  /** Somebody at a desk who withdraws, reschedules or cancels what they see. */
  async function act(): Promise<void> {
    const seen = read()
    await pause()
    const chosen = plan.acts.filter(([from]) => from === seen.state)
    if (chosen.length > 0) await table.move(seen, { to: pick(chosen)[1] })
  }

  async function actor(): Promise<void> {
    for (let turns = 0; turns < 5; turns++) {
      const chance = random()
      if (chance < 0.5) await work()
      else if (chance < 0.8) await act()
      else if (chance < 0.9) await table.giveBack()
      else table.now += (random() - 0.2) * 40_000
    }
  }
  // Two workers and two desks.
  await Promise.all([actor(), actor(), actor(), actor()])

  const about = `seed ${seed}: ${table.moves.map(({ from, to }) => `${from}→${to}`).join(' ')}`
  // Each transition is one the kind allows, and each version was left once.
  for (const { from, to } of table.moves) expect(mayMove(plan.kind, from, to), about).toBe(true)
  expect(new Set(table.moves.map(({ version }) => version)).size, about).toBe(table.moves.length)
  expect(row.version, about).toBe(table.moves.length + 1)
  // What is done is done once, and only where the state says so.
  expect(effects, about).toBe(row.state === plan.effect ? 1 : 0)
  expect(
    table.moves.filter(({ from }) => isFinal(plan.kind, from)),
    about,
  ).toEqual([])
  // Nothing was written for work that counts no more.
  for (const { version, at } of written) expect(at, about).toBe(version)
  // Nothing stays in work: once the leases have lapsed, all can go on.
  table.now = Math.max(table.now, row.leasedUntil ?? 0) + 1
  await table.giveBack()
  expect(row.state in plan.kind.working, about).toBe(false)
}

describe('long jobs', () => {
  it(`keep their word in ${RUNS} random runs of two workers, two desks, kills and clock steps`, async () => {
    for (let seed = 1; seed <= RUNS; seed++) await run(seed)
  }, 600_000)

  it('name transitions between their own states only, and rest in a final state', () => {
    for (const kind of JOB_KINDS as readonly JobKind[]) {
      const states = Object.keys(kind.transitions)
      for (const [from, all] of Object.entries(kind.transitions))
        for (const to of all) expect(states, `${kind.table}: ${from} → ${to}`).toContain(to)
      expect(states.some((state) => isFinal(kind, state))).toBe(true)
      for (const state of Object.keys(kind.working)) expect(isFinal(kind, state)).toBe(false)
    }
  })

  it('take no more places than there are, however many ask together', () => {
    const slots = new Slots(2, 2, () => new Problem(429, 'Full', 'Wait.'))
    const [one] = [slots.take(), slots.take()]
    expect(() => slots.take()).toThrow('Wait.')
    one()
    one()
    slots.take()
    expect(() => slots.take()).toThrow('Wait.')
  })

  it('give one member no more than a share of the places', () => {
    const slots = new Slots(3, 1, () => new Problem(429, 'Full', 'Wait.'))
    const leave = onBehalfOf({ key: 'member 1' }, () => slots.take())
    expect(() => onBehalfOf({ key: 'member 1' }, () => slots.take())).toThrow('Wait.')
    onBehalfOf({ key: 'member 2' }, () => slots.take())
    leave()
    onBehalfOf({ key: 'member 1' }, () => slots.take())
  })
})
