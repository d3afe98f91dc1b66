import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rulesPreview, type Rule } from '../../core/schemas'
import { listRuleFindings } from '../../server/usecases/rules/rule-findings'
import { testPatterns } from '../../server/usecases/rules/patterns'
import { previewRules } from '../../server/usecases/rules/preview-rules'
import { listRules } from '../../server/usecases/rules/rules'
import { refusal, TestRegister } from './register'

let register: TestRegister
let archive: Rule
let maps: Rule
beforeAll(async () => {
  register = await TestRegister.start()
  await register.link('archive/2019', 'https://www.example/2019')
  await register.link('works/bridge', 'https://www.example/bridge')
  archive = await register.rule('/archive/*', 'https://www.example/archive/{+0}')
  maps = await register.rule('/archive/:year(\\d{4})/map', 'https://maps.example/{year}')
})
afterAll(() => register.stop())

const draft = ({ id, pattern, destination, syntax }: Rule) => ({ id, pattern, destination, syntax })
const preview = (rules: object[], mine?: number) =>
  previewRules(register.db, rulesPreview.parse({ domain: 'ansl.example', rules, mine }))

describe('what rules would do', () => {
  it('is told of one that is typed: links, earlier and later rules, each with an address that shows it', async () => {
    const { faults, reach, added } = await preview(
      [draft(archive), draft(maps), { pattern: '/:part/:rest', destination: 'https://x.example/{rest}' }],
      3,
    )
    expect(faults).toEqual([])
    expect(reach).toMatchObject({
      links: 2,
      linkExamples: ['ansl.example/archive/2019', 'ansl.example/works/bridge'],
      before: [{ rule: 1, pattern: '/archive/*', whole: false }],
      after: [],
    })
    expect(reach!.before[0]!.witness).toMatch(/^ansl\.example\/archive\/.$/)
    expect(reach!.example).not.toMatch(/archive/)
    expect(added.map(({ kind }) => kind)).toContain('overlapping')
    const first = await preview(
      [{ pattern: '/archive/:rest*', destination: 'https://x.example/' }, draft(archive), draft(maps)],
      1,
    )
    expect(first.reach).toMatchObject({ before: [], after: [{ rule: 2 }, { rule: 3, whole: true }] })
  })

  it('needs no destination, but compares nothing with it then', async () => {
    const { reach, added } = await preview([draft(archive), draft(maps), { pattern: '/archive/:year' }], 3)
    expect(reach).toMatchObject({ links: 1, before: [{ rule: 1, whole: true }], example: null })
    expect(added).toEqual([])
  })

  it('says what is wrong with a pattern, and refuses a rule of nobody', async () => {
    const broken = await preview(
      [draft(archive), draft(maps), { pattern: '/a(', destination: 'https://x.example/' }],
      3,
    )
    expect(broken).toMatchObject({
      faults: [{ rule: 3, sentence: expect.stringContaining('not closed') }],
      reach: null,
    })
    const many = Array.from({ length: 21 }, (_, index) => ({
      pattern: `/n${index}`,
      destination: 'https://x.example/',
    }))
    expect((await refusal(preview(many))).detail).toContain('21 patterns are new or changed; at most 20')
    const strange = preview([draft(archive), { ...draft(maps), id: 999 }])
    expect((await refusal(strange)).status).toBe(409)
  })

  it('is told of an order: what comes and what goes; and nothing of it stays', async () => {
    const before = await listRuleFindings(register.db, 'ansl.example')
    expect(before).toEqual([
      {
        rule: maps.id,
        kind: 'hidden',
        others: [archive.id],
        witness: expect.stringMatching(/^ansl\.example\/archive\/\d{4}\/map$/),
        moveBefore: archive.id,
      },
    ])
    const { added, removed, reach } = await preview([draft(maps), draft(archive)])
    expect([added, removed.map(({ kind }) => kind), reach]).toEqual([[], ['hidden'], null])
    // A rule left out is one that would be removed.
    expect((await preview([draft(maps)])).removed.map(({ subject }) => subject)).toContain(
      'ansl.example /archive/:year(\\d{4})/map',
    )
    expect(await listRuleFindings(register.db, 'ansl.example')).toEqual(before)
    expect((await listRules(register.db, 'ansl.example')).map(({ id }) => id)).toEqual([archive.id, maps.id])
  })

  it('is the same asked by forty at once', async () => {
    const one = (index: number) =>
      preview([draft(archive), draft(maps), { pattern: `/n${index % 4}/:x`, destination: 'https://x.example/{x}' }], 3)
    // Each pattern is proved once; that takes a process, for which a busy machine may take long.
    for (const index of [0, 1, 2, 3]) await one(index)
    const all = await Promise.all(Array.from({ length: 40 }, (_, index) => one(index)))
    for (const [index, { reach }] of all.entries())
      expect(reach).toMatchObject({
        links: 0,
        before: [],
        after: [],
        example: expect.stringContaining(`ansl.example/n${index % 4}/`),
      })
  })

  it('names the rules that match an address after the one that answers', async () => {
    const { items } = await testPatterns(register.db, {
      domain: 'ansl.example',
      addresses: ['ansl.example/archive/2020/map', '/archive/2019', '/archive/x', '/nothing'],
      acceptLanguage: '',
    })
    expect(items.map(({ by, rule, later }) => [by, rule, later])).toEqual([
      ['rule', 1, [2]],
      ['link', null, [1]],
      ['rule', 1, []],
      ['none', null, []],
    ])
  })
})
