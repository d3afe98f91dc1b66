import { describe, expect, it } from 'vitest'
import { answer, dropLink, explain, putDomain, putLink } from '../../../core/table'
import type { Forgiveness } from '../../../core/rows'
import { domainRow, linkRow, tableOf } from './rows'

const NOW = Date.UTC(2026, 10, 25)
const ask = (table: ReturnType<typeof tableOf>, target: string) =>
  answer(table, { method: 'GET', host: 'ansl.example', target }, NOW)
const ALL: Forgiveness = { punctuation: true, capitals: true, lookAlikes: true }
const only = (part: keyof Forgiveness): Forgiveness => ({
  punctuation: false,
  capitals: false,
  lookAlikes: false,
  [part]: true,
})

describe('forgiveness (semantics §1 item 7)', () => {
  it.each<[target: string, part: keyof Forgiveness, mended: string]>([
    ['/fares).', 'punctuation', 'punctuation'],
    ['/fares%22', 'punctuation', 'punctuation'],
    ['/fares%20', 'punctuation', 'punctuation'],
    ['/fares!?', 'punctuation', 'punctuation'],
    ['/fares%3E', 'punctuation', 'punctuation'],
    ["/fares'", 'punctuation', 'punctuation'],
    ['/fares],;', 'punctuation', 'punctuation'],
    ['/fares/.', 'punctuation', 'punctuation'],
    ['/FARES', 'capitals', 'capitals'],
    ['/Fares', 'capitals', 'capitals'],
    ['/f-ares', 'lookAlikes', 'look-alikes'],
    ['/FARES', 'lookAlikes', 'look-alikes'],
    ['/f%D0%B0res', 'lookAlikes', 'look-alikes'],
  ])('%s is mended by %s', (target, part, mended) => {
    const table = tableOf(
      [
        { slug: 'fares', status: 301 },
        { id: 2, slug: 'night', destination: 'https://n.example/' },
      ],
      { forgiveness: only(part) },
    )
    // "/fares/." loses its dot segment before anybody forgives anything.
    if (target === '/fares/.') return expect(ask(table, target)).toMatchObject({ status: 301, mended: null })
    expect(ask(table, target)).toMatchObject({
      status: 302,
      location: 'https://www.example/fares',
      cacheControl: 'no-store',
      mended,
      linkId: 1,
      outcome: 'redirect',
    })
    expect(ask(tableOf([{ slug: 'fares' }]), target)).toMatchObject({ status: 404, mended: null })
  })

  it('answers a permanent link for the time being only, and keeps the method where the link does', () => {
    expect(
      [301, 302, 303, 307, 308].map(
        (status) => ask(tableOf([{ slug: 'fares', status: status as 301 }], { forgiveness: ALL }), '/Fares').status,
      ),
    ).toEqual([302, 302, 303, 307, 307])
  })

  it('mends in order: punctuation, then capitals, then look-alikes, each on what the one before left', () => {
    const table = tableOf([{ slug: 'stop/4417' }], { forgiveness: ALL })
    expect(ask(table, '/Stop/44l7).').mended).toBe('look-alikes')
    expect(ask(table, '/STOP/4417).').mended).toBe('capitals')
    expect(ask(table, '/stop/4417).').mended).toBe('punctuation')
    expect(ask(table, '/stop/4417').mended).toBeNull()
  })

  it('leaves unanswered what two live links could be', () => {
    const table = tableOf([{ slug: 'Jobs' }, { slug: 'jobs', destination: 'https://b.example/' }], { forgiveness: ALL })
    expect(ask(table, '/JOBS')).toMatchObject({ status: 404, mended: null })
    expect(
      explain(table, { method: 'GET', host: 'ansl.example', target: '/JOBS' }, NOW).steps.find(
        ({ name }) => name === 'Forgiveness',
      ),
    ).toMatchObject({ state: 'doubtful', sentence: expect.stringContaining('several live links') })
  })

  it('counts only live links, and a link and its forwarding slugs as one', () => {
    const table = tableOf([{ slug: 'Jobs' }, { slug: 'jobs', standing: 'ended' }], { forgiveness: ALL })
    expect(ask(table, '/JOBS')).toMatchObject({ linkId: 1, mended: 'capitals' })
    putLink(table, linkRow({ id: 3, slug: 'joBs', forwardsTo: 1 }))
    expect(ask(table, '/JOBS').mended).toBe('capitals')
    putLink(table, linkRow({ id: 4, slug: 'jObs', destination: 'https://x.example/' }))
    expect(ask(table, '/JOBS').status).toBe(404)
  })

  it('never stands before links, rules or the bare domain, and carries the query as the link says', () => {
    const table = tableOf([{ slug: 'fares', query: 'carry' }], {
      forgiveness: ALL,
      rootDestination: 'https://root.example/',
    })
    expect(ask(table, '/?x')).toMatchObject({ location: 'https://root.example/' })
    expect(ask(table, '/Fares?a=1').location).toBe('https://www.example/fares?a=1')
    expect(ask(table, '/.well-known/fares').status).toBe(404)
    expect(ask(table, '/' + '.'.repeat(7000)).status).toBe(404)
  })

  it('follows changes of links and of its switches', () => {
    const table = tableOf([{ slug: 'fares' }], { forgiveness: ALL })
    putLink(table, linkRow({ id: 2, slug: 'Night' }))
    expect(ask(table, '/NIGHT').linkId).toBe(2)
    dropLink(table, 1, 'Night')
    expect(ask(table, '/NIGHT').status).toBe(404)
    putDomain(table, domainRow({ forgiveness: only('punctuation') }))
    expect(ask(table, '/FARES').status).toBe(404)
    putDomain(table, domainRow({ forgiveness: only('lookAlikes') }))
    expect(ask(table, '/FARES').mended).toBe('look-alikes')
  })
})
