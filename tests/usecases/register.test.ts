import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { linkListQuery, slugRulesPut, traceRequest } from '../../core/schemas'
import { changeSlugRules, readSlugRules } from '../../server/usecases/slug-rules/slug-rules'
import { listLinks } from '../../server/usecases/links/list-links'
import { readRule } from '../../server/usecases/rules/rules'
import { traceAddress } from '../../server/usecases/links/trace-address'
import { administrator, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  for (const slug of ['a1', 'a2', 'a3', 'a4']) await register.link(slug, `https://${slug}.example/`)
})
afterAll(() => register.stop())

describe('a page of the register', () => {
  const SORTS = ['visits', 'changed', 'made', 'address'] as const
  const list = (sort: string, cursor?: string) =>
    listLinks(register.db, linkListQuery.parse({ sort, limit: '2', ...(cursor !== undefined && { cursor }) }))

  it('is not continued in another order', async () => {
    for (const sort of SORTS) {
      const { next } = await list(sort)
      expect((await list(sort, next!)).items).toHaveLength(2)
      for (const other of SORTS.filter((one) => one !== sort))
        expect(await refusal(list(other, next!)), `${sort}, then ${other}`).toMatchObject({
          status: 422,
          errors: [{ pointer: '/cursor', detail: expect.stringContaining(`sorted by “${sort}”`) }],
        })
    }
  })

  it('refuses what was never a cursor', async () => {
    const code = (value: unknown) => Buffer.from(JSON.stringify(value)).toString('base64url')
    for (const cursor of [
      'nonsense',
      code(null),
      code(['visits', 'x', 1]),
      code(['changed', 'no date', 1]),
      code(['visits', 1, 'x']),
      code(['toString', 1, 1]),
      code([5, 1]),
    ])
      expect((await refusal(list('visits', cursor))).status, cursor).toBe(400)
  })
})

describe('an exception of a rule', () => {
  it('goes on holding when capitals begin to matter, and when they cease to', async () => {
    const rule = await register.rule('/Deal/*', 'https://deals.example/{0}', { except: ['Deal/Press'] })
    const leads = async (path: string) =>
      traceAddress(register.db, traceRequest.parse({ address: `ansl.example${path}` }))
    expect((await leads('/deal/press')).status).toBe(404)
    for (const capitalsMatter of [true, false, true]) {
      const { capacity: _capacity, usualBlocked: _usual, version, ...rules } = await readSlugRules(register.db, 1)
      await changeSlugRules(
        register.db,
        administrator,
        1,
        version,
        slugRulesPut.parse({ ...rules, capitalsMatter, reason: 'for a test', otherwise: 'keep' }),
      )
      expect((await leads('/Deal/Press')).status, `capitals matter: ${capitalsMatter}`).toBe(404)
      expect((await leads('/Deal/Other')).location).toMatch(/^https:..deals.example.other$/i)
      expect((await readRule(register.db, rule.id)).except).toEqual(['Deal/Press'])
    }
  })
})
