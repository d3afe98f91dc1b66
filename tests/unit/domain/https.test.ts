import { describe, expect, it } from 'vitest'
import { findCertificateTrouble, nameOfHost } from '../../../core/dns'
import { readFrontLine } from '../../../core/domain/front-log'
import { hstsRefusal, hstsSinceAfter, TRIAL_MS, TRIAL_SECONDS } from '../../../core/domain/hsts'

const NOW = Date.UTC(2026, 10, 26)
const DAY_MS = 86_400_000
const YEAR = 31_536_000
const off = { httpsOnly: true, hstsSeconds: null, hstsSince: null }
const trial = (days: number) => ({ httpsOnly: true, hstsSeconds: 86_400, hstsSince: NOW - days * DAY_MS })

describe('hstsRefusal', () => {
  it.each([
    ['a trial', off, { ...off, hstsSeconds: TRIAL_SECONDS }, undefined],
    ['a year without a trial', off, { ...off, hstsSeconds: YEAR }, 'hstsSeconds'],
    ['a year after six days', trial(6), { ...trial(6), hstsSeconds: YEAR }, 'hstsSeconds'],
    ['a year after a week', trial(7), { ...trial(7), hstsSeconds: YEAR }, undefined],
    ['a trial without https', off, { ...off, httpsOnly: false, hstsSeconds: 300 }, 'httpsOnly'],
    ['http again while it is said', trial(3), { ...trial(3), httpsOnly: false }, 'httpsOnly'],
    ['taking it back', trial(3), { ...trial(3), hstsSeconds: 0 }, undefined],
    [
      'less than a year that was',
      { ...trial(9), hstsSeconds: 2 * YEAR },
      { ...trial(9), hstsSeconds: YEAR },
      undefined,
    ],
  ] as const)('%s', (_what, before, after, field) => expect(hstsRefusal(before, after, NOW)?.field).toBe(field))

  it('counts the trial without a break', () => {
    expect(hstsSinceAfter(off, 300, NOW)).toBe(NOW)
    expect(hstsSinceAfter(trial(4), YEAR, NOW)).toBe(NOW - 4 * DAY_MS)
    expect(hstsSinceAfter(trial(4), 0, NOW)).toBeNull()
    expect(TRIAL_MS).toBe(TRIAL_SECONDS * 1000)
  })
})

describe('readFrontLine', () => {
  const line = (more: object) => JSON.stringify({ level: 'info', ts: 1_795_738_094.9801981, ...more })
  it.each([
    ['obtaining', { logger: 'tls.obtain', msg: 'obtaining certificate', identifier: 'ansl.example' }],
    ['obtained', { logger: 'tls.obtain', msg: 'certificate obtained successfully', identifier: 'ansl.example' }],
    ['renewing', { logger: 'tls.renew', msg: 'renewing certificate', identifier: 'ansl.example', remaining: 13.6 }],
    ['renewed', { logger: 'tls.renew', msg: 'certificate renewed successfully', identifier: 'ansl.example' }],
  ])('%s', (kind, entry) =>
    expect(readFrontLine(line(entry))).toMatchObject({ at: 1_795_738_094_980, host: 'ansl.example', kind }),
  )
  it('keeps the authority’s own words of a fault', () => {
    const error =
      '[ansl.example] Obtain: authorization failed: HTTP 403 urn:ietf:params:acme:error:unauthorized - no such TXT ' +
      '(order=https://ca.example/order/1) (ca=https://ca.example/dir)'
    expect(
      readFrontLine(line({ logger: 'tls.obtain', msg: 'will retry', identifier: 'ansl.example', error })),
    ).toMatchObject({
      kind: 'failed',
      detail: expect.stringMatching(/^authorization failed: HTTP 403 unauthorized - /),
    })
  })
  it.each([
    '',
    '{',
    'null',
    '[]',
    '"x"',
    line({ logger: 'http', msg: 'server running' }),
    line({ logger: 'tls.obtain', msg: 'obtaining certificate', identifier: '<b>' }),
  ])('passes over %s', (text) => expect(readFrontLine(text)).toBeUndefined())
})

describe('findCertificateTrouble', () => {
  const name = nameOfHost('ansl.example')
  const served = (left: number, life = 90) => ({
    answered: true,
    fault: null,
    sentence: 'ansl.example serves a certificate.',
    issuer: 'CA',
    validFrom: new Date(NOW - (life - left) * DAY_MS).toISOString(),
    validTo: new Date(NOW + left * DAY_MS).toISOString(),
  })
  // The front renews at a third: 30 days of 90. At a quarter that has not worked.
  it.each([
    [60, undefined],
    [29, undefined],
    [22, 'certificate-ending'],
    [1, 'certificate-ending'],
  ])('with %i of 90 days left: %s', (left, kind) => {
    const found = findCertificateTrouble(name, served(left), undefined, NOW)
    expect(found?.kind).toBe(kind)
    if (kind) expect(found!.harmAt).toBe(NOW + left * DAY_MS)
  })
  it('says what the front’s last try failed of', () =>
    expect(findCertificateTrouble(name, served(5), { at: NOW, detail: 'rate limited' }, NOW)!.sentence).toContain(
      'The front’s last try failed: rate limited',
    ))
  it('tells of none, and of one browsers refuse', () => {
    expect(findCertificateTrouble(name, { ...served(60), answered: false }, undefined, NOW)!.kind).toBe(
      'certificate-fault',
    )
    expect(findCertificateTrouble(name, { ...served(60), fault: 'it has expired' }, undefined, NOW)).toMatchObject({
      kind: 'certificate-fault',
      severity: 'broken',
    })
  })
  it('says nothing where its dates cannot be read', () =>
    expect(findCertificateTrouble(name, { ...served(60), validTo: null }, undefined, NOW)).toBeUndefined())
})
