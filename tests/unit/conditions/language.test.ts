import { describe, expect, it } from 'vitest'
import {
  compileCondition,
  conditionCovers,
  conditionFingerprint,
  conditionSchema,
  conditionsMeet,
  conditionVaries,
  conditionWords,
  exampleVisitor,
  type Condition,
} from '../../../core/conditions'
import type { RuleRow } from '../../../core/rows'
import { answer, compile, explain, headersOf } from '../../../core/table'
import { domainRow, ruleRow } from '../table/rows'

const wants = (...languages: string[]): Condition => [{ kind: 'language', languages }]
const holds = (condition: Condition, acceptLanguage: string, rivals: Condition[] = [condition]) =>
  compileCondition(condition).holds({ query: '', acceptLanguage }, () => rivals)

describe('a language condition', () => {
  it.each([
    [wants('pt'), 'pt', true],
    [wants('pt'), 'pt-PT,pt;q=0.9,en;q=0.8', true],
    [wants('PT'), 'pt', true],
    [wants('pt-BR'), 'pt', false],
    [wants('pt'), 'en', false],
    [wants('pt'), '', false],
    [wants('pt'), '*', false],
    [wants('pt'), 'pt;q=0', false],
    [wants('pt'), 'en;q=0.9,pt;q=0.1', true],
    [wants('pt'), 'x'.repeat(20_000), false],
  ])('%j for “%s”: %s', (condition, field, wanted) => expect(holds(condition, field)).toBe(wanted))

  it('holds for the language wanted most of all that rivals name, whatever their order', () => {
    const [pt, en] = [wants('pt'), wants('en')]
    for (const rivals of [
      [pt, en],
      [en, pt],
    ]) {
      expect(holds(en, 'pt-PT,en;q=0.8', rivals)).toBe(false)
      expect(holds(pt, 'pt-PT,en;q=0.8', rivals)).toBe(true)
      expect(holds(en, 'fr,en;q=0.8,pt;q=0.2', rivals)).toBe(true)
    }
  })

  const languages = ['pt', 'en', 'fr']
  const subsets = languages.flatMap((one) => [[one], ...languages.filter((x) => x > one).map((x) => [one, x])])
  it.each(subsets.flatMap((a) => subsets.map((b) => [a, b] as const)))(
    '%j and %j meet and cover as the visitors of one language each tell',
    (a, b) => {
      const [one, other] = [wants(...a), wants(...b)]
      const rivals = [one, other]
      const both = languages.filter((language) => holds(one, language, rivals) && holds(other, language, rivals))
      expect(conditionsMeet(one, other)).toBe(both.length > 0)
      const inner = languages.filter((language) => holds(other, language, rivals))
      expect(conditionCovers(one, other)).toBe(inner.every((language) => holds(one, language, rivals)))
      if (both.length > 0) {
        const { acceptLanguage } = exampleVisitor(one, other)
        expect(both).toContain(acceptLanguage)
      }
    },
  )

  it('is read, told and compared', () => {
    const read = (part: unknown) => conditionSchema.safeParse([part])
    expect(read({ kind: 'language', languages: ['pt', 'pt-BR'] }).success).toBe(true)
    for (const languages of [[], ['portuguese'], ['p'], ['pt_BR'], Array(31).fill('pt')])
      expect(read({ kind: 'language', languages }).success, String(languages)).toBe(false)
    expect(read({ kind: 'colour' }).success).toBe(false)
    expect(conditionSchema.safeParse([...wants('pt'), ...wants('en')]).error?.issues[0]!.message).toContain('one thing')
    expect(conditionWords(wants('pt', 'en'))).toBe('the visitor wants pt or en most')
    expect(conditionFingerprint(wants('PT', 'en'))).toBe(conditionFingerprint(wants('en', 'pt')))
    expect(conditionFingerprint(wants('pt'))).not.toBe(conditionFingerprint(wants('en')))
    expect(conditionVaries(wants('pt'))).toBe(true)
    expect(conditionVaries([{ kind: 'query', mode: 'contains', text: 'a' }])).toBe(false)
  })
})

describe('rules with languages in the table', () => {
  const tableOf = (...rules: Partial<RuleRow>[]) =>
    compile(
      [domainRow({ capitalsMatter: false })],
      [],
      1,
      rules.map((rule, index) => ruleRow({ id: index + 1, position: index + 1, pattern: '/tickets', ...rule })),
    )
  const get = (table: ReturnType<typeof tableOf>, acceptLanguage: string, target = '/tickets') =>
    answer(table, { method: 'GET', host: 'ansl.example', target, visitor: { acceptLanguage } }, 0)
  const table = tableOf(
    { condition: wants('en'), destination: 'https://en.example/' },
    { condition: wants('pt'), destination: 'https://pt.example/' },
    { pattern: '/other', condition: wants('fr'), destination: 'https://fr.example/' },
    { destination: 'https://any.example/', status: 301 },
  )

  it.each([
    ['pt-PT,en;q=0.8', 'https://pt.example/'],
    ['en;q=0.8,pt;q=0.7', 'https://en.example/'],
    // What a rule of other addresses names is nothing to this one.
    ['fr,pt;q=0.5', 'https://pt.example/'],
    ['de', 'https://any.example/'],
    ['', 'https://any.example/'],
  ])('“%s” is led to %s', (field, location) => {
    const given = get(table, field)
    expect(given.location).toBe(location)
    // The answer is this visitor's alone, also where no language decided it.
    expect(headersOf(given).join(' ')).toContain('Vary Accept-Language')
    expect(given.cacheControl).toBe('no-store')
  })

  it('leave other addresses without Vary', () => {
    expect(get(table, 'pt', '/nothing').vary).toBeNull()
    expect(get(tableOf({ condition: [] }), 'pt').vary).toBeNull()
  })

  it('are explained', () => {
    const { steps, headers } = explain(
      table,
      { method: 'GET', host: 'ansl.example', target: '/tickets', visitor: { acceptLanguage: 'pt' } },
      0,
    )
    expect(steps.find(({ name }) => name === 'Found')!.sentence).toBe(
      'No link has it; this is the first rule that takes it, because the visitor wants pt most.',
    )
    expect(headers).toContain('Vary')
  })
})
