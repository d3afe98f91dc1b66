import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Survey, type Conflict, type SurveyChange } from '../../../core/conflicts'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import type { Condition } from '../../../core/conditions'
import { OPEN_RULES } from '../../../core/slugs'
import { surveyDomain, surveyLink, surveyRule } from './rows'
import { NOW, keys, surveyOf } from './survey-of'

const SEED = Number(process.env.FC_SEED ?? 4117)

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
