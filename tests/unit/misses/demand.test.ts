import { describe, expect, it } from 'vitest'
import {
  familiesOf,
  isScattered,
  letterTo,
  noiseOf,
  shapeOf,
  shapePattern,
  trendOf,
  visible,
} from '../../../core/misses'
import { readPattern } from '../../../core/patterns'

describe('shapes', () => {
  it('stand for a series', () => expect(shapeOf('stops/4417/a12')).toBe('stops/#/a#'))
  it('become a pattern where one part changes, which our own reader takes', () => {
    const made = shapePattern('stops/#')!
    expect(made.pattern).toBe('/stops/:number(\\d+)')
    expect(made.partOf('stops/4417')).toBe('4417')
    expect(made.partOf('stops/44a')).toBeUndefined()
    expect(readPattern('path', made.pattern, false).ok).toBe(true)
    expect(shapePattern('a#/b#')).toBeUndefined()
    expect(shapePattern('about')).toBeUndefined()
  })
  it('escape what a pattern would read otherwise', () =>
    expect(readPattern('path', shapePattern('a(b)*:c/#')!.pattern, false).ok).toBe(true))
})

describe('families', () => {
  const member = (path: string, destination: string | null, visitors = 3) => ({ path, destination, visitors })
  it('follow from what their misses mean', () => {
    const [family] = familiesOf([
      member('stops/4417', 'https://live.example/departures?stop=4417', 9),
      member('stops/4420', 'https://live.example/departures?stop=4420'),
      member('stops/4431', null),
      member('other', null),
    ])
    expect(family).toMatchObject({
      shape: 'stops/#',
      pattern: '/stops/:number(\\d+)',
      destination: 'https://live.example/departures?stop={number}',
      visitors: 15,
    })
    expect(family!.members.map(({ path }) => path)).toEqual(['stops/4417', 'stops/4420', 'stops/4431'])
  })
  it('know numbers with and without leading noughts', () => {
    const [family] = familiesOf(
      ['dock/003', 'dock/014', 'dock/027'].map((path) =>
        member(path, `https://c.example/docks/${Number(path.slice(5))}`),
      ),
    )
    expect(family!.destination).toBe('https://c.example/docks/{number}')
  })
  it('propose nothing where the misses mean different things', () => {
    const [family] = familiesOf([
      member('x/1', 'https://a.example/1'),
      member('x/2', 'https://b.example/2'),
      member('x/3', 'https://c.example/3'),
    ])
    expect(family!.destination).toBeNull()
  })
  it('need three', () => expect(familiesOf([member('x/1', null), member('x/2', null)])).toEqual([]))
})

describe('trends', () => {
  const days = (before: number, recent: number) => [...Array<number>(21).fill(before), ...Array<number>(7).fill(recent)]
  it.each([
    ['new', days(0, 2)],
    ['over', days(2, 0)],
    ['steady', days(2, 2)],
    ['rising', days(1, 6)],
    ['falling', days(6, 1)],
    ['over', days(0, 0)],
  ])('%s', (trend, counts) => expect(trendOf(counts)).toBe(trend))
  it('do not rise by chance', () =>
    expect(trendOf([...days(0, 0).slice(0, 20), 1, 0, 0, 1, 0, 0, 0, 1])).toBe('steady'))
})

describe('noise', () => {
  it.each([
    'wp-login.php',
    '.env',
    '.git/config',
    'a/.aws/credentials',
    'phpmyadmin/',
    'backup.sql.gz',
    'cgi-bin/test',
    '..%2f..%2fetc/passwd',
    'sitemap.xml',
    'HNAP1',
    'actuator/env',
    'owa/auth',
    '%24%7bjndi:ldap',
  ])('%s is', (path) => expect(noiseOf(path)).not.toBeNull())
  it.each(['fares', 'fraes', 'stop/4417', 'night/N14', 'open-data', 'about', 'wifi', 'tickets.', 'map.pdf', 'a.b'])(
    '%s is not',
    (path) => expect(noiseOf(path)).toBeNull(),
  )
  it('is a client that asks for many unrelated things, and no one who tries again', () => {
    expect(isScattered('admin login test old backup shop blog forum'.split(' '))).toBe(true)
    expect(isScattered(['fraes', 'faers', 'fares1', 'farres', 'fars', 'fare-s', 'fares!', 'fared', 'fates'])).toBe(
      false,
    )
  })
})

describe('letters', () => {
  const facts = {
    page: 'https://news.test/a',
    wrong: 'ansl.example/fraes',
    visitors: 12,
    organisation: 'Port Ansel Transit',
  }
  it('name the page, the wrong and the right address', () => {
    const { subject, text } = letterTo({ ...facts, right: 'ansl.example/fares' })
    expect(subject).toBe('A wrong address on https://news.test/a')
    expect(text).toContain('12 visitors came from')
    expect(text).toContain('    ansl.example/fares\n')
  })
  it('ask where the right one is not known', () =>
    expect(letterTo({ ...facts, right: null }).text).toContain('where it should lead'))
  it('let nothing hide or turn direction, nor break a line', () => {
    const { subject, text } = letterTo({
      ...facts,
      page: 'https://x.test/\r\nBcc: a@b',
      wrong: 'a\u202eb\u0000c',
      right: null,
    })
    expect(subject).not.toMatch(/[\r\n]/)
    expect(text).toContain('a\\u{202e}b\\u{0000}c')
    expect(visible('plain – text')).toBe('plain – text')
  })
})
