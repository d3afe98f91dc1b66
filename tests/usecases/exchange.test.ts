import { randomBytes } from 'node:crypto'
import { zipSync, strToU8 } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { intakeRowsQuery } from '../../core/schemas'
import { applyIntake } from '../../server/usecases/exchange/apply-intake'
import { decideIntakeRows, listIntakeRows } from '../../server/usecases/exchange/intake-view'
import { changeIntake, readIntake, withdrawIntake } from '../../server/usecases/exchange/intakes'
import { filesOf, refuseFullShare } from '../../server/usecases/exchange/sources'
import { linkHolders } from '../../server/usecases/changes/holders'
import { undo } from '../../server/usecases/ledger/undo'
import { pastStates } from '../../server/usecases/ledger/past-states'
import { bringing } from './bringing'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const { bring, rowsOf, settled } = bringing(() => register)
const linkAt = (canonical: string) => register.db.Link.findOne({ where: { canonical } })

describe('a file that is brought in', () => {
  it('is compared with the register line by line, and nothing is written yet', async () => {
    await register.link('fares', 'https://www.portansel.example/fares')
    await register.link('ferry', 'https://harbourferries.example/?ref=old')
    const before = await register.db.Link.count()
    const intake = await bring(
      'site.htaccess',
      [
        'Redirect 301 /fares https://www.portansel.example/fares',
        'Redirect 302 /Ferry https://harbourferries.example/?ref=pat-04',
        'RedirectMatch ^/(?!pdf)(.*)$ https://www.portansel.example/$1',
        'Redirect 302 /regatta https://events.portansel.example/regatta-2026',
        'Redirect 410 /closed',
        'Redirect 302 /Nowhere ftp://old.example/',
      ].join('\n'),
    )
    expect(intake).toMatchObject({ state: 'ready', format: 'apache', lines: 6 })
    const rows = await rowsOf(intake.id)
    const at = (line: number) => rows.filter((row) => row.line === line)
    expect(at(1)[0]).toMatchObject({ kind: 'clash', code: 'differs', decision: null, choices: ['replace', 'leave'] })
    expect(at(2).find(({ kind }) => kind === 'clash')).toMatchObject({
      code: 'elsewhere',
      address: 'ansl.example/Ferry',
      why: expect.stringContaining('Equal to “ferry” here. Leads to https://harbourferries.example/?ref=old today.'),
    })
    expect(at(3)[0]).toMatchObject({ kind: 'refused', code: 'expression', column: 17, address: '' })
    expect(at(3)[0]!.why).toContain('look-ahead')
    expect(at(4).find(({ kind }) => kind === 'new')).toMatchObject({ decision: 'bring', status: 302 })
    expect(at(5)[0]).toMatchObject({ kind: 'new', destination: null })
    expect(at(6)[0]).toMatchObject({ kind: 'refused', code: 'destination' })
    expect(await register.db.Link.count()).toBe(before)
    await withdrawIntake(register.db, editor, intake.id)
  })

  it('is refused where the open files of its member fill their share of the disk', async () => {
    const bytes = 10_000
    const text = `address,destination\n/x,https://a.example/${randomBytes(bytes).toString('base64url')}\n`
    const open = await bring('large.csv', text)
    const full = () => refusal(refuseFullShare(register.db, editor.memberId, 3 * bytes, 4 * bytes))
    expect((await full())?.message).toContain('Import or discard one of them first.')
    // Other members have shares of their own.
    await refuseFullShare(register.db, 4711, 3 * bytes, 4 * bytes)
    await withdrawIntake(register.db, editor, open.id)
    await refuseFullShare(register.db, editor.memberId, 3 * bytes, 4 * bytes)
  })

  it('is applied as one entry of the ledger, undone as one, and done again', async () => {
    const kept = await register.link('zones', 'https://www.portansel.example/zones')
    const csv = [
      'address,destination,status,title,tags',
      '/zones,https://www.portansel.example/zones-2027,301,Zones,season',
      '/night,https://www.portansel.example/night,302,Night buses,"season;night"',
      '/pier,https://www.portansel.example/pier,,,',
      '/zones,https://twice.example/,,,',
    ].join('\n')
    const intake = await bring('season.csv', csv)
    expect(intake.counts).toMatchObject({ new: 2, clash: 1, refused: 1, bring: 2, undecided: 1 })
    const decided = await decideIntakeRows(register.db, intake.id, { code: 'elsewhere', decision: 'replace' })
    expect(decided.counts).toMatchObject({ bring: 2, replace: 1, undecided: 0 })
    expect((await refusal(applyIntake(register.db, administrator, intake.id, intake.version))).status).toBe(412)
    const moment = new Date()
    const applied = await applyIntake(register.db, administrator, intake.id, decided.version)
    expect(applied).toMatchObject({ state: 'applied' })
    const entry = await register.entry()
    expect(entry).toMatchObject({ action: 'import', subjectLabel: 'season.csv: 2 links made, 1 link changed' })
    expect(await linkAt('night')).toMatchObject({ title: 'Night buses', status: 302, standing: 'live' })
    expect(await linkAt('zones')).toMatchObject({
      destination: 'https://www.portansel.example/zones-2027',
      status: 301,
    })
    const past = await pastStates(register.db, moment)
    expect([...past.values()].some((state) => (state as { slug?: string }).slug === 'night')).toBe(false)

    const undone = await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await linkAt('night')).toMatchObject({ standing: 'retired' })
    expect(await linkAt('zones')).toMatchObject({ id: kept.id, destination: 'https://www.portansel.example/zones' })
    await undo(register.db, NO_NAMES, administrator, undone.id, { overwrite: false })
    expect(await linkAt('night')).toMatchObject({ title: 'Night buses', standing: 'live' })
    expect(await linkAt('zones')).toMatchObject({ destination: 'https://www.portansel.example/zones-2027' })
    expect((await refusal(applyIntake(register.db, administrator, intake.id, applied.version))).status).toBe(409)
  })

  it('offers a rule for lines of one shape; taken, it stands in for them, and goes with the entry', async () => {
    const lines = Array.from(
      { length: 30 },
      (_, at) => `/halt/${4400 + at} https://live.portansel.example/${at === 5 ? 'other' : `s/${4400 + at}`} 302`,
    )
    const intake = await bring('halts.txt', lines.join('\n'))
    expect(intake.families).toEqual([
      expect.objectContaining({
        pattern: '/halt/:id(\\d{4})',
        destination: 'https://live.portansel.example/s/{id}',
        links: 29,
        exceptions: 1,
        takes: 10_000,
        taken: false,
      }),
    ])
    const taken = await changeIntake(register.db, register.url, intake.id, intake.version, { families: [0] })
    expect(taken.counts).toMatchObject({ bring: 1, rules: 1, inRules: 29 })
    await applyIntake(register.db, administrator, intake.id, taken.version)
    expect(await register.db.Rule.count({ where: { pattern: '/halt/:id(\\d{4})' } })).toBe(1)
    expect(await linkAt('halt/4405')).toMatchObject({ destination: 'https://live.portansel.example/other' })
    expect(await linkAt('halt/4406')).toBeNull()
    const entry = await register.entry()
    expect(entry.subjectLabel).toBe('halts.txt: 1 link made, 1 rule made')
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await register.db.Rule.count({ where: { pattern: '/halt/:id(\\d{4})' } })).toBe(0)
    expect(await linkAt('halt/4405')).toMatchObject({ standing: 'retired' })
  })

  it('refuses all of it where somebody made one of its addresses meanwhile', async () => {
    const intake = await bring('late.txt', '/first https://a.example/ 302\n/late https://b.example/ 302')
    await register.link('late', 'https://elsewhere.example/')
    const refused = await refusal(applyIntake(register.db, administrator, intake.id, intake.version))
    expect(refused).toMatchObject({ status: 409, message: expect.stringContaining('ansl.example/late') })
    expect(await linkAt('first')).toBeNull()
    expect(await readIntake(register.db, intake.id)).toMatchObject({ state: 'ready' })
  })

  it('keeps the addresses that somebody may have requested when it is undone, and revives them', async () => {
    const later = new Date(Date.now() + 30 * 86_400_000).toISOString()
    const csv = `address,destination,starts\n/used,https://a.example/,\n/unbegun,https://b.example/,${later}`
    const intake = await bring('used.csv', csv)
    await applyIntake(register.db, administrator, intake.id, intake.version)
    const used = (await linkAt('used'))!
    const { id } = await register.entry()
    await undo(register.db, NO_NAMES, administrator, id, { overwrite: false })
    // Its visits may still be in a gateway's spool; the other answered nobody.
    expect(await linkAt('used')).toMatchObject({ id: used.id, standing: 'retired' })
    expect(await linkAt('unbegun')).toBeNull()

    const again = await bring('used.csv', csv)
    expect(again.counts).toMatchObject({ new: 1, same: 0, clash: 1, undecided: 1 })
    const [row] = (await listIntakeRows(register.db, again.id, intakeRowsQuery.parse({ kind: 'clash' }))).items
    expect(row).toMatchObject({ code: 'retired', choices: ['replace', 'leave'] })
    expect(row!.why).toContain('answers 410 (Gone)')
    const decided = await decideIntakeRows(register.db, again.id, { code: 'retired', decision: 'replace' })
    await applyIntake(register.db, administrator, again.id, decided.version)
    expect(await linkAt('used')).toMatchObject({ id: used.id, standing: 'live', destination: 'https://a.example/' })
  })

  it('is not taken back over somebody’s later change unless that is said', async () => {
    const intake = await bring('changed.txt', '/changed-later https://a.example/ 302')
    await applyIntake(register.db, administrator, intake.id, intake.version)
    const entry = await register.entry()
    await register.db.Link.update({ title: 'Mine' }, { where: { canonical: 'changed-later' } })
    expect((await refusal(undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false }))).status).toBe(409)
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: true })
    expect(await linkAt('changed-later')).toMatchObject({ standing: 'retired' })
  })

  it('has circles refused and chains made straight', async () => {
    const intake = await bring(
      'ways.txt',
      [
        '/round-a https://ansl.example/round-b',
        '/round-b https://ansl.example/round-a',
        '/step-one https://ansl.example/step-two',
        '/step-two https://www.portansel.example/end',
      ].join('\n'),
    )
    const rows = await rowsOf(intake.id)
    expect(rows.map(({ kind, code }) => `${kind} ${code}`)).toEqual(['refused loop', 'refused loop', 'new ', 'new '])
    expect(rows[2]).toMatchObject({
      destination: 'https://www.portansel.example/end',
      why: expect.stringContaining('final destination'),
    })
    await withdrawIntake(register.db, editor, intake.id)
  })

  it('is read otherwise when that is asked for, and says what cannot be told', async () => {
    const unknown = await bring('notes.bin', 'nothing here leads anywhere')
    expect(unknown).toMatchObject({ state: 'failed', problem: expect.stringContaining('Choose the format') })
    const again = await changeIntake(register.db, register.url, unknown.id, unknown.version, {
      options: { ...unknown.options, format: 'plain' },
    })
    expect(again.state).toBe('reading')
    expect(await settled(unknown.id)).toMatchObject({ state: 'ready', counts: { refused: 1 } })
  })

  it('finds slugs for bookmarks, and names destinations that have one', async () => {
    const intake = await bring(
      'bookmarks.html',
      `<!DOCTYPE NETSCAPE-Bookmark-file-1>
<DL><p><DT><H3>Season</H3><DL><p>
<DT><A HREF="https://www.portansel.example/pier-works">Pier works</A>
<DT><A HREF="https://www.portansel.example/fares">Fares</A>
</DL></DL>`,
    )
    const rows = await rowsOf(intake.id)
    expect(rows[0]).toMatchObject({ kind: 'new', address: 'ansl.example/pier-works' })
    expect(rows[1]).toMatchObject({ kind: 'same', code: 'known', why: expect.stringContaining('ansl.example/fares') })
    await withdrawIntake(register.db, editor, intake.id)
  })

  it('takes a folder of pages, and refuses one that unpacks to too much', async () => {
    const page = (to: string) => strToU8(`<meta http-equiv="refresh" content="0; url=${to}">`)
    const zip = zipSync({
      'site/old/index.html': page('https://www.portansel.example/one'),
      'site/two.html': page('https://www.portansel.example/two'),
    })
    const intake = await bring('site.zip', Buffer.from(zip))
    expect((await rowsOf(intake.id)).map(({ address }) => address)).toEqual([
      'ansl.example/old',
      'ansl.example/two.html',
    ])
    await withdrawIntake(register.db, editor, intake.id)
    const bomb = Buffer.from(zipSync({ 'a.txt': new Uint8Array(130_000_000) }))
    expect(bomb.length).toBeLessThan(1_000_000)
    expect(() => filesOf('bomb.zip', bomb)).toThrow('larger than 120 MB')
    // One that lies about its size yields no more than it says.
    const lying = Buffer.from(zip)
    const at = lying.lastIndexOf(Buffer.from('PK\u0001\u0002', 'latin1'))
    lying.writeUInt32LE(10, at + 24)
    expect(filesOf('lying.zip', lying).files.at(-1)!.text).toHaveLength(10)
  })

  it('says that permanent answers from elsewhere may be held for ever', async () => {
    const text =
      '/held/long https://www.portansel.example/long 301\n/held/short https://www.portansel.example/short 302'
    const intake = await bring('held.txt', text)
    expect(intake.permanent).toBe(1)
    // One line of Apache's comes to a link and a rule, and is one line.
    expect((await bring('held.htaccess', 'Redirect 301 /held/both https://www.portansel.example/')).permanent).toBe(1)
    await applyIntake(register.db, administrator, intake.id, intake.version)
    const holdersAt = async (canonical: string) => linkHolders(register.db, (await linkAt(canonical))!.id)
    expect((await holdersAt('held/long')).elsewhere).toMatchObject({ file: 'held.txt' })
    expect((await holdersAt('held/short')).elsewhere).toBeNull()
    expect((await holdersAt('fares')).elsewhere).toBeNull()
  })

  it('brought again shows what is otherwise since, and what has gone from it', async () => {
    const line = (slug: string, page: string) => `/again/${slug} https://www.portansel.example/${page} 302`
    const first = await bring(
      'season.txt',
      [line('pier', 'pier'), line('quay', 'quay'), line('lift', 'lift')].join('\n'),
    )
    expect(first.follows).toBeNull()
    const brought = await applyIntake(register.db, administrator, first.id, first.version)
    const second = await bring(
      'season.txt',
      [line('pier', 'pier'), line('quay', 'quay-2'), line('lock', 'lock')].join('\n'),
    )
    expect(second.follows).toEqual({ id: first.id, at: brought.endedAt })
    const rows = (await listIntakeRows(register.db, second.id, { limit: 50, kind: 'differs' })).items
    expect(rows.map(({ address, kind, code, decision }) => [address, kind, code, decision])).toEqual([
      ['ansl.example/again/lift', 'clash', 'left-out', 'leave'],
      ['ansl.example/again/quay', 'clash', 'elsewhere', null],
      ['ansl.example/again/lock', 'new', '', 'bring'],
    ])
    // Left as it is unless somebody decides otherwise.
    const open = await decideIntakeRows(register.db, second.id, { code: 'left-out', decision: 'replace' })
    await applyIntake(register.db, administrator, second.id, open.version)
    expect((await linkAt('again/lift'))!.standing).toBe('retired')
    expect((await linkAt('again/quay'))!.destination).toBe('https://www.portansel.example/quay')
    // A file of another name, and one for another domain, follow nothing.
    expect((await bring('other.txt', line('pier', 'pier'))).follows).toBeNull()
    const third = await bring('season.txt', line('pier', 'pier'))
    expect(third.follows!.id).toBe(second.id)
    expect((await rowsOf(third.id)).filter(({ code }) => code === 'left-out').map(({ address }) => address)).toEqual([
      'ansl.example/again/quay',
      'ansl.example/again/lock',
    ])
  })
})
