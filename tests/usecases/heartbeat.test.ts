import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { expectedOf, proposalJobs } from '../../server/usecases/changes/proposal-jobs'
import { LeasedWork, LeaseLost } from '../../server/usecases/jobs/leased-work'
import { Partner } from './partner'
import { TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

describe('a heartbeat', () => {
  it('is no loss where another came within the same millisecond', async () => {
    const proposal = await partner.proposeMove()
    const row = (await register.db.Proposal.findByPk(proposal.id))!
    const work = (await LeasedWork.begin(proposalJobs(register.db), expectedOf(row), 'applying', {
      state: 'ready',
      problem: '',
    }))!
    await Promise.all(Array.from({ length: 200 }, () => work.beat()))
    await work.finish({ to: 'ready' })
    await expect(work.beat()).rejects.toThrow(LeaseLost)
  })

  it('is no loss where it waits for rows of its own work, and the database refuses one of the two', async () => {
    const { db } = register
    const proposal = await partner.proposeMove()
    const row = (await db.Proposal.findByPk(proposal.id))!
    const work = (await LeasedWork.begin(proposalJobs(db), expectedOf(row), 'applying', {
      state: 'ready',
      problem: '',
    }))!
    const beat = await db.sequelize.transaction(async (transaction) => {
      // The database refuses whoever has written less.
      await db.Link.update({ updatedAt: new Date() }, { where: {}, transaction })
      await work.hold(transaction)
      const beat = work.beat()
      await vi.waitFor(async () => {
        const waiting = await db.sequelize.query(
          "SELECT 1 FROM information_schema.processlist WHERE info LIKE 'UPDATE proposal SET leased_until%'",
          { type: QueryTypes.SELECT },
        )
        expect(waiting).toHaveLength(1)
      })
      await db.sequelize.query('UPDATE proposal SET done = done + 1 WHERE id = ?', {
        replacements: [proposal.id],
        transaction,
      })
      return { beat }
    })
    await beat.beat
    expect((await db.Proposal.findByPk(proposal.id))!.done).toBe(row.done + 1)
    await work.finish({ to: 'ready' })
  })
})
