import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { domainPatch, type DomainPatch } from '../../core/schemas'
import { changeDomain } from '../../server/usecases/domains/change-domain'
import { undo } from '../../server/usecases/ledger/undo'
import { administrator, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

async function change(patch: object) {
  const domain = (await register.db.Domain.findOne({ where: { host: 'ansl.example' } }))!
  const given: DomainPatch = domainPatch.parse({ reason: 'for a test', ...patch })
  return changeDomain(register.db, administrator, domain.id, domain.version, given)
}

describe('fallbacks are checked like destinations', () => {
  it.each(['rootDestination', 'notFoundDestination', 'endedDestination'])(
    '%s takes no scheme that the domain does not list',
    async (field) => {
      const refused = await refusal(change({ [field]: 'ansl-app://home' }))
      expect(refused.status).toBe(422)
      expect(refused.errors[0]).toMatchObject({ pointer: `/${field}` })
      await change({ appSchemes: ['ansl-app'], [field]: 'ansl-app://home' })
      // What is in use cannot be taken off the list.
      expect((await refusal(change({ appSchemes: [] }))).errors[0]).toMatchObject({ pointer: `/${field}` })
      await change({ [field]: null, appSchemes: [] })
    },
  )

  it.each([
    ['rootDestination', 'https://ansl.example/'],
    ['rootDestination', 'https://ANSL.example:443'],
    ['notFoundDestination', 'https://ansl.example/nobody-has-this'],
    ['endedDestination', 'https://ansl.example/over'],
    ['notFoundDestination', 'https://ansl.example/around'],
  ])('%s may not lead in a circle: %s', async (field, destination) => {
    if (destination.endsWith('/over'))
      await register.changeLink(await register.link('over', 'https://over.example/'), { standing: 'ended' })
    if (destination.endsWith('/around')) await register.link('around', 'https://ansl.example/not-there')
    const refused = await refusal(change({ [field]: destination }))
    expect(refused.status).toBe(422)
    expect(refused.errors[0]).toMatchObject({ pointer: `/${field}` })
    expect(refused.message).toContain('Redirect loop')
  })

  it('lead to our own links where those lead on', async () => {
    await register.link('home', 'https://www.portansel.example/')
    const changed = await change({
      rootDestination: 'https://ansl.example/home',
      notFoundDestination: 'https://ansl.example/home',
      endedDestination: 'https://ansl.example/home',
    })
    expect(changed.rootDestination).toBe('https://ansl.example/home')
    await change({ rootDestination: null, notFoundDestination: null, endedDestination: null })
  })

  it('are checked when an undoing brings them back, too', async () => {
    await change({ appSchemes: ['ansl-app'], rootDestination: 'ansl-app://home' })
    await change({ rootDestination: null })
    const taken = await register.entry('change')
    await change({ appSchemes: [] })
    expect((await refusal(undo(register.db, NO_NAMES, administrator, taken.id, { overwrite: true }))).status).toBe(422)
  })
})
