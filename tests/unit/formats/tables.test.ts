import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { findFormat, recognise, type Columns, type SourceFile } from '../../../core/formats'
import { matchColumns } from '../../../core/formats/csv/columns'
import { depthOf } from '../../../core/formats/json/read'
import { jsonFileSchema } from '../../../core/formats/json/schema'

const OPTIONS = { host: 'ansl.example', sameness: { capitalsMatter: true, trailingSlashMatters: true } }
const lines = (...text: string[]) => text.join('\n')
const read = (id: string, text: string, more: object = {}, name = 'file') =>
  findFormat(id)!.read([{ name, text }], { ...OPTIONS, ...more })
const links = (id: string, text: string, more: object = {}) =>
  read(id, text, more).entries.flatMap((entry) => (entry.kind === 'link' ? [entry.link] : []))
const refusals = (id: string, text: string) =>
  read(id, text).refusals.map(({ line, column, code }) => `${line}:${column} ${code}`)

describe('a plain list', () => {
  it('is read line by line, with comments, arrows and hosts', () => {
    expect(
      links(
        'plain',
        lines(
          '# season',
          '/fares https://a.example/ 301',
          '',
          'night → https://b.example/',
          'go.example/x https://c.example/ 307 # note',
          '/old gone',
        ),
      ),
    ).toMatchObject([
      { line: 2, slug: 'fares', destination: 'https://a.example/', status: 301, host: null },
      { line: 4, slug: 'night', destination: 'https://b.example/' },
      { line: 5, host: 'go.example', slug: 'x', status: 307 },
      { line: 6, slug: 'old', destination: null },
    ])
  })
  it.each([
    ['/fares', '1:1 no-destination'],
    ['/fares https://a.example/ 200', '1:27 status'],
    ['/a?b https://a.example/', '1:1 address'],
    ['/a* https://a.example/', '1:3 wildcard'],
    ['/a https://a.example/ 301 and more', '1:27 too-much'],
  ])('refuses “%s” at its place', (line, told) => expect(refusals('plain', line)).toEqual([told]))
})

describe('a table', () => {
  it.each<[string, string[][], Columns, boolean]>([
    [
      'names',
      [
        ['Slug', 'Target'],
        ['a', 'https://a.example/'],
      ],
      { slug: 0, destination: 1 },
      true,
    ],
    [
      'no names',
      [
        ['/a', 'https://a.example/', '301'],
        ['/b', 'https://b.example/', '302'],
      ],
      { destination: 1, status: 2, address: 0 },
      false,
    ],
    [
      'both sides whole',
      [
        ['https://go.example/a', 'https://a.example/'],
        ['https://go.example/b', 'https://b.example/'],
      ],
      { destination: 1, address: 0 },
      false,
    ],
    [
      'foreign names',
      [
        ['Kurz', 'Ziel'],
        ['/a', 'https://a.example/'],
      ],
      { destination: 1, address: 0 },
      true,
    ],
  ])('has its columns matched by %s', (_name, rows, columns, headed) => {
    const matched = matchColumns(rows)
    expect(matched.columns).toMatchObject(columns)
    expect(matched.headed).toBe(headed)
  })
  it('is read with any delimiter, quotes, line breaks in cells and a mark at its begin', () => {
    expect(
      links(
        'csv',
        '\ufeffslug;destination;note\r\na;https://a.example/;"two\r\nlines; and “quotes”"\r\nb;https://b.example/;',
      ),
    ).toMatchObject([
      { line: 2, slug: 'a', note: 'two\r\nlines; and “quotes”' },
      { line: 4, slug: 'b' },
    ])
  })
  it('tells what is wrong with which row', () => {
    expect(
      refusals(
        'csv',
        lines(
          'slug,destination,status,ends',
          'a,,301,',
          'b,https://b.example/,999,',
          'c,https://c.example/,301,tomorrow',
          ',https://d.example/,,',
        ),
      ),
    ).toEqual(['2:2 no-destination', '3:3 status', '4:4 value', '5:1 address'])
  })
  it('takes dates, tags and what spreadsheets guard', () => {
    expect(
      links('csv', "slug,destination,title,tags,starts\na,https://a.example/,'=sum,season; night,2027-03-01")[0],
    ).toMatchObject({ title: '=sum', tags: ['season', 'night'], startsAt: '2027-03-01T00:00:00.000Z' })
  })
  it('of one endless line, or with a quote never closed, is refused in time', () => {
    const began = performance.now()
    expect(refusals('csv', `slug,destination\na,"${'x'.repeat(5_000_000)}`)[0]).toMatch(/long-line|quotes/)
    expect(performance.now() - began).toBeLessThan(20_000)
  })
})

describe('JSON', () => {
  it('is read after its schema, whole and by lines', () => {
    const file = {
      format: 'fides',
      version: 1,
      links: [{ slug: 'a', destination: 'https://a.example/', tags: ['x'] }],
      rules: [{ pattern: '/s/:id', destination: 'https://s.example/{id}', status: 301 }],
    }
    expect(read('json', JSON.stringify(file, null, 1)).entries).toMatchObject([
      { kind: 'link', link: { slug: 'a', line: 7 } },
      { kind: 'rule', rule: { pattern: '/s/:id', syntax: 'path' } },
    ])
    expect(
      read('json', '{"slug":"a","destination":"https://a.example/"}\n{"slug":"b","destination":7}', {}, 'x.jsonl'),
    ).toMatchObject({
      entries: [{ link: { slug: 'a', line: 1 } }],
      refusals: [{ line: 2, sentence: 'destination: Give text.' }],
    })
  })
  it('that is none, or nested beyond measure, is told where', () => {
    expect(read('json', '{"links": [\n{"slug": oops}]}').refusals[0]).toMatchObject({ line: 2, code: 'json' })
    const deep = '['.repeat(100_000) + ']'.repeat(100_000)
    expect(depthOf(deep)).toBe(100_000)
    expect(read('json', deep).refusals[0]!.sentence).toContain('nested deeper')
  })
  it('has its schema published as it is', () =>
    expect(JSON.parse(readFileSync('docs/exchange.schema.json', 'utf8'))).toEqual(
      JSON.parse(JSON.stringify(jsonFileSchema())),
    ))
  it('names a field it does not know', () =>
    expect(read('json', '[{"slug":"a","destination":"https://a.example/","colour":"red"}]').refusals[0]!.sentence).toBe(
      'Nothing here is called “colour”.',
    ))
})

describe('pages, bookmarks, sitemaps and texts', () => {
  it('give what leads somewhere, with lines and titles', () => {
    const page = lines(
      '<!DOCTYPE html>',
      '<title>Old &amp; gone</title>',
      '<meta http-equiv=refresh content="3; URL=\'https://a.example/new\'">',
    )
    expect(findFormat('pages')!.read([{ name: 'shop/index.html', text: page }], OPTIONS).entries).toMatchObject([
      { link: { slug: 'shop', destination: 'https://a.example/new', title: 'Old & gone', line: 3 } },
    ])
    expect(links('pages', '<link rel="canonical" href="https://a.example/c">', {})).toHaveLength(0)
    expect(
      links(
        'anchors',
        lines(
          '<a href="https://a.example/x">One  <b>two</b></a>',
          '<a href="#top">x</a><a href="https://a.example/x">again</a>',
        ),
      ),
    ).toMatchObject([{ slug: null, destination: 'https://a.example/x', title: 'One two', line: 1 }])
    expect(links('sitemap', '<urlset>\n<url><loc>https://a.example/?a=1&amp;b=2</loc></url>\n</urlset>')).toMatchObject(
      [{ destination: 'https://a.example/?a=1&b=2', slug: null }],
    )
    expect(links('text', 'See https://a.example/x, and\n(https://b.example/y).')).toMatchObject([
      { destination: 'https://a.example/x', line: 1, column: 5 },
      { destination: 'https://b.example/y', line: 2, column: 2 },
    ])
  })
})

describe('the kind of a file', () => {
  it.each<[string, SourceFile]>([
    ['apache', { name: 'site/.htaccess', text: 'Order allow,deny' }],
    ['apache', { name: 'x', text: 'RewriteEngine On\nRewriteRule ^a$ https://a.example/ [R]' }],
    ['nginx', { name: 'site.conf', text: 'server {\n  location = /a { return 301 https://a.example/; }\n}' }],
    ['csv', { name: 'Pasted text', text: 'a\thttps://a.example/\nb\thttps://b.example/' }],
    ['plain', { name: 'Pasted text', text: '# list\n/a https://a.example/ 301\n/b https://b.example/' }],
    ['json', { name: 'x', text: '{"format":"fides","version":1}' }],
    ['bookmarks', { name: 'b.html', text: '<!DOCTYPE NETSCAPE-Bookmark-file-1>\n<DL>' }],
    ['pages', { name: 'a.html', text: '<meta http-equiv="refresh" content="0; url=https://a.example/">' }],
    ['sitemap', { name: 'sitemap.xml', text: '<?xml version="1.0"?><urlset></urlset>' }],
    ['text', { name: 'mail.txt', text: 'Dear all, look at https://a.example/ please.' }],
  ])('is told: %s', (kind, file) => expect(recognise([file])?.id).toBe(kind))
  it('is not told of what resembles none', () => expect(recognise([{ name: 'x', text: 'nothing' }])).toBeUndefined())
})

describe('a table with more columns than a table can have', () => {
  const commas = ','.repeat(100_000)
  const sentences = (text: string) => read('csv', text).refusals.map(({ line, sentence }) => `${line}: ${sentence}`)
  const TOO_WIDE = /^\d: Line \d has more than 1,000 columns/
  it.each([
    ['of commas', commas],
    ['with a stray quote before them', `12" poster${commas}`],
    ['with two stray quotes', `a""${commas}`],
    ['with a quoted cell before them', `"say ""hi"""${commas}`],
    ['on its second line', `/a,https://www.example/\n${commas}`],
  ])('is refused before it is taken apart: %s', (_name, text) => expect(sentences(text)[0]).toMatch(TOO_WIDE))
  it('is none where the commas stand in a quoted cell', () => {
    const row = `/a,https://www.example/,302,"${','.repeat(5000)}"\n`
    expect(sentences(row.repeat(2)).filter((sentence) => TOO_WIDE.test(sentence))).toEqual([])
  })
})
