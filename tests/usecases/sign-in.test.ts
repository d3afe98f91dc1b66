import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { listDoorEvents } from '../../server/usecases/people/door-log'
import { countTry } from '../../server/usecases/people/limit-tries'
import { readdress, readOneTime } from '../../server/usecases/people/one-time'
import { changePassword } from '../../server/usecases/people/choose-password'
import { changeMember } from '../../server/usecases/people/members'
import { hashPassword, verifyPassword } from '../../server/usecases/people/password'
import { prove } from '../../server/usecases/people/factors'
import { beginSession, readSession } from '../../server/usecases/people/sessions'
import { signIn } from '../../server/usecases/people/sign-in'
import { Problem } from '../../server/usecases/problem'
import { makeFeed, readCalendar } from '../../server/usecases/notices/feeds'
import { administrator, TestRegister } from './register'

const PASSWORD = 'a password for tests'
let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  const passwordHash = await hashPassword(PASSWORD)
  const createdAt = new Date()
  for (const email of ['forty@port.test', 'locked@port.test', 'straße@port.test'])
    await register.db.Member.create({ email, name: email, role: 'editor', passwordHash, createdAt })
})
afterAll(() => register.stop())

const status = (email: string, password: string, peer: string) =>
  signIn(register.db, email, password, { peer, agent: 'test' }).then(
    () => 200,
    (error: unknown) => {
      if (error instanceof Problem) return error.status
      throw error
    },
  )

describe('signing in', () => {
  it('has ten of forty tries at once verified at most, whatever they are', async () => {
    const given = await Promise.all(
      Array.from({ length: 40 }, (_, index) => status('forty@port.test', `wrong ${index}`, '192.0.2.1')),
    )
    expect(given.filter((one) => one === 401)).toHaveLength(10)
    expect(given.filter((one) => one === 429)).toHaveLength(30)
    expect(await status('forty@port.test', PASSWORD, '192.0.2.1')).toBe(429)
  })

  it('is not locked to a member by strangers elsewhere, however many try', async () => {
    for (let index = 0; index < 12; index++) await status('locked@port.test', 'wrong', '192.0.2.1')
    expect(await status('locked@port.test', PASSWORD, '192.0.2.9')).toBe(200)
    const { id } = (await register.db.Member.findOne({ where: { email: 'locked@port.test' } }))!
    for (let index = 0; index < 60; index++) await countTry(register.db, `member ${id}`, `198.51.100.${index}`)
    expect(await status('locked@port.test', PASSWORD, '192.0.2.10')).toBe(200)
  })

  it('is counted for a whole network of IPv6, which one subscriber has', async () => {
    for (let index = 0; index < 10; index++)
      await countTry(register.db, 'somebody', `2001:db8:1:2::${index.toString(16)}`)
    await expect(countTry(register.db, 'somebody', '2001:db8:1:2:ffff::1')).rejects.toThrow(/Too many failed attempts/)
    await expect(countTry(register.db, 'somebody', '2001:db8:1:3::1')).resolves.toBeUndefined()
  })

  it('is refused to a peer that tries as everybody', async () => {
    const tries = Array.from({ length: 61 }, (_, index) => countTry(register.db, `person ${index}`, '192.0.2.66'))
    const refused = (await Promise.allSettled(tries)).filter(({ status }) => status === 'rejected')
    expect(refused).toHaveLength(1)
  })

  it('is noted for its owner, once for all tries that are turned away', async () => {
    const { id } = (await register.db.Member.findOne({ where: { email: 'forty@port.test' } }))!
    const events = await listDoorEvents(register.db, id)
    expect(events.filter(({ words }) => words === 'Failed sign-in: wrong password')).toHaveLength(10)
    expect(events.filter(({ words }) => words.includes('too many attempts'))).toHaveLength(1)
    expect(events[0]).toMatchObject({ peer: '192.0.2.1', agent: 'test', failed: true })
  })

  it('forgets tries once somebody is in', async () => {
    for (let round = 0; round < 2; round++) {
      for (let index = 0; index < 6; index++) await status('straße@port.test', 'wrong', '192.0.2.7')
      expect(await status('straße@port.test', PASSWORD, '192.0.2.7')).toBe(200)
    }
  })

  it('takes no address for another that some collation calls the same', async () => {
    for (const email of ['strasse@port.test', 'STRAßE@port.test', 'straße@port.test '])
      expect(await status(email, PASSWORD, '192.0.2.8'), email).toBe(401)
  })
})

describe('a password string', () => {
  it('is the one of the PHC string format, and those of earlier releases are read still', async () => {
    // github.com/P-H-C/phc-string-format: Base64 with + and /, without padding.
    const hash = await hashPassword(PASSWORD)
    expect(hash).toMatch(/^\$scrypt\$n=65536,r=8,p=2\$[A-Za-z0-9+/]{22}\$[A-Za-z0-9+/]{43}$/)
    expect(await verifyPassword(PASSWORD, hash)).toBe(true)
    expect(await verifyPassword(PASSWORD, hash.replaceAll('+', '-').replaceAll('/', '_'))).toBe(true)
    expect(await verifyPassword('another', hash)).toBe(false)
    for (const odd of ['', '$', '$scrypt$n=1', '$argon2id$v=19$m=1,t=1,p=1$c2FsdA$aGFzaA', 'x'.repeat(500)])
      expect(await verifyPassword(PASSWORD, odd), odd).toBe(false)
  })
})

describe('what works without a password', () => {
  const context = { variables: { FIDES_DESK_ADDRESS: 'https://desk.test' } } as never
  async function secrets(email: string) {
    const { db } = register
    const member = (await db.Member.findOne({ where: { email } }))!
    const feed = new URL((await makeFeed(db, context, member, 'calendar')).address!).searchParams.get('key')!
    const { path } = await readdress(db, administrator, member.id)
    const works = async () => [
      await readCalendar(db, context, feed).then(
        () => true,
        () => false,
      ),
      await readOneTime(db, path.split('#')[1]!).then(
        () => true,
        () => false,
      ),
    ]
    expect(await works()).toEqual([true, true])
    return { member: await member.reload(), works }
  }

  it('ends with one’s own new password', async () => {
    const { member, works } = await secrets('locked@port.test')
    const caller = { peer: '192.0.2.90', agent: 'test' } as never
    const session = { id: 0 } as never
    const actor = { memberId: member.id, name: member.name, role: member.role }
    await changePassword(register.db, actor, { member, session }, caller, {
      present: PASSWORD,
      password: 'harbour lantern seven',
    })
    expect(await works()).toEqual([false, false])
  })

  it('ends with its member’s deactivation, and does not come back with it', async () => {
    const { member, works } = await secrets('straße@port.test')
    const set = async (active: boolean) =>
      changeMember(register.db, administrator, member.id, (await member.reload()).version!, { active })
    await set(false)
    await set(true)
    expect(await works()).toEqual([false, false])
  })
})

describe('a second factor', () => {
  const sealing = Buffer.alloc(32)
  const tryCode = async (member: never, session: never, peer: string) =>
    prove(register.db, sealing, { member, session }, { peer, agent: 'test' } as never, ['code'], {
      code: '000000',
    }).then(
      () => 200,
      (error: unknown) => (error as Problem).status,
    )

  it('that is wrong five times ends the half-finished sign-in, and is limited for its member anywhere', async () => {
    const { db } = register
    const member = (await db.Member.findOne({ where: { email: 'forty@port.test' } }))!
    const seen: number[] = []
    for (let network = 0; network < 8; network++) {
      const { word } = await beginSession(db, member, 'test', false)
      const { session } = (await readSession(db, word))!
      for (let wrong = 0; wrong < 5; wrong++)
        seen.push(await tryCode(member as never, session as never, `198.51.100.${network}`))
      if (network < 6) expect(await readSession(db, word), `after ${seen.length} tries`).toBeUndefined()
    }
    // Each from a network of its own: 30 in all are looked at, and none of the ten after them.
    expect(seen.filter((status) => status === 401)).toHaveLength(30)
    expect(seen.slice(30)).toEqual(Array(10).fill(429))
  })
})
