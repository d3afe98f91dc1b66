import { describe, expect, it } from 'vitest'
import {
  compileCondition,
  conditionCovers,
  conditionsMeet,
  exampleVisitor,
  type Condition,
} from '../../../core/conditions'

const ignore: Condition = []
const contains = (text: string): Condition => [{ kind: 'query', mode: 'contains', text }]
const exactly = (text: string): Condition => [{ kind: 'query', mode: 'exactly', text }]
const satisfies = (query: string, condition: Condition) =>
  compileCondition(condition).holds({ query, acceptLanguage: '' }, () => [condition])

describe('query conditions', () => {
  it.each([
    [ignore, 'a=1', true],
    [contains('a=1'), 'b=2&a=1', true],
    [contains('a=1'), 'a=2', false],
    [contains('a'), 'a=2', true],
    [contains('a&a=1'), 'a=1', false],
    [contains('a&a=1'), 'a=1&a=9', true],
    [exactly('a=1&b=2'), 'b=2&a=1', true],
    [exactly('a=1'), 'a=1&b=2', false],
    [exactly(''), '', true],
    [exactly(''), 'x', false],
    [exactly('a'), 'a', true],
    [contains('%61=%31'), 'a=1', true],
    [contains('a=%zz'), 'a=%zz', true],
  ])('%j and %s: %s', (condition, query, holds) => expect(satisfies(query, condition)).toBe(holds))

  it('cover and meet as counting out all small queries tells', () => {
    const pieces = ['a=1', 'a=2', 'b=1']
    const queries = [
      '',
      ...pieces,
      ...pieces.flatMap((x) => pieces.map((y) => `${x}&${y}`)),
      ...pieces.flatMap((x) => pieces.flatMap((y) => pieces.map((z) => `${x}&${y}&${z}`))),
    ]
    const texts = ['', 'a=1', 'a=2', 'a', 'a=1&b=1', 'a&b', 'a&a=1', 'a=1&a=2']
    const conditions = [ignore, ...texts.map(contains), ...texts.map(exactly)]
    for (const one of conditions) {
      for (const other of conditions) {
        const both = queries.filter((query) => satisfies(query, one) && satisfies(query, other))
        const label = `${JSON.stringify(one)} ${JSON.stringify(other)}`
        // Small queries show every meeting but those that need four parameters.
        if (both.length > 0) expect(conditionsMeet(one, other), label).toBe(true)
        if (conditionCovers(one, other))
          expect(
            queries.filter((query) => satisfies(query, other)).every((query) => satisfies(query, one)),
            label,
          ).toBe(true)
        if (conditionsMeet(one, other)) {
          const shown = exampleVisitor(one, other).query
          expect(satisfies(shown, one) && satisfies(shown, other), `${label} by ${shown}`).toBe(true)
        }
      }
    }
  })
})
