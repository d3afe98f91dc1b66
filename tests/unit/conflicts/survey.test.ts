import { describe, expect, it } from 'vitest'
import type { Survey, Conflict } from '../../../core/conflicts'
import { describeConflict } from '../../../core/conflicts'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import { OPEN_RULES } from '../../../core/slugs'
import { answer } from '../../../core/table'
import { NOW, keys, surveyOf } from './survey-of'

const told = (survey: Survey) => [...survey.conflicts].map((conflict) => describeConflict(survey.state, conflict))

describe('finders', () => {
  it.each<[string, Partial<SurveyLink>[], Partial<SurveyRule>[], string[]]>([
    ['look-alikes with different destinations', [{ slug: 'park-ride' }, { slug: 'parkride' }], [], ['look-alike 1 2']],
    [
      'no look-alikes with one destination',
      [
        { slug: 'park-ride', destination: 'https://a.example/' },
        { slug: 'parkride', destination: 'https://A.example:443' },
      ],
      [],
      ['twins https://a.example/'],
    ],
    ['one slip', [{ slug: 'fares' }, { slug: 'fare' }], [], ['one-slip 1 2']],
    ['no slip between siblings of a series', [{ slug: 'stop/4417' }, { slug: 'stop/4418' }], [], []],
    ['no slip where one is over', [{ slug: 'fares' }, { slug: 'fare', standing: 'ended' }], [], []],
    [
      'twins but for tracking',
      [
        { destination: 'https://a.example/?x=1' },
        { slug: 'night', destination: 'https://a.example/?utm_source=y&x=1' },
      ],
      [],
      ['twins https://a.example/?x=1'],
    ],
    ['a chain', [{ slug: 'one', destination: 'https://ansl.example/two' }, { slug: 'two' }], [], ['chain 1']],
    ['a chain to nothing', [{ slug: 'one', destination: 'https://ansl.example/none' }], [], ['chain 1']],
    [
      'a loop over two domains',
      [
        { slug: 'one', destination: 'https://go.example/two' },
        { slug: 'two', domainId: 2, destination: 'http://ansl.example/one/' },
      ],
      [],
      ['loop ansl.example/one go.example/two'],
    ],
    [
      'a loop of a rule',
      [],
      [{ pattern: '/a/:x', destination: 'https://ansl.example/a/{x}' }],
      ['loop ansl.example/a/a', 'loop ansl.example/a/b', 'loop ansl.example/a/c', 'loop ansl.example/a/d'].slice(0, 4),
    ],
    [
      'a hidden rule',
      [],
      [{ pattern: '/a/*' }, { pattern: '/a/:x', destination: 'https://b.example/' }],
      ['hidden rule 2'],
    ],
    [
      'a rule hidden by two together',
      [],
      [
        { pattern: '/(a|b)' },
        { pattern: '/(c|d)', destination: 'https://c.example/' },
        { pattern: '/([a-d])', destination: 'https://d.example/' },
      ],
      ['hidden rule 3'],
    ],
    [
      'no rule hidden by one that asks for more of the query',
      [],
      [
        { pattern: '/a/*', condition: [{ kind: 'query', mode: 'contains', text: 'x' }] },
        { pattern: '/a/:x', destination: 'https://b.example/' },
      ],
      [],
    ],
    [
      'the narrower rule before the broader one',
      [],
      [{ pattern: '/a/:x' }, { pattern: '/a/*', destination: 'https://b.example/' }],
      [],
    ],
    [
      'overlapping rules',
      [],
      [{ pattern: '/a/*' }, { pattern: '/*.pdf', destination: 'https://b.example/' }],
      ['overlapping 1 2'],
    ],
    [
      'no overlap of rules that ask for different queries',
      [],
      [
        { pattern: '/a/*', condition: [{ kind: 'query', mode: 'exactly', text: 'x=1' }] },
        {
          pattern: '/*.pdf',
          condition: [{ kind: 'query', mode: 'exactly', text: 'x=2' }],
          destination: 'https://b.example/',
        },
      ],
      [],
    ],
    [
      'a link in a rule’s family',
      [{ slug: 'line/4' }],
      [{ pattern: '/line/:n', destination: 'https://l.example/{n}' }],
      ['hidden family 1'],
    ],
    [
      'no link in a family that leads where the rule would',
      [{ slug: 'line/4', destination: 'https://l.example/4' }],
      [{ pattern: '/line/:n', destination: 'https://l.example/{n}' }],
      [],
    ],
    [
      'no link that the rule leaves alone',
      [{ slug: 'line/4' }],
      [{ pattern: '/line/:n', destination: 'https://l.example/{n}', except: ['line/4'] }],
      [],
    ],
    [
      'a rule hidden by links alone',
      [{ slug: 'cat' }, { slug: 'dog' }],
      [{ pattern: '/(cat|dog)', destination: 'https://l.example/' }],
      ['hidden family 1', 'hidden rule 1'],
    ],
    [
      'no rule that links leave some of a range of characters',
      [{ slug: 'stop/1', destination: 'https://l.example/1' }],
      [{ pattern: '/stop/:n([0-2])', destination: 'https://l.example/{n}' }],
      [],
    ],
    [
      'a rule whose whole range of characters are links',
      ['0', '1', '2'].map((n) => ({ slug: `stop/${n}`, destination: `https://l.example/${n}` })),
      [{ pattern: '/stop/:n([0-2])', destination: 'https://l.example/{n}' }],
      ['hidden rule 1'],
    ],
    ['no rule that is switched off', [], [{ pattern: '/a/*' }, { pattern: '/a/:x', active: false }], []],
    [
      'same address',
      [
        { slug: 'Fares', canonical: 'Fares' },
        { slug: 'fares', canonical: 'fares' },
      ],
      [],
      ['look-alike 1 2', 'same-address 1 2'],
    ],
  ])('%s', (_name, links, rules, wanted) => {
    const survey = surveyOf(links, rules)
    if (wanted[0]?.startsWith('loop ansl.example/a/'))
      expect(keys(survey).every((key) => key.startsWith('loop ansl.example/a/'))).toBe(true)
    else expect(keys(survey)).toEqual(wanted)
    for (const { headline, sentence, evidence } of told(survey)) {
      expect(headline).not.toMatch(/undefined/)
      expect(sentence).toMatch(/[.]$/)
      expect(JSON.stringify(evidence)).not.toMatch(/undefined/)
    }
  })

  it('name a rule breaker and why, but for exceptions', () => {
    const survey = surveyOf([{ slug: 'lost_found' }, { slug: 'lost.found.too', exception: true }], [], {
      slugRules: { ...OPEN_RULES, separators: '-' },
    })
    expect(keys(survey)).toEqual(['rule-breaker 1'])
    expect(told(survey)[0]!.sentence).toContain('“_” is not used as a separator here')
  })

  it.each([
    [28, '1 visit a day', 'About 2 visits a day go through'],
    [14, '0.5 visits a day', 'About 1 visit a day goes through'],
    [28 * 1234, '1,234 visits a day', 'About 2,468 visits a day go through'],
  ])('tells %d visits in 28 days each as people would', (visits28, each, both) => {
    const [slip] = told(
      surveyOf([
        { slug: 'fares', visits28 },
        { slug: 'fare', visits28 },
      ]),
    )
    expect(slip!.evidence[0]!.text).toContain(`· ${each}`)
    expect(slip!.sentence).toContain(both)
  })

  it('shows hidden rules by a witness that the gateway answers as claimed', () => {
    const survey = surveyOf(
      [],
      [
        { pattern: '/a/*', destination: 'https://first.example/' },
        { pattern: '/a/:x(\\d+)', destination: 'https://second.example/{x}' },
      ],
    )
    const [hidden] = [...survey.conflicts] as [Conflict]
    expect(
      answer(survey.state.table, { method: 'GET', host: 'ansl.example', target: '/' + hidden.witness }, NOW),
    ).toMatchObject({ ruleId: 1 })
    expect(hidden.rules).toEqual([2, 1])
  })

  it('leave forwarding slugs out of what is typed, and follow them where they lead', () => {
    const survey = surveyOf([
      { slug: 'fares' },
      { slug: 'fare', forwardsTo: 1 },
      { slug: 'x', destination: 'https://ansl.example/fare' },
    ])
    expect(keys(survey)).toEqual(['chain 3'])
    expect(survey.conflict('chain 3')!.end).toBe('https://1.example/')
  })

  it('advance with the dates of links', () => {
    const survey = surveyOf([{ slug: 'fares' }, { slug: 'fare', startsAt: NOW + 1000 }])
    expect(keys(survey)).toEqual([])
    expect(survey.advance(NOW + 2000).added.map(({ key }) => key)).toEqual(['one-slip 1 2'])
  })
})
