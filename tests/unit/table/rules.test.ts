import { describe, expect, it } from 'vitest'
import { answer, compile, explain, putRules } from '../../../core/table'
import type { RuleRow } from '../../../core/rows'
import { domainRow, linkRow, ruleRow } from './rows'

const NOW = Date.UTC(2026, 10, 25)
const tableWith = (rules: Partial<RuleRow>[], domain = {}) =>
  compile(
    [domainRow({ capitalsMatter: false, ...domain })],
    [linkRow()],
    1,
    rules.map((rule, index) => ruleRow({ id: index + 1, position: index + 1, ...rule })),
  )
const ask = (rules: Partial<RuleRow>[], target: string, domain = {}) =>
  answer(tableWith(rules, domain), { method: 'GET', host: 'ansl.example', target }, NOW)

describe('rules in the table', () => {
  it.each<[rule: Partial<RuleRow>, target: string, location: string | null]>([
    [
      { pattern: '/stop/:id', destination: 'https://l.example/d?stop={id}' },
      '/stop/4417',
      'https://l.example/d?stop=4417',
    ],
    [{ pattern: '/Stop/:id', destination: 'https://l.example/{id}' }, '/STOP/Ab', 'https://l.example/ab'],
    [
      { pattern: '/archive/*', destination: 'https://w.example/{+0}' },
      '/archive/2024/a%20b',
      'https://w.example/2024/a%20b',
    ],
    [{ pattern: '/archive/*', destination: 'https://w.example/x{0}' }, '/archive', 'https://w.example/x'],
    [{ pattern: '/stop/:id(\\d+)', destination: 'https://l.example/{id}' }, '/stop/x', null],
    [
      { syntax: 'expression', pattern: '/z(?P<zone>[1-6])(?:/.*)?', destination: 'https://w.example/zones/{zone}' },
      '/z3/map',
      'https://w.example/zones/3',
    ],
    [{ pattern: '/:a', destination: 'https://w.example/{a}', except: ['night'] }, '/night', null],
    [{ pattern: '/:a', destination: 'https://w.example/{a}', except: ['night'] }, '/day', 'https://w.example/day'],
    [
      { pattern: '/caf%C3%A9/:x', destination: 'https://w.example/{x}' },
      '/café/1'.replace('é', '%C3%A9'),
      'https://w.example/1',
    ],
    [{ pattern: '/*', destination: 'https://w.example/' }, '/.well-known/x', null],
    [{ pattern: '/*', destination: 'https://w.example/all' }, '/', 'https://w.example/all'],
  ])('%j and %s', (rule, target, location) => expect(ask([rule], target).location).toBe(location))

  it('ask the exact link first, then rules in their order', () => {
    const rules = [
      { pattern: '/f*', destination: 'https://one.example/' },
      { pattern: '/fa*', destination: 'https://two.example/' },
    ]
    expect(ask(rules, '/fares')).toMatchObject({ linkId: 1, ruleId: 0 })
    expect(ask(rules, '/fast')).toMatchObject({ linkId: 0, ruleId: 1, location: 'https://one.example/' })
  })

  it('follow status, query policy and permanence like a link', () => {
    const rule = {
      pattern: '/s/:id',
      destination: 'https://l.example/{id}?own=1',
      status: 301 as const,
      query: 'carry' as const,
    }
    expect(ask([rule], '/s/1?x=2')).toMatchObject({
      status: 301,
      location: 'https://l.example/1?own=1&x=2',
      cacheControl: 'max-age=86400',
    })
  })

  it('let no visitor add fields or leave the destination’s host', () => {
    const rule = { pattern: '/go/*', destination: 'https://l.example/{+0}' }
    expect(ask([rule], '/go/%0d%0aX:%20y').status).toBe(400)
    expect(ask([rule], '/go//evil.example/').location).toBe('https://l.example//evil.example')
    expect(ask([rule], '/go/%C3%A9').location).toBe('https://l.example/%C3%A9')
  })

  it('are not asked for paths no address could have', () => {
    expect(ask([{ pattern: '/a*', destination: 'https://l.example/' }], '/' + 'a'.repeat(2000)).ruleId).toBe(1)
    expect(ask([{ pattern: '/a*', destination: 'https://l.example/' }], '/' + 'a'.repeat(2001))).toMatchObject({
      status: 404,
      ruleId: 0,
    })
  })

  it('are put anew in their order without a compilation for each', () => {
    const table = tableWith([
      { pattern: '/a*', destination: 'https://one.example/' },
      { pattern: '/ab*', destination: 'https://two.example/' },
    ])
    const before = table.domains.get(1)!.rules.rules
    putRules(
      table,
      before.map(({ row }) => ({ ...row, position: 3 - row.position })),
    )
    expect(answer(table, { method: 'GET', host: 'ansl.example', target: '/abc' }, NOW).location).toBe(
      'https://two.example/',
    )
    expect(table.domains.get(1)!.rules.rules.map(({ take }) => take)).toEqual(before.map(({ take }) => take).reverse())
    putRules(
      table,
      before.map(({ row }) => ({ ...row, destination: 'https://three.example/' })),
    )
    expect(answer(table, { method: 'GET', host: 'ansl.example', target: '/abc' }, NOW).location).toBe(
      'https://three.example/',
    )
  })

  it('are told by the trace, and leave out what cannot be read', () => {
    const table = tableWith([
      { pattern: '/(', destination: 'https://l.example/' },
      { pattern: '/s/:id', destination: 'https://l.example/{id}' },
    ])
    const told = explain(table, { method: 'GET', host: 'ansl.example', target: '/s/1' }, NOW)
    expect(told.steps.find(({ name }) => name === 'Found')).toMatchObject({
      value: '/s/:id',
      sentence: expect.stringContaining('first rule'),
    })
    expect(told.steps.find(({ name }) => name === 'Destination')!.sentence).toContain('captures')
    putRules(table, [])
    expect(answer(table, { method: 'GET', host: 'ansl.example', target: '/s/1' }, NOW).status).toBe(404)
  })
})
