import { describe, expect, it } from 'vitest'
import { stepSchema, stepWords } from '../../../core/changes'
import { takeSteps } from '../../../core/changes/steps'

const take = (step: object, destination: string, movedTo?: string) => {
  const stepped = takeSteps([stepSchema.parse(step)], destination, { movedTo })
  return stepped.ok ? stepped.destination : stepped.sentence
}
const faults = (step: object) => stepSchema.safeParse(step).error?.issues.map(({ message }) => message) ?? []

describe('steps by which a destination is rewritten', () => {
  it.each([
    // What is not touched stays octet for octet: escapes, capitals, doubled slashes, empty parameters.
    ['http://OLD.example/a%2fB//c?x=%7e&&y#Z', 'http://new.example/a%2fB//c?x=%7e&&y#Z'],
    ['https://old.example', 'https://new.example'],
    ['https://old.example:8443/', 'https://new.example:8443/'],
    ['https://www.old.example/', 'https://www.old.example/'],
    ['https://elsewhere.example/old.example', 'https://elsewhere.example/old.example'],
    ['mailto:somebody@old.example', 'mailto:somebody@old.example'],
  ])('move-host: %s', (before, after) => {
    expect(take({ do: 'move-host', from: 'old.example', to: 'https://new.example/' }, before)).toBe(after)
  })

  it.each([
    [
      { in: 'path', find: '/2025/', with: '/2026/' },
      'https://a.example/2025/x?y=/2025/',
      'https://a.example/2026/x?y=/2025/',
    ],
    [{ in: 'query', find: 'q', with: 'r' }, 'https://q.example/q?q=q#q', 'https://q.example/q?r=r#q'],
    [{ in: 'query', find: 'q', with: 'r' }, 'https://q.example/q', 'https://q.example/q'],
    [{ in: 'host', find: 'WWW.', with: '' }, 'https://www.a.example/www.', 'https://a.example/www.'],
    [
      { in: 'whole', find: 'http://', with: 'https://' },
      'http://a.example/?u=http://b',
      'https://a.example/?u=https://b',
    ],
    [
      { in: 'path', find: '/fares/(\\d{4})/(.*)', with: '/$2?year=$1', pattern: true },
      'https://a.example/fares/2026/day',
      'https://a.example/day?year=2026',
    ],
    [
      { in: 'path', find: '(?P<first>[a-z]+)-(?P<second>[a-z]+)', with: '${second}-${first}$$', pattern: true },
      'https://a.example/one-two/three-four',
      'https://a.example/two-one$/four-three$',
    ],
    [{ in: 'path', find: 'x*', with: '-', pattern: true }, 'https://a.example/ab', 'https://a.example-/-a-b-'],
  ])('replace: %o', (step, before, after) => {
    expect(take({ do: 'replace', ...step }, before)).toBe(after)
  })

  it.each([
    [{ remove: ['utm_source'] }, 'https://a.example/?utm_source=x', 'https://a.example/'],
    [{ remove: ['a b'] }, 'https://a.example/?a%20b=1&c=%7E&&d', 'https://a.example/?c=%7E&&d'],
    [
      { rename: [{ from: 'ref', to: 'source' }] },
      'https://a.example/?ref=a%2Fb&x=1',
      'https://a.example/?source=a%2Fb&x=1',
    ],
    [{ put: [{ name: 'n', value: 'a&b c' }] }, 'https://a.example/p#f', 'https://a.example/p?n=a%26b+c#f'],
    [{ put: [{ name: 'n', value: '2' }] }, 'https://a.example/?x=1&n=1&y=2&n=3', 'https://a.example/?x=1&n=2&y=2'],
    [{ remove: ['nothing'] }, 'https://a.example/?', 'https://a.example/?'],
  ])('parameters: %o', (step, before, after) => {
    expect(take({ do: 'parameters', ...step }, before)).toBe(after)
  })

  it('follow: goes where an all-permanent chain ended, and nowhere else', () => {
    expect(take({ do: 'follow' }, 'https://a.example/', 'https://b.example/')).toBe('https://b.example/')
    expect(take({ do: 'follow' }, 'https://a.example/')).toBe('https://a.example/')
  })

  it('go one after the other', () => {
    const steps = [
      { do: 'move-host', from: 'a.example', to: 'b.example' },
      { do: 'replace', in: 'path', find: '/x', with: '/y' },
      { do: 'parameters', put: [{ name: 'z', value: '1' }] },
    ].map((step) => stepSchema.parse(step))
    expect(takeSteps(steps, 'https://a.example/x', {})).toEqual({ ok: true, destination: 'https://b.example/y?z=1' })
    expect(steps.map(stepWords)).toEqual([
      'moves a.example to b.example',
      'replaces “/x” by “/y” in the path',
      'puts z=1',
    ])
  })

  it.each([
    [{ do: 'replace', in: 'path', find: '(', with: '', pattern: true }, /Not a valid RE2 expression/],
    [{ do: 'replace', in: 'path', find: '(a)', with: '$2', pattern: true }, /no capture \$2/],
    [{ do: 'replace', in: 'path', find: '(?=a)', with: '', pattern: true }, /Not a valid RE2 expression/],
    [{ do: 'replace', in: 'path', find: '', with: '' }, /what to look for/],
    [{ do: 'move-host', from: 'a.example', to: 'A.example.' }, /the same/],
    [{ do: 'move-host', from: 'a..example', to: 'b.example' }, /no host/],
    [{ do: 'parameters' }, /which parameters/],
    [{ do: 'set', destination: 'javascript:alert(1)' }, /./],
    [{ do: 'nothing' }, /Choose one of/],
  ])('are refused with a sentence: %o', (step, sentence) => {
    expect(faults(step).join(' ')).toMatch(sentence)
  })

  it('take linear time, whatever the expression', () => {
    const began = performance.now()
    take(
      { do: 'replace', in: 'path', find: '(a+)+$', with: '', pattern: true },
      `https://a.example/${'a'.repeat(4000)}!`,
    )
    expect(performance.now() - began).toBeLessThan(5000)
  })
})
