import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Link } from '../../core/schemas'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

const create = vi.fn()
const change = vi.fn()
const domains = { domains: [{ host: 'ansl.example', defaultStatus: 307 }], byHost: () => undefined }

// What Nuxt would import by itself.
vi.stubGlobal('useLinkStore', () => ({ create, change }))
vi.stubGlobal('useDomainsStore', () => domains)
vi.stubGlobal('useMoments', () => ({
  toField: (iso: string | null) => iso?.slice(0, 16) ?? '',
  fromField: (text: string) => (text ? `${text}:00.000Z` : null),
}))
const { useLinkForm } = await import('../../app/composables/useLinkForm')

const link: Link = {
  id: 7,
  domain: 'ansl.example',
  slug: 'fares',
  address: 'ansl.example/fares',
  destination: 'https://www.example/',
  status: 302,
  query: 'discard',
  queryConflict: 'destination',
  title: 'Opened',
  note: '',
  tags: ['a'],
  owner: '',
  standing: 'live',
  waiting: false,
  exception: false,
  forwardsTo: null,
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
  robots: null,
  referrerPolicy: null,
  unlisted: false,
  visits28: 0,
  target: null,
  version: 3,
  createdAt: '',
  updatedAt: '',
}

beforeEach(() => {
  create.mockReset().mockResolvedValue(link)
  change.mockReset().mockResolvedValue(link)
})

describe('making a link', () => {
  it('starts with the domain’s usual redirect and sends what was typed, empty fields as nothing', async () => {
    const form = useLinkForm()
    form.open(undefined, { destination: 'https://www.example/' })
    expect(form.fields).toMatchObject({ domain: 'ansl.example', status: 307 })
    await form.save()
    expect(create).toHaveBeenCalledWith(
      expect.objectContaining({
        domain: 'ansl.example',
        destination: 'https://www.example/',
        startsAt: null,
        robots: null,
        endedDestination: null,
      }),
    )
    expect(create.mock.calls[0]![0]).not.toHaveProperty('slug')
  })

  it('asks nobody while a field cannot be as typed, and keeps it', async () => {
    const form = useLinkForm()
    form.open(undefined, { destination: 'nowhere', title: 'Kept' })
    expect(await form.save()).toBeUndefined()
    expect(create).not.toHaveBeenCalled()
    expect(form.faults.value.destination).toContain('complete web address')
    expect(form.fields.title).toBe('Kept')
  })

  it('puts the server’s sentences at their fields', async () => {
    create.mockRejectedValue(
      new ApiProblem(
        problem({ status: 409, detail: 'taken', errors: [{ pointer: '/slug', detail: '“fares” is taken' }] }),
      ),
    )
    const form = useLinkForm()
    form.open(undefined, { destination: 'https://www.example/', slug: 'fares' })
    expect(await form.save()).toBeUndefined()
    expect(form.faults.value).toEqual({ slug: '“fares” is taken' })
    expect(form.saving.value).toBe(false)
  })

  it('says so when nobody answers, and keeps everything', async () => {
    create.mockRejectedValue(new ApiProblem(problem({ status: 0, detail: 'The desk’s server does not answer' })))
    const form = useLinkForm()
    form.open(undefined, { destination: 'https://www.example/' })
    await form.save()
    expect(form.fault.value).toContain('does not answer')
    expect(form.fields.destination).toBe('https://www.example/')
  })
})

describe('a link that would be in conflict', () => {
  const conflicts = [
    {
      key: 'one-slip 1 2',
      kind: 'one-slip',
      subject: 'a and b',
      severity: 'doubtful',
      headline: 'One typing error apart',
      sentence: 'They differ by one slip.',
      impact: 1,
      witness: null,
    },
  ]
  it('is told with each conflict, and saved with the reason that is then given', async () => {
    create.mockRejectedValueOnce(
      new ApiProblem(
        problem({
          status: 409,
          detail: 'They differ',
          errors: [{ pointer: '/reason', detail: 'Say why' }],
          conflicts,
        }),
      ),
    )
    const form = useLinkForm()
    form.open(undefined, { destination: 'https://www.example/', slug: 'fare' })
    expect(await form.save()).toBeUndefined()
    expect(form.conflicts.value).toEqual(conflicts)
    expect(form.faults.value.reason).toBe('Say why')
    form.reason.value = ' on the flyer '
    await form.save()
    expect(create).toHaveBeenLastCalledWith(expect.objectContaining({ slug: 'fare', reason: 'on the flyer' }))
  })
  it('is judged anew when its slug changes', async () => {
    create.mockRejectedValueOnce(new ApiProblem(problem({ status: 409, detail: 'They differ', errors: [], conflicts })))
    const form = useLinkForm()
    form.open(undefined, { destination: 'https://www.example/', slug: 'fare' })
    await form.save()
    form.fields.slug = 'flyer'
    await vi.waitFor(() => expect(form.conflicts.value).toEqual([]))
  })
})

describe('changing a link', () => {
  it('sends only what differs, under the version opened', async () => {
    const form = useLinkForm()
    form.open(link)
    form.fields.title = 'New'
    form.fields.endsAt = '2027-03-01T08:00'
    await form.save()
    expect(change).toHaveBeenCalledWith(7, 3, { title: 'New', endsAt: '2027-03-01T08:00:00.000Z' })
  })

  it('shows what somebody else saved meanwhile, and saves over it only when told again', async () => {
    change.mockRejectedValueOnce(
      new ApiProblem(
        problem({ status: 412, detail: 'Changed by someone else', current: { ...link, title: 'Theirs', version: 4 } }),
      ),
    )
    const form = useLinkForm()
    form.open(link)
    form.fields.title = 'Mine'
    expect(await form.save()).toBeUndefined()
    expect(form.clashes.value).toEqual([{ name: 'title', before: 'Opened', theirs: 'Theirs', yours: 'Mine' }])
    await form.save()
    expect(change).toHaveBeenLastCalledWith(7, 4, { title: 'Mine' })
  })

  it('can start again from the other’s version', async () => {
    change.mockRejectedValueOnce(
      new ApiProblem(
        problem({ status: 412, detail: 'Changed by someone else', current: { ...link, title: 'Theirs', version: 4 } }),
      ),
    )
    const form = useLinkForm()
    form.open(link)
    form.fields.title = 'Mine'
    await form.save()
    form.takeTheirs()
    expect(form.fields.title).toBe('Theirs')
    form.fields.note = 'mine'
    await form.save()
    expect(change).toHaveBeenLastCalledWith(7, 4, { note: 'mine' })
  })
})
