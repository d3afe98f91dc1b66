import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { caseListQuery, type Case } from '../../core/schemas'
import { reconcileCases, type Finding } from '../../server/docket/keeper'
import { listCases } from '../../server/usecases/docket/list-cases'
import { readCase } from '../../server/usecases/docket/read-case'
import { patchCase } from '../../server/usecases/docket/set-aside'
import { undo } from '../../server/usecases/ledger/undo'
import { administrator, NO_NAMES, TestRegister } from './register'

// Common practice, no source: a host whose certificate nobody knows breaks every link to it, a name server that is
// silent disturbs every domain it serves; whoever is called at night wants to read of it once.
let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(() => register.db.DocketCase.destroy({ where: {} }))

const finding = (number: number, more: Partial<Finding> = {}): Finding => ({
  kind: 'certificate',
  key: String(number).padStart(64, '0'),
  cause: 'issuer Nobody',
  domainId: 1,
  linkId: null,
  links: [],
  subject: `ansl.example/${number}`,
  severity: 'broken',
  headline: 'Certificate from an unknown issuer',
  sentence: 'Browsers warn visitors.',
  evidence: [],
  impact: number,
  harmAt: null,
  print: null,
  conflict: null,
  ...more,
})
const keep = async (found: readonly Finding[]) =>
  reconcileCases(register.db, found, { there: await register.db.DocketCase.findAll(), now: new Date() })
const list = (query: Record<string, string> = {}) => listCases(register.db, caseListQuery.parse(query))
const setAside = ({ id, version }: Case) =>
  patchCase(register.db, administrator, id, version, {
    state: 'set-aside',
    until: new Date(Date.now() + 86_400_000).toISOString(),
    reason: 'Their administrator knows',
  })

describe('cases of one cause', () => {
  it('are one case in the list and in every count, ranked by all they affect', async () => {
    const many = Array.from({ length: 50 }, (_, index) => finding(index + 1))
    const alone = finding(100, { kind: 'not-found', cause: null, impact: 600 })
    await keep([...many, alone])
    const { items, lanes } = await list()
    // 1 + 2 + … + 50 visits a day are more than 600.
    expect(items.map(({ together, impact }) => [together, impact])).toEqual([
      [50, 1275],
      [1, 600],
    ])
    expect(lanes).toEqual([{ lane: 'targets', cases: 2, visits: 1875, remarks: 0 }])
    expect(items[0]!.subject).toBe('ansl.example/50')
    const read = await readCase(register.db, NO_NAMES, items[0]!.id)
    expect(read).toMatchObject({ together: 50, impact: 1275 })
    expect(read.others).toHaveLength(49)
  })

  it('count a domain once, however many of them it has', async () => {
    const silent = (number: number, domainId: number) =>
      finding(number, { kind: 'server-silent', cause: 'server ns1.port.test', domainId, impact: 40 })
    await keep([silent(1, 1), silent(2, 1), silent(3, 2)])
    const { items } = await list()
    expect(items.map(({ together, impact }) => [together, impact])).toEqual([[3, 80]])
  })

  it('shows the next of them once the first is settled', async () => {
    const many = [1, 2, 3].map((number) => finding(number))
    await keep(many)
    await keep(many.slice(0, 2))
    const { items } = await list()
    expect(items.map(({ subject, together }) => [subject, together])).toEqual([['ansl.example/2', 2]])
  })

  it('are set aside as one, and taken up as one by undoing it', async () => {
    await keep([1, 2, 3].map((number) => finding(number)))
    await setAside((await list()).items[0]!)
    expect((await list()).items).toEqual([])
    expect((await list({ state: 'set-aside' })).items.map(({ together }) => together)).toEqual([3])
    const entry = (await register.db.LedgerEntry.findOne({ order: [['id', 'DESC']] }))!
    expect(entry.subjectLabel).toContain('and 2 more of the same cause')
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect((await list()).items.map(({ together }) => together)).toEqual([3])
  })

  it('leaves alone what somebody set aside until another moment', async () => {
    await keep([1, 2, 3].map((number) => finding(number)))
    const first = (await register.db.DocketCase.findOne({ where: { subject: 'ansl.example/1' } }))!
    const until = new Date(Date.now() + 7 * 86_400_000)
    await first.update({ state: 'set-aside', setAsideUntil: until })
    await setAside((await list()).items[0]!)
    expect((await first.reload()).setAsideUntil).toEqual(until)
  })
})
