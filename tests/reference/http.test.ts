// RFC 9110, HTTP Semantics, and RFC 9111, HTTP Caching.
import CachePolicy from 'http-cache-semantics'
import { describe, expect, it } from 'vitest'
import { answer, headersOf, type Answer } from '../../core/table'
import { isPermanent, REDIRECT_STATUSES } from '../../core/rows'
import { tableOf } from '../unit/table/rows'

const NOW = Date.UTC(2026, 10, 23)
const ask = (link: object, target = '/fares', domain: object = {}): Answer =>
  answer(tableOf([link], domain), { method: 'GET', host: 'ansl.example', target }, NOW)

// RFC 9110 §15.4, the table of redirect statuses by permanence and by whether the method may change.
describe('RFC 9110 §15.4', () => {
  it.each([
    [301, true],
    [302, false],
    [303, false],
    [307, false],
    [308, true],
  ] as const)('%i permanent: %s', (status, permanent) => {
    expect(REDIRECT_STATUSES).toContain(status)
    expect(isPermanent(status)).toBe(permanent)
    expect(ask({ status })).toMatchObject({ status, location: 'https://www.example/fares' })
  })
})

// http-cache-semantics is an independent implementation of RFC 9111 §3 and §4.2.
function policyOf(given: Answer): CachePolicy {
  const fields = headersOf(given)
  const headers: Record<string, string> = { date: new Date(NOW).toUTCString() }
  for (let index = 0; index < fields.length; index += 2) headers[fields[index]!.toLowerCase()] = fields[index + 1]!
  return new CachePolicy(
    { url: '/fares', method: 'GET', headers: { host: 'ansl.example' } },
    { status: given.status, headers },
    { shared: false },
  )
}

describe('RFC 9111, what a browser may keep', () => {
  it.each([302, 303, 307] as const)('a temporary %i: nothing', (status) => {
    expect(policyOf(ask({ status })).storable()).toBe(false)
  })
  it.each([
    [301, 86_400],
    [308, 86_400],
    [301, 600],
    [308, 0],
  ] as const)('a permanent %i under a window of %i s: that long', (status, permanenceSeconds) => {
    const policy = policyOf(ask({ status }, '/fares', { permanenceSeconds }))
    expect(policy.storable()).toBe(true)
    expect(policy.maxAge()).toBe(permanenceSeconds)
  })
  // RFC 9110 §15.1: 404, 410 and 414 are heuristically cacheable; a link made a moment later must work at once.
  it.each([
    ['404', {}, '/nite', 404],
    ['410', { standing: 'retired' }, '/fares', 410],
    ['414', {}, '/' + 'x'.repeat(8001), 414],
    ['503', { standing: 'paused', resumesAt: NOW + 1000 }, '/fares', 503],
    ['200', {}, '/', 200],
  ] as const)('our own %s: nothing', (_name, link, target, status) => {
    const given = ask(link, target)
    expect(given.status).toBe(status)
    expect(policyOf(given).storable()).toBe(false)
  })
})

describe('RFC 9110 §15.5', () => {
  it('§15.5.20: 421 for a host we do not serve', () =>
    expect(answer(tableOf([]), { method: 'GET', host: 'other.example', target: '/' }, NOW).status).toBe(421))
  it('§15.5.11: 410 for what is gone for good', () => expect(ask({ standing: 'retired' }).status).toBe(410))
  it('§10.2.1 and §15.5.6: a 405 carries Allow', () => {
    const given = answer(tableOf([]), { method: 'TRACE', host: 'ansl.example', target: '/' }, NOW)
    expect(given.status).toBe(405)
    expect(headersOf(given)).toContain('Allow')
  })
})
