import { describe, expect, it } from 'vitest'
import { expand, readTemplate } from '../../../core/patterns'

// RFC 6570 §3.2.2 and §3.2.3, the examples of simple and reserved expansion with single variables, with the RFC's own
// values.
const VALUES: Record<string, string> = {
  var: 'value',
  hello: 'Hello World!',
  half: '50%',
  base: 'http://example.com/home/',
  empty: '',
  path: '/foo/bar',
  x: '1024',
  y: '768',
}
const EXAMPLES: [template: string, expansion: string][] = [
  ['{var}', 'value'],
  ['{hello}', 'Hello%20World%21'],
  ['{half}', '50%25'],
  ['O{empty}X', 'OX'],
  ['O{undef}X', 'OX'],
  ['{+var}', 'value'],
  ['{+hello}', 'Hello%20World!'],
  ['{+half}', '50%25'],
  ['{base}index', 'http%3A%2F%2Fexample.com%2Fhome%2Findex'],
  ['{+base}index', 'http://example.com/home/index'],
  ['O{+empty}X', 'OX'],
  ['O{+undef}X', 'OX'],
  ['{+path}/here', '/foo/bar/here'],
  ['here?ref={+path}', 'here?ref=/foo/bar'],
  ['up{+path}{var}/here', 'up/foo/barvalue/here'],
  ['map?{x},{y}'.replace(',', '&'), 'map?1024&768'],
]

describe('destinations as URI Templates', () => {
  it.each(EXAMPLES)('%s gives %s (RFC 6570 §3.2.2, §3.2.3)', (template, expansion) => {
    const reading = readTemplate('https://www.example/' + template, [...Object.keys(VALUES), 'undef'])
    if (!reading.ok) throw new Error(reading.sentence)
    // Captures come as canonical paths have them: what may not stand bare in a path is escaped.
    const captured = (name: string) =>
      VALUES[name] === undefined
        ? undefined
        : VALUES[name].replace(/[ %]/g, (character) => '%' + character.charCodeAt(0).toString(16))
    expect(expand(reading.template, captured)).toBe('https://www.example/' + expansion)
  })

  it.each([
    'https://{host}/x',
    '{scheme}://www.example/',
    'https://www.example{host}',
    'https://user{host}@www.example/',
  ])('%s lets no visitor choose where it leads', (template) => {
    expect(readTemplate(template, ['host', 'scheme'])).toMatchObject({
      ok: false,
      sentence: expect.stringContaining('after the host'),
    })
  })
  it.each([
    ['https://a.example/{b}', 'captures nothing named “b”'],
    ['https://a.example/{', 'Braces'],
    ['https://a.example/{a.b}', 'Braces'],
    ['https://a.example/}', 'Braces'],
  ])('%s is refused', (template, told) => {
    expect(readTemplate(template, ['a'])).toMatchObject({ ok: false, sentence: expect.stringContaining(told) })
  })
})
