import { describe, expect, it } from 'vitest'
import { pastedAddresses, readLinkLines, readSearch } from '../../core/search'

describe('what is typed or pasted into a search', () => {
  it('is words that must all be found', () => {
    expect(readSearch('  Night  MAP ')).toEqual([[{ text: 'night' }, { text: 'map' }]])
    expect(readSearch('/fares')).toEqual([[{ text: 'fares' }]])
    expect(readSearch('“night map”')).toEqual([[{ text: 'night' }, { text: 'map' }]])
    expect(readSearch(' \u200b\n ')).toEqual([])
  })

  it.each([
    'ansl.example/fares',
    'https://ansl.example/fares',
    'HTTP://ANSL.EXAMPLE/Fares/',
    'https://www.ansl.example/fares',
    'https://ansl.example/fares#top',
    'https://ansl.example/fares?~=bk',
    'https://ansl.example/fares?utm_source=mail&utm_medium=x',
    '"https://ansl.example/fares"',
    '„https://ansl.example/fares“',
    '<https://ansl.example/fares>.',
    '(https://ansl.example/fares),',
    '\ufeffhttps://ansl.example/\u200bfares \r\n',
    'https://ansl.example/fa\nres',
  ])('is one address, however it is pasted: %j', (pasted) => {
    expect(readSearch(pasted)).toMatchObject([[{ text: 'ansl.example/fares', exact: 'ansl.example/fares' }]])
    expect(pastedAddresses(pasted)).toHaveLength(1)
  })

  it('keeps a query that says which page, and finds a short address without it', () => {
    const [[term]] = readSearch('https://www.portansel.example/departures?stop=4417&utm_id=1') as [[object]]
    expect(term).toMatchObject({
      text: 'portansel.example/departures?stop=4417',
      exact: 'portansel.example/departures',
    })
  })

  it('keeps upper-case letters of a path: some domains tell them apart', () => {
    expect(pastedAddresses('HTTPS://ANSL.example/Fares/Night')).toEqual(['ansl.example/Fares/Night'])
  })

  it('is alternatives where each line is an address', () => {
    expect(pastedAddresses('ansl.example/a\nhttps://ansl.example/b/\n\n“ansl.example/c”')).toEqual([
      'ansl.example/a',
      'ansl.example/b',
      'ansl.example/c',
    ])
    expect(readSearch('one two\nthree')).toHaveLength(1)
  })

  it('reads escapes and hosts as they are shown', () => {
    expect(pastedAddresses('https://xn--bcher-kva.example/caf%C3%A9')).toEqual(['bücher.example/café'])
  })

  it('stays short whatever is pasted', () => {
    expect(readSearch('a '.repeat(2000))[0]).toHaveLength(8)
    expect(readSearch('a.example/x\n'.repeat(400))).toHaveLength(20)
  })
})

describe('pasted lines of links', () => {
  it.each([
    ['fares https://www.example/fares', 'fares', 'https://www.example/fares'],
    ['/fares\twww.example/fares', 'fares', 'https://www.example/fares'],
    ['fares, https://www.example/fares', 'fares', 'https://www.example/fares'],
    ['fares;https://www.example/fares', 'fares', 'https://www.example/fares'],
    ['https://www.example/map;v=1?at=38.7,-9.1', '', 'https://www.example/map;v=1?at=38.7,-9.1'],
    ['map https://www.example/map;v=1?at=38.7,-9.1', 'map', 'https://www.example/map;v=1?at=38.7,-9.1'],
  ])('%j', (line, slug, destination) => {
    expect(readLinkLines(line)).toEqual([{ line: 1, slug, destination }])
  })

  it('keep their numbers and say what is wrong', () => {
    const lines = readLinkLines('a https://a.example/\n\nb c d\nx ftp://a.example/\n')
    expect(lines.map(({ line, fault }) => [line, fault !== undefined])).toEqual([
      [1, false],
      [3, true],
      [4, true],
    ])
    const many = readLinkLines('https://a.example/\n'.repeat(201))
    expect(many[199]!.fault).toBeUndefined()
    expect(many[200]!.fault).toContain('200')
  })
})
