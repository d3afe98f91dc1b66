import { describe, expect, it } from 'vitest'
import { causeOf, defaultSettings, isTold, wantsAtOnce, type NoticeSettings } from '../../../core/notices'

const settings = (more: Partial<NoticeSettings> = {}): NoticeSettings => ({
  ...defaultSettings('administrator'),
  ...more,
})
const one = (harmed: number, owners: string[] = [], lane: 'targets' | 'dates' = 'targets') => ({
  lane,
  harmed,
  owners,
  nearness: 1,
})
const names = ['Ines Caldwell', 'ines@portansel.example']

describe('causeOf', () => {
  const about = { caseKey: 'k', domainId: 3, host: 'old.example' }
  it.each([
    ['a host that no name server knows', 'no-such-name', 'host old.example'],
    ['a host that does not answer', 'no-answer', 'host old.example'],
    ['a page that is gone is its own', 'not-found', 'case k'],
    ['conflicts of one kind on a domain', 'hidden', 'hidden 3'],
    ['drift of a domain', 'record-gone', 'record-gone 3'],
    ['a miss', 'mistyped-address', 'case k'],
    ['a day', 'look-again', 'case k'],
  ] as const)('%s', (_name, kind, cause) => expect(causeOf({ ...about, kind })).toBe(cause))
})

describe('isTold', () => {
  it.each([
    ['of a lane they care for', settings(), one(5), true],
    ['not of another', settings({ lanes: ['dates'] }), one(5), false],
    ['not below what they set', settings({ minVisits: 6 }), one(5), false],
    ['of their own by name, however written', settings({ onlyMine: true }), one(5, ['ines caldwell ']), true],
    ['of their own by address', settings({ onlyMine: true }), one(5, ['INES@portansel.example']), true],
    ['not of others’', settings({ onlyMine: true }), one(5, ['Ferry desk']), false],
    ['not of what nobody owns', settings({ onlyMine: true }), one(5), false],
  ])('%s', (_name, wishes, about, told) => expect(isTold(wishes, names, about)).toBe(told))
})

describe('wantsAtOnce', () => {
  it.each([
    ['many small ones of one cause', settings({ atOnceVisits: 50 }), Array.from({ length: 300 }, () => one(0.5)), true],
    ['one that harms enough', settings({ atOnceVisits: 50 }), [one(50)], true],
    ['not one that harms less', settings({ atOnceVisits: 50 }), [one(49)], false],
    ['not where it is switched off', settings({ atOnce: false, atOnceVisits: 0 }), [one(500)], false],
    [
      'their own alone count',
      settings({ onlyMine: true, atOnceVisits: 50 }),
      [one(40, names), one(40, ['Other'])],
      false,
    ],
    ['not one that is far ahead', settings({ atOnceVisits: 50 }), [{ ...one(60), nearness: 0.1 }], false],
    ['none at all', settings({ atOnceVisits: 0 }), [], false],
  ])('%s', (_name, wishes, cases, wanted) => expect(wantsAtOnce(wishes, names, cases)).toBe(wanted))
})

describe('who never said', () => {
  it.each([
    ['administrator', 'daily', true],
    ['editor', 'none', false],
    ['viewer', 'none', false],
  ] as const)('%s: digest %s, at once %s', (role, digest, atOnce) =>
    expect(defaultSettings(role)).toMatchObject({ digest, atOnce }),
  )
})
