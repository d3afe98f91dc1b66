import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Survey, tellConflict, type Conflict, type SurveyChange } from '../../../core/conflicts'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import type { Condition } from '../../../core/conditions'
import { OPEN_RULES } from '../../../core/slugs'
import { answer } from '../../../core/table'
import { surveyDomain, surveyLink, surveyRule } from './rows'

const SEED = Number(process.env.FC_SEED ?? 4117)
const NOW = Date.UTC(2026, 10, 25)

function surveyOf(
  links: Partial<SurveyLink>[],
  rules: Partial<SurveyRule>[] = [],
  domain: Parameters<typeof surveyDomain>[0] = {},
): Survey {
  const survey = new Survey()
  survey.load(
    [surveyDomain(domain), surveyDomain({ id: 2, host: 'go.example' })],
    links.map((link, index) => surveyLink({ id: index + 1, destination: `https://${index + 1}.example/`, ...link })),
    rules.map((rule, index) => surveyRule({ id: index + 1, ...rule })),
    NOW,
  )
  survey.scanAll()
  return survey
}
const keys = (survey: Survey) => [...survey.conflicts].map(({ key }) => key).sort()
const told = (survey: Survey) => [...survey.conflicts].map((conflict) => tellConflict(survey.state, conflict))

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

describe('a change', () => {
  const slug = fc.constantFrom(
    'fares',
    'fare',
    'Fare-s',
    'fraes',
    'night',
    'n1ght',
    'line/1',
    'line/2',
    'line/l',
    'a',
    'b',
    'park-ride',
    'parkride',
  )
  const destination = fc.constantFrom(
    'https://x.example/',
    'https://x.example/?utm_source=q',
    'https://y.example/',
    'https://ansl.example/fares',
    'https://ansl.example/night?x=1',
    'https://go.example/a',
    'https://ansl.example/line/1',
  )
  const pattern = fc.constantFrom('/line/:n', '/line/*', '/:any', '/*', '/(a|b)', '/line/1', '/n*')
  const linkOf = fc.record({
    id: fc.integer({ min: 1, max: 9 }),
    slug,
    destination,
    domainId: fc.constantFrom(1, 1, 2),
    standing: fc.constantFrom('live' as const, 'live' as const, 'paused' as const, 'ended' as const),
    startsAt: fc.constantFrom(null, null, NOW + 1000),
    forwardsTo: fc.constantFrom(null, null, null, 1),
  })
  const ruleOf = fc.record({
    id: fc.integer({ min: 1, max: 4 }),
    pattern,
    destination: fc.constantFrom('https://r.example/', 'https://ansl.example/night', 'https://x.example/'),
    position: fc.integer({ min: 1, max: 4 }),
    active: fc.boolean(),
    condition: fc.constantFrom<Condition>(
      [],
      [{ kind: 'query', mode: 'contains', text: 'q' }],
      [{ kind: 'language', languages: ['pt', 'en'] }],
      [{ kind: 'language', languages: ['fr'] }],
    ),
  })
  const step = fc.oneof(
    { weight: 5, arbitrary: linkOf.map((link) => ({ link })) },
    fc.integer({ min: 1, max: 9 }).map((drop) => ({ drop })),
    ruleOf.map((rule) => ({ rule })),
    fc.integer({ min: 1, max: 4 }).map((dropRule) => ({ dropRule })),
    fc.constantFrom('-', '-._~').map((separators) => ({ separators })),
    fc.boolean().map((capitalsMatter) => ({ capitalsMatter })),
    fc.constantFrom('x.example', 'y.example').map((host) => ({ host })),
    fc.constant({ advance: true }),
  )
  type Step = {
    link?: Partial<SurveyLink>
    drop?: number
    rule?: Partial<SurveyRule>
    dropRule?: number
    separators?: string
    capitalsMatter?: boolean
    host?: string
    advance?: boolean
  }

  /** A step as a change the database would allow: one row an address, forwarding to a link of its own only. */
  function changeOf(survey: Survey, given: Step): SurveyChange {
    const { state } = survey
    const forwarded = (id: number) => (state.forwards.get(id)?.size ?? 0) > 0
    if (given.link) {
      const made = surveyLink({ ...given.link, canonical: given.link.slug!.toLowerCase() })
      const holder = state.table.domains.get(made.domainId)!.links.get(made.canonical!)
      const leader = made.forwardsTo === null ? undefined : state.links.get(made.forwardsTo)
      if (holder && holder.id !== made.id) return {}
      if (
        made.forwardsTo !== null &&
        (made.id === made.forwardsTo || !leader || leader.forwardsTo !== null || forwarded(made.id))
      )
        return {}
      return { links: [made] }
    }
    if (given.drop !== undefined) return forwarded(given.drop) ? {} : { dropLinks: [given.drop] }
    if (given.rule) return { rules: [surveyRule(given.rule)] }
    if (given.dropRule !== undefined) return { dropRules: [given.dropRule] }
    if (given.separators !== undefined)
      return { domains: [{ ...state.domains.get(1)!, slugRules: { ...OPEN_RULES, separators: given.separators } }] }
    if (given.capitalsMatter !== undefined)
      return { domains: [{ ...state.domains.get(1)!, capitalsMatter: given.capitalsMatter }] }
    // A domain is added whose host links lead to already.
    if (given.host !== undefined)
      return { domains: [surveyDomain({ id: given.host === 'x.example' ? 3 : 4, host: given.host })] }
    return {}
  }
  function fresh(survey: Survey): Survey {
    const again = new Survey()
    again.load(
      survey.state.domains.values(),
      survey.state.links.values(),
      survey.state.rules.values(),
      survey.state.now,
    )
    again.scanAll()
    return again
  }
  const whole = (survey: Survey) =>
    [...survey.conflicts]
      .map((conflict) =>
        JSON.stringify({ ...conflict, links: [...conflict.links].sort(), rules: [...conflict.rules].sort() }),
      )
      .sort()

  it('leaves the findings a full scan gives, whatever came before', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        const survey = surveyOf([])
        for (const given of steps as Step[]) {
          if (given.advance) survey.advance(survey.state.now + 600)
          else survey.apply(changeOf(survey, given))
        }
        expect(whole(survey)).toEqual(whole(fresh(survey)))
        expect(keys(survey)).toEqual([...new Set(keys(survey))])
      }),
      { seed: SEED, numRuns: 400 },
    )
  })

  it('tells what comes and goes, and a preview leaves everything as it was', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), step, (steps, last) => {
        const survey = surveyOf([])
        for (const given of steps as Step[]) if (!given.advance) survey.apply(changeOf(survey, given))
        const before = whole(survey)
        const change = changeOf(survey, last as Step)
        const preview = survey.preview(change)
        expect(whole(survey)).toEqual(before)
        const beforeKeys = new Set(keys(survey))
        const applied = survey.apply(change)
        const sort = (list: Conflict[]) => list.map(({ key }) => key).sort()
        expect(sort(applied.added)).toEqual(sort(preview.added))
        expect(sort(applied.removed)).toEqual(sort(preview.removed))
        expect(sort(applied.added)).toEqual(keys(survey).filter((key) => !beforeKeys.has(key)))
        expect(sort(applied.removed)).toEqual([...beforeKeys].filter((key) => !survey.conflict(key)).sort())
      }),
      { seed: SEED, numRuns: 400 },
    )
  })
})

describe('a circle', () => {
  const circle = [
    { slug: 'one', destination: 'https://go.example/two' },
    { slug: 'two', domainId: 2, destination: 'https://ansl.example/one' },
  ]
  const lead = { slug: 'lead', destination: 'https://ansl.example/one' }
  const key = 'loop ansl.example/one go.example/two'

  it('is one conflict of all that lead into it, told the same whoever was found first', () => {
    for (const links of [
      [...circle, lead],
      [lead, ...circle],
      [circle[1]!, lead, circle[0]!],
    ]) {
      const survey = surveyOf(links)
      const loop = survey.conflict(key)!
      expect(keys(survey).filter((one) => one.startsWith('loop'))).toEqual([key])
      expect(loop.domainId).toBe(1)
      expect(loop.via).toEqual(['ansl.example/one', 'go.example/two', 'ansl.example/one'])
      expect(loop.links).toEqual([1, 2, 3])
    }
  })

  it('lets go of a link that is led out of it, and stays what it is', () => {
    const survey = surveyOf([...circle, lead])
    const out = surveyLink({ id: 3, slug: 'lead', destination: 'https://x.example/' })
    const { changed } = survey.apply({ links: [out] })
    expect(survey.conflict(key)!.links).toEqual([1, 2])
    expect(changed.map(({ before, now }) => [before.links, now.links])).toEqual([
      [
        [1, 2, 3],
        [1, 2],
      ],
    ])
    survey.apply({ links: [surveyLink({ id: 1, slug: 'one', destination: 'https://y.example/' })] })
    expect(survey.conflict(key)).toBeUndefined()
  })

  it('keeps its key and domain when a link of another domain comes to lead into it', () => {
    const survey = surveyOf(circle)
    survey.apply({
      links: [surveyLink({ id: 9, domainId: 2, slug: 'aaa', destination: 'https://go.example/two' })],
    })
    expect(survey.conflict(key)).toMatchObject({ domainId: 1, links: [1, 2, 9] })
  })
})
