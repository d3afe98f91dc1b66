import { describe, expect, it } from 'vitest'
import { changeSpec, changesPermanent, rewrite } from '../../../core/changes'

const NOW = Date.parse('2026-11-27T12:00:00Z')
const state = {
  domainId: 1,
  slug: 'fares',
  canonical: 'fares',
  forwardsTo: null,
  exception: false,
  destination: 'https://www.portansel.example/fares',
  status: 301 as const,
  query: 'discard' as const,
  queryConflict: 'destination' as const,
  title: 'Fares',
  note: '',
  owner: 'Ada',
  standing: 'live' as const,
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
  robots: null,
  referrerPolicy: null,
  unlisted: false,
  tags: ['fares', 'web'],
}
type State = Parameters<typeof rewrite>[0]
const put = (spec: object, more: object = {}, context: object = {}) =>
  rewrite({ ...state, ...more } as State, changeSpec.parse(spec), { appSchemes: [], at: NOW, ...context })

describe('what a change makes of one link', () => {
  it('tells the fields that change, before and after, and no others', () => {
    expect(put({ set: { owner: 'Ben', status: 301 }, tags: { add: ['new', 'web'], remove: ['fares'] } })).toEqual({
      kind: 'change',
      before: { owner: 'Ada', tags: ['fares', 'web'] },
      after: { owner: 'Ben', tags: ['new', 'web'] },
    })
  })
  it.each([
    [{ set: { owner: 'Ada' } }, {}],
    [{ steps: [{ do: 'move-host', from: 'other.example', to: 'new.example' }] }, {}],
    [{ tags: { add: ['web'], remove: ['nothing'] } }, {}],
    [{ set: { endsAt: '2027-01-01T00:00:00Z' } }, { endsAt: '2027-01-01T00:00:00.000Z' }],
  ])('leaves a link as it is that is so already: %o', (spec, more) => {
    expect(put(spec, more)).toEqual({ kind: 'unchanged' })
  })
  it.each([
    [{ steps: [{ do: 'replace', in: 'host', find: 'www', with: 'a b' }] }, {}, /It would become/],
    [{ steps: [{ do: 'replace', in: 'whole', find: 'https', with: 'ftp' }] }, {}, /It would become ftp:/],
    [{ set: { endsAt: '2026-01-01T00:00:00Z' } }, { startsAt: '2026-06-01T00:00:00Z' }, /later than its start/],
    [{ set: { standing: 'live' } }, { endsAt: '2026-01-01T00:00:00Z' }, /end has passed/],
    [{ set: { resumesAt: '2027-01-01T00:00:00Z' } }, {}, /Only a paused link resumes/],
    [{ set: { standing: 'paused', resumesAt: '2026-01-01T00:00:00Z' } }, {}, /must be in the future/],
    [{ set: { owner: 'Ben' } }, { forwardsTo: 7 }, /leads to another link/],
    [{ set: { endedDestination: 'app://x' } }, {}, /once ended/],
    [{ tags: { add: ['one more'] } }, { tags: Array.from({ length: 30 }, (_, at) => `tag${at}`) }, /31 tags/],
  ])('refuses with a sentence: %o', (spec, more, sentence) => {
    expect(put(spec, more)).toMatchObject({ kind: 'refused', sentence: expect.stringMatching(sentence) })
  })
  it('takes app addresses where the domain lists their scheme', () => {
    const spec = { steps: [{ do: 'set', destination: 'ansl-app://home' }] }
    expect(put(spec).kind).toBe('refused')
    expect(put(spec, {}, { appSchemes: ['ansl-app'] }).kind).toBe('change')
  })
  it('forgets when a link resumes that is paused no more', () => {
    expect(
      put({ set: { standing: 'ended' } }, { standing: 'paused', resumesAt: '2027-01-01T00:00:00Z' }),
    ).toMatchObject({
      after: { standing: 'ended', resumesAt: null },
    })
  })
  it('knows where browsers may hold an old permanent answer', () => {
    const tagged = state as State
    expect(changesPermanent(tagged, { destination: 'https://other.example/' })).toBe(true)
    expect(changesPermanent(tagged, { status: 302 })).toBe(true)
    expect(changesPermanent(tagged, { owner: 'Ben' })).toBe(false)
    expect(changesPermanent({ ...tagged, status: 302 }, { destination: 'https://other.example/' })).toBe(false)
  })
  it('wants something to do', () => {
    expect(changeSpec.safeParse({}).success).toBe(false)
    expect(changeSpec.safeParse({ set: { slug: 'x' } }).success).toBe(false)
  })
})
