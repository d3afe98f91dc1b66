import { describe, expect, it } from 'vitest'
import { message, type DnsMessage, type WireRecord } from '../../../core/dns/wire'
import { observe } from '../../../server/names/observe'

const record = (name: string, type: string, data: string, ttl = 300): WireRecord =>
  ({ name, type, class: 1, ttl, data }) as WireRecord
const SOA = record('rider.test.', 'SOA', 'ns1.rider.test. h.rider.test. 1 7200 900 1209600 120', 3600)
const told = (more: Partial<DnsMessage>) => ({
  ok: true as const,
  milliseconds: 1,
  message: { ...message(1, {}), response: true, aa: true, rcode: 'NOERROR' as const, ...more },
})
const see = (asked: Parameters<typeof observe>[0], role: 'authority' | 'resolver' = 'authority', type = 'A') =>
  observe(asked, role, 'ns1', { name: 'rider.test.', type }, 1000)

describe('what a server’s answer says', () => {
  it('is the set in order, with its smallest TTL', () => {
    const answer = [
      record('rider.test.', 'A', '192.0.2.9', 300),
      record('rider.test.', 'A', '192.0.2.10', 200),
      record('other.test.', 'A', '192.0.2.1', 1),
    ]
    expect(see(told({ answer }))).toMatchObject({
      status: 'answered',
      data: ['192.0.2.10', '192.0.2.9'],
      ttl: 200,
      firstAt: 1000,
      at: 1000,
    })
  })
  it('begins with the alias where there is one, but for CNAME and CAA', () => {
    const answer = [
      record('rider.test.', 'CNAME', 'gate.test.', 60),
      record('gate.test.', 'A', '192.0.2.80'),
      record('gate.test.', 'CAA', '0 issue "ca.test"'),
    ]
    expect(see(told({ answer }), 'resolver')).toMatchObject({ data: ['CNAME gate.test.'], ttl: 60 })
    expect(see(told({ answer }), 'authority', 'CNAME')).toMatchObject({ data: ['gate.test.'] })
    // An issuer follows aliases (RFC 8659 §3).
    expect(see(told({ answer }), 'resolver', 'CAA')).toMatchObject({ data: ['0 issue "ca.test"'] })
  })
  it('is "none" for a set or a name that is not there, kept by the SOA (RFC 2308 §5)', () => {
    expect(see(told({ authority: [SOA] }))).toMatchObject({ status: 'none', ttl: 120 })
    expect(see(told({ rcode: 'NXDOMAIN', authority: [SOA] }))).toMatchObject({ status: 'none', ttl: 120 })
    expect(see(told({}))).toMatchObject({ status: 'none', ttl: null })
  })
  it('is lame from a name server without authority, refused from a resolver, failed or silent otherwise', () => {
    expect(see(told({ rcode: 'REFUSED' })).status).toBe('lame')
    expect(see(told({ rcode: 'REFUSED' }), 'resolver').status).toBe('refused')
    expect(see(told({ aa: false })).status).toBe('lame')
    expect(see(told({ aa: false, authority: [SOA] }), 'resolver').status).toBe('none')
    expect(see(told({ rcode: 'SERVFAIL' })).status).toBe('failed')
    expect(see({ ok: false, reason: 'malformed', sentence: '' }).status).toBe('failed')
    expect(see({ ok: false, reason: 'silent', sentence: '' })).toMatchObject({ status: 'silent', data: [], ttl: null })
    expect(see({ ok: false, reason: 'unreachable', sentence: '' }).status).toBe('silent')
  })
})
