import { describe, expect, it } from 'vitest'
import { readDocument, wordsOf, type ApiDocument } from '../../../app/composables/reference'
import { operations } from '../../../server/contract/operations'
import { openApiDocument } from '../../../server/openapi/document'

const groups = readDocument(openApiDocument('1') as ApiDocument, 'https://desk.example')
const all = groups.flatMap((group) => group.operations)
const find = (id: string) => all.find((operation) => operation.id === id)!

describe('the reference', () => {
  it('has every operation in a group of its path', () => {
    expect(all.map(({ id }) => id).sort()).toEqual(Object.keys(operations).sort())
    for (const { name, operations: mine } of groups)
      for (const { path } of mine) expect(path.startsWith(`/${name}`), path).toBe(true)
  })
  it('tells fields from the path, the query, headers and the body', () => {
    const fields = find('changeLink').fields.map(({ name, where, required }) => [name, where, required])
    expect(fields).toContainEqual(['id', 'path', true])
    expect(fields).toContainEqual(['If-Match', 'header', true])
    expect(fields).toContainEqual(['title', 'body', false])
    expect(find('listDomains').fields.map(({ name }) => name)).toEqual(expect.arrayContaining(['cursor', 'limit']))
    expect(find('createLink').fields.find(({ name }) => name === 'status')!.words).toBe(
      '301 or 302 or 303 or 307 or 308',
    )
    expect(find('createLink').answers.map(({ name }) => name)).toContain('address')
  })
  it('gives an example a shell can run', () => {
    expect(find('listLinks').example).toBe(
      "curl 'https://desk.example/api/v1/links?domain=ansl.example&sort=address&limit=50' \\\n  " +
        '-H "Authorization: Bearer $TOKEN"',
    )
    expect(find('changeLink').example).toContain(`-X PATCH 'https://desk.example/api/v1/links/1'`)
    expect(find('changeLink').example).toContain(`-H 'If-Match: "1"'`)
  })
  it.each([
    [{ type: ['string', 'null'] }, 'string or null'],
    [{ anyOf: [{ $ref: '#/components/schemas/Thing' }, { type: 'null' }] }, 'Thing or null'],
    [{ anyOf: [{ $ref: '#/components/schemas/Moment' }, { type: 'null' }] }, 'string or null'],
    [{ type: 'array', items: { enum: ['a', 'b'] } }, 'list of "a" or "b"'],
    [{}, 'anything'],
  ])('says %j as %s', (schema, words) => {
    const components = { schemas: { Moment: { type: 'string' }, Thing: { properties: { a: {} } } } }
    expect(wordsOf(schema, components)).toBe(words)
  })
})
