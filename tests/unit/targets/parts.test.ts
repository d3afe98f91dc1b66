import { describe, expect, it } from 'vitest'
import {
  applyMove,
  certificateFault,
  challengeWords,
  endCandidates,
  followParameters,
  headlineOf,
  moveOf,
  moveWords,
  nearCandidates,
  readPage,
  resemblance,
  supportedMoves,
  type Evidence,
  type Hop,
} from '../../../core/targets'

const hop = (url: string, more: Partial<Hop> = {}): Hop => ({
  url,
  method: 'GET',
  via: 'status',
  address: '192.0.2.1',
  status: 200,
  location: null,
  milliseconds: 1,
  certificate: null,
  fields: null,
  fault: null,
  ...more,
})
const evidence = (hops: Hop[]): Evidence => ({
  destination: hops[0]!.url,
  at: 0,
  hops,
  page: null,
  sibling: null,
  endless: null,
})

describe('parameters on the way', () => {
  const follow = (...urls: string[]) =>
    followParameters(urls.map((url) => ({ url }))).map(({ name, value, hop }) => `${name}=${value} ${hop}`)
  it('names the hop that lost each', () =>
    expect(
      follow(
        'https://a.example/?ref=pat-04&id=7',
        'https://a.example/via?ref=pat-04&id=7',
        'https://b.example/end?id=7',
      ),
    ).toEqual(['ref=pat-04 2', 'id=7 0']))
  it('takes a value that became a part of the path for arrived', () =>
    expect(follow('https://a.example/show?id=4417', 'https://a.example/items/4417')).toEqual(['id=4417 0']))
  it('compares after decoding, names without regard to capitals', () =>
    expect(follow('https://a.example/?Name=J%C3%B6rg+X', 'https://a.example/?name=J%C3%B6rg%20X')).toEqual([
      'Name=Jörg X 0',
    ]))
})

describe('moves that sisters made', () => {
  const HOST = 'https://www.site.example'
  it.each([
    ['/a/x', '/b/x', '/a/y', '/b/y'],
    ['/a/x.html', '/a/x', '/a/z.html', '/a/z'],
    ['/news/x', '/en/news/x', '/news/y?q=1', '/en/news/y?q=1'],
    ['/x', '/x/', '/y', '/y/'],
  ])('%s → %s takes %s to %s', (from, to, other, there) =>
    expect(applyMove(moveOf({ from: HOST + from, to: HOST + to })!, HOST + other)).toBe(HOST + there),
  )
  it('takes nothing elsewhere that it says nothing of', () => {
    const move = moveOf({ from: `${HOST}/a/x`, to: `${HOST}/b/x` })!
    expect(applyMove(move, `${HOST}/c/x`)).toBeUndefined()
    expect(moveOf({ from: `${HOST}/a/x`, to: `${HOST}/b/y` })).toBeUndefined()
    expect(moveWords(move)).toEqual(['/a/', '/b/'])
  })
  it('needs three that made it, and none that made another', () => {
    const pairs = ['x', 'y', 'z'].map((name) => ({ from: `${HOST}/a/${name}`, to: `${HOST}/b/${name}` }))
    expect(supportedMoves(pairs.slice(0, 2))).toEqual([])
    expect(supportedMoves(pairs)[0]).toMatchObject({ move: { fromStart: `${HOST}/a/`, toStart: `${HOST}/b/` } })
    expect(supportedMoves([...pairs, { from: `${HOST}/a/w`, to: `${HOST}/c/w` }])).toEqual([])
  })
})

describe('candidates near a destination', () => {
  const near = (url: string, verdict: Parameters<typeof nearCandidates>[1]) =>
    nearCandidates(url, verdict).map(({ kind, destination }) => `${kind} ${destination}`)
  it('goes up folder by folder', () =>
    expect(near('https://www.a.example/x/y/z', 'not-found')).toEqual([
      'host https://a.example/x/y/z',
      'archive https://www.a.example/archive/x/y/z',
      'parent https://www.a.example/x/y/',
      'parent https://www.a.example/x/',
    ]))
  it('tries https, and www where the name is gone', () =>
    expect(near('http://a.example/x', 'no-such-name')).toEqual([
      'https https://a.example/x',
      'host http://www.a.example/x',
    ]))
  it('puts lost parameters back on the end of the way', () =>
    expect(
      endCandidates(evidence([hop('https://a.example/?ref=7&x=1', { status: 302 }), hop('https://a.example/end?x=1')])),
    ).toMatchObject([{ kind: 'keep-parameters', destination: 'https://a.example/end?x=1&ref=7' }]))
  it('takes the end by https where it fell back', () =>
    expect(
      endCandidates(evidence([hop('https://a.example/', { status: 302 }), hop('http://a.example/x')])),
    ).toMatchObject([{ kind: 'https', destination: 'https://a.example/x' }]))
})

describe('what a page is read for', () => {
  const read = (html: string, url = 'https://a.example/p/q') =>
    readPage(html, { url, type: 'text/html', octets: html.length, cut: false })
  const text = 'The last ferry of the day leaves at eleven from the eastern quay beside the market hall.'
  it('keeps its own text apart from what is around it', () => {
    const one = read(`<nav>Home Fares Help</nav><main><h1>Ferries</h1><p>${text}</p></main>`).facts
    const other = read(`<nav>Start Tariffs</nav><main><h1>Ferries</h1><p>${text}</p></main>`).facts
    expect(resemblance(one.sketch, other.sketch)).toBe(1)
  })
  it('takes error pages that repeat the address asked for one and the same', () => {
    const error = (path: string) => read(`<h1>Oops</h1><p>${text}</p><p>${path}</p>`, `https://a.example${path}`).facts
    expect(resemblance(error('/p/one-thing').sketch, error('/p/other-matter').sketch)).toBeGreaterThan(0.95)
  })
  it('follows plain script moves only', () => {
    const move = (script: string) => read(`<script>${script}</script>`).facts.scriptMove
    expect(move('location.href = "/next"')).toBe('https://a.example/next')
    expect(move("window.location.replace('https://b.example/')")).toBe('https://b.example/')
    expect(move('button.onclick = () => { location.href = "/next" }')).toBeNull()
    expect(move('if (location.href === "/next") x()')).toBeNull()
    expect(move('location.href = "javascript:alert(1)"')).toBeNull()
  })
  it('keeps card, title and links', () => {
    const { facts, links } = read(
      '<title>A &amp; B</title><base href="/base/"><meta property="og:title" content="The card">' +
        '<meta property="og:image" content="i.png"><a href="x">Ex <b>why</b></a>',
    )
    expect(facts).toMatchObject({ title: 'A & B', card: { title: 'The card', picture: 'https://a.example/p/i.png' } })
    expect(links).toEqual([{ url: 'https://a.example/base/x', text: 'Ex why' }])
  })
})

describe('what stands in sentences', () => {
  it.each([
    ['Basic realm="Staff \\"A\\"", charset="UTF-8"', 'Basic sign-in for “Staff "A"”'],
    ['Bearer', 'Bearer sign-in'],
    [null, 'a sign-in'],
  ])('challenge %s', (challenge, words) => expect(challengeWords(challenge)).toBe(words))
  it.each([
    [{ code: 'CERT_HAS_EXPIRED', nameMatches: false, rsaBits: 1024 }, 'expired'],
    [{ code: undefined, nameMatches: false, rsaBits: 2048 }, 'wrong-name'],
    [{ code: undefined, nameMatches: true, rsaBits: 1024 }, 'weak'],
    [{ code: undefined, nameMatches: true, rsaBits: undefined }, null],
    [{ code: 'SOMETHING_NEW', nameMatches: true, rsaBits: 2048 }, 'other'],
  ])('certificate %o', (of, fault) => expect(certificateFault(of)).toBe(fault))
  it('has the number in its headline', () => {
    expect(headlineOf('not-found', evidence([hop('https://a.example/', { status: 404 })]), false)).toBe(
      'Page not found (404)',
    )
    expect(headlineOf('server-error', evidence([hop('https://a.example/', { status: 502 })]), true)).toBe(
      'Intermittent: server error (502)',
    )
  })
})
