import { describe, expect, it } from 'vitest'
import { inferRules, type FileLink } from '../../../core/formats'
import { answer, compile } from '../../../core/table'
import { domainRow, linkRow, ruleRow } from '../table/rows'

const EXACT = { capitalsMatter: true, trailingSlashMatters: true }
const link = (slug: string, destination: string, line = 1): FileLink => ({
  file: '',
  line,
  column: 1,
  host: null,
  slug,
  destination,
  status: 301,
})

/** Numbers that look random and are the same each time. */
function random(seed: number) {
  let state = seed
  return (below: number) => {
    state = (state * 1103515245 + 12345) % 2147483648
    return Math.floor((state / 2147483648) * below)
  }
}

interface Family {
  links: FileLink[]
  found: boolean
}

/** A family of links of one shape, some of which lead elsewhere. */
function family(seed: number): FileLink[] {
  const draw = random(seed * 7919 + 17)
  const words = [
    'night',
    'harbour',
    'fares',
    'zones',
    'ferry',
    'cycle',
    'lost',
    'map',
    'tram',
    'pier',
    'north',
    'bridge',
    'quay',
    'market',
  ]
  const name = () =>
    Array.from({ length: 1 + draw(3) }, () => words[draw(words.length)]!).join('-') + (draw(2) ? String(draw(90)) : '')
  const kinds: ((value: string) => [string, string])[] = [
    (value) => [`stop/${value}`, `https://live.portansel.example/departures?stop=${value}`],
    (value) => [`line-${value}`, `https://www.portansel.example/lines/${value}/timetable`],
    (value) => [`news/${value}.html`, `https://www.portansel.example/news/${value}`],
    (value) => [`old/${value}`, `https://archive.portansel.example/${value}`],
    (value) => [`${value}/map`, `https://maps.portansel.example/?at=${value}&zoom=4`],
    (value) => [`p/${value}/en`, `https://www.portansel.example/en/pages/${value}#top`],
  ]
  const kind = kinds[seed % kinds.length]!
  const numeric = seed % kinds.length < 2
  const values = new Set<string>()
  while (values.size < 30 + draw(170)) values.add(numeric ? String(1000 + draw(9000)) : name())
  return [...values].map((value, index) => {
    const [slug, destination] = kind(value)
    return link(slug, draw(20) === 0 ? `https://www.portansel.example/elsewhere/${index}` : destination, index + 1)
  })
}

/** What an address is answered with once rules stand in for the links they were inferred of. */
function tableWith(links: readonly FileLink[]) {
  const rules = inferRules(links, () => EXACT)
  const spared = new Set(rules.flatMap((rule) => rule.links))
  const table = compile(
    [domainRow(EXACT)],
    links
      .filter((one) => !spared.has(one))
      .map((one, index) => linkRow({ id: index + 1, slug: one.slug!, destination: one.destination!, status: 301 })),
    1,
    rules.map((rule, index) =>
      ruleRow({
        id: index + 1,
        position: index + 1,
        pattern: rule.pattern,
        destination: rule.destination,
        status: 301,
      }),
    ),
  )
  return {
    rules,
    spared,
    ask: (slug: string) => answer(table, { method: 'GET', host: 'ansl.example', target: `/${slug}` }, 0),
  }
}

describe('rules inferred from lines of one shape', () => {
  it('are found in 30 generated families with exceptions, and lead no address wrong', () => {
    const seen: Family[] = Array.from({ length: 30 }, (_, seed) => {
      const links = family(seed)
      const { rules, spared, ask } = tableWith(links)
      for (const one of links) expect(ask(one.slug!).location, `${seed}: ${one.slug}`).toBe(one.destination)
      return { links, found: rules.length > 0 && spared.size >= 0.8 * links.length }
    })
    expect(seen.filter(({ found }) => found).length).toBeGreaterThanOrEqual(Math.ceil(0.95 * seen.length))
  })

  it('say how many addresses they take, and name one that no line does', () => {
    const links = Array.from({ length: 20 }, (_, at) =>
      link(`stop/${4400 + at}`, `https://live.example/s/${4400 + at}`),
    )
    const [rule] = inferRules(links, () => EXACT)
    expect(rule).toMatchObject({
      pattern: '/stop/:id(\\d{4})',
      destination: 'https://live.example/s/{id}',
      takes: 10_000,
      beyond: '/stop/0000',
      exceptions: [],
    })
    expect(rule!.links).toHaveLength(20)
  })

  it('keep what leads elsewhere as links', () => {
    const links = Array.from({ length: 20 }, (_, at) =>
      link(`stop/${4400 + at}`, at === 7 ? 'https://other.example/' : `https://live.example/s/${4400 + at}`),
    )
    const [rule] = inferRules(links, () => EXACT)
    expect(rule!.exceptions.map(({ slug }) => slug)).toEqual(['stop/4407'])
    expect(tableWith(links).ask('stop/4407').location).toBe('https://other.example/')
  })

  it('take the rest of a path over several segments', () => {
    const rests = ['a/b', 'a/c', 'b/c/d', 'x/y', 'x/z', 'q/r', 'q/s/t', 'm/n', 'o/p']
    const links = rests.map((rest) => link(`archive/${rest}`, `https://old.example/${rest}`))
    const [rule] = inferRules(links, () => EXACT)
    expect(rule).toMatchObject({
      pattern: '/archive/:rest(.+)',
      destination: 'https://old.example/{+rest}',
      takes: null,
    })
  })

  it('are not made of a few, nor of what has little in common, nor of links with titles of their own', () => {
    expect(
      inferRules(
        [1, 2, 3].map((at) => link(`s/${at}`, `https://x.example/${at}`)),
        () => EXACT,
      ),
    ).toEqual([])
    expect(
      inferRules(
        Array.from({ length: 40 }, (_, at) => link(`w${at}`, `https://x.example/${at * 31}`)),
        () => EXACT,
      ),
    ).toEqual([])
    const titled = Array.from({ length: 20 }, (_, at) => ({
      ...link(`s/${at}`, `https://x.example/${at}`),
      title: `Stop ${at}`,
    }))
    expect(inferRules(titled, () => EXACT)).toEqual([])
  })

  it('are right where capitals do not matter: what the fold would change stays a link', () => {
    const names = ['Alpha', 'beta', 'gamma', 'delta', 'eps', 'zeta', 'eta', 'theta', 'iota', 'kappa']
    const links = names.map((name) => link(`n/${name}`, `https://x.example/${name}`))
    const sameness = { capitalsMatter: false, trailingSlashMatters: false }
    const [rule] = inferRules(links, () => sameness)
    expect(rule!.exceptions.map(({ slug }) => slug)).toEqual(['n/Alpha'])
  })
})
