import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { subjectKey } from '../../core/ledger'
import { domainCreate, linkCreate } from '../../core/schemas'
import { currentSurvey } from '../../server/usecases/conflicts/survey'
import { createDomain } from '../../server/usecases/domains/change-domain'
import { listDomains } from '../../server/usecases/domains/list-domains'
import { removeDomain } from '../../server/usecases/domains/remove-domain'
import { pastStates } from '../../server/usecases/ledger/past-states'
import { undo } from '../../server/usecases/ledger/undo'
import { createLink } from '../../server/usecases/links/create-link'
import { administrator, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const add = (host: string) => createDomain(register.db, administrator, domainCreate.parse({ host }))
const remove = ({ id, version }: { id: number; version: number }) =>
  removeDomain(register.db, administrator, id, version)
const hosts = async () => (await listDomains(register.db)).map(({ host }) => host)
const undoLast = async () =>
  undo(register.db, NO_NAMES, administrator, (await register.entry()).id, { overwrite: false })

describe('a domain added by mistake', () => {
  it('is removed with what was seen of it, also from the survey, and given back with its number', async () => {
    const domain = await add('wrnog.example')
    expect((await currentSurvey(register.db)).state.domains.has(domain.id)).toBe(true)
    await register.db.DocketCase.create({
      caseKey: 'test',
      lane: 'domains',
      kind: 'renewal-due',
      domainId: domain.id,
      subject: 'x',
      severity: 'doubtful',
      headline: 'x',
      sentence: 'x',
      evidence: [],
      openedAt: new Date(),
      seenAt: new Date(),
    } as never)
    await remove(domain)
    expect(await hosts()).toEqual(['ansl.example'])
    expect(await register.db.DocketCase.count({ where: { domainId: domain.id } })).toBe(0)
    expect((await currentSurvey(register.db)).state.domains.has(domain.id)).toBe(false)
    expect((await refusal(remove(domain))).status).toBe(404)

    const { at } = await register.entry()
    await undoLast()
    expect(await listDomains(register.db)).toMatchObject([
      { host: 'ansl.example' },
      { id: domain.id, host: 'wrnog.example', standing: 'not-proved' },
    ])
    expect((await currentSurvey(register.db)).state.domains.get(domain.id)?.host).toBe('wrnog.example')
    expect(await register.db.DomainWatch.count({ where: { domainId: domain.id } })).toBe(1)
    // Between the two it was not there; before them it was.
    const wasThere = async (moment: number) =>
      (await pastStates(register.db, new Date(moment))).has(subjectKey('domain', domain.id))
    expect(await Promise.all([wasThere(at.getTime() - 1), wasThere(at.getTime())])).toEqual([true, false])
    expect((await refusal(undoLast())).status).toBe(409)
  })

  it('is added again meanwhile: the old one is not given back beside it', async () => {
    const first = await add('twice.example')
    await remove(first)
    const removal = await register.entry()
    const second = await add('twice.example')
    expect(second.id).not.toBe(first.id)
    const refused = await refusal(undo(register.db, NO_NAMES, administrator, removal.id, { overwrite: false }))
    expect(refused).toMatchObject({ status: 409, detail: expect.stringContaining('twice.example') })
  })

  it('stays where it was open, has links or rules, or was changed since it was read', async () => {
    const opened = (await listDomains(register.db))[0]!
    expect((await refusal(remove(opened))).detail).toContain('may be in print')
    const domain = await add('used.example')
    expect((await refusal(remove({ ...domain, version: 7 }))).status).toBe(412)
    await createLink(
      register.db,
      administrator,
      linkCreate.parse({ domain: 'used.example', slug: 'a', destination: 'https://a.example/' }),
    )
    expect((await refusal(remove(domain))).detail).toContain('has 1 link.')
    const ruled = await add('ruled.example')
    await register.rule('/a/*', 'https://a.example/', { domain: 'ruled.example' })
    expect((await refusal(remove(ruled))).detail).toContain('has 1 rule.')
    await register.db.LedgerEntry.create({
      action: 'open',
      subjectKind: 'domain',
      subjectId: domain.id,
      subjectLabel: 'used.example',
      reason: '',
      actor: 'test',
      beforeState: {},
      afterState: {},
      memberId: null,
      at: new Date(),
    } as never)
    expect((await refusal(remove(domain))).detail).toContain('may be in print')
    expect(await hosts()).toContain('used.example')
  })

  it('is removed or used, never both, by two at once', async () => {
    for (let run = 0; run < 8; run++) {
      const host = `race${run}.example`
      const domain = await add(host)
      const given = { domain: host, slug: 'a', destination: 'https://a.example/' }
      const [removed, made] = await Promise.allSettled([
        remove(domain),
        createLink(register.db, administrator, linkCreate.parse(given)),
      ])
      expect([removed.status, made.status].sort()).toEqual(['fulfilled', 'rejected'])
      expect((await hosts()).includes(host)).toBe(made.status === 'fulfilled')
    }
  })
})
