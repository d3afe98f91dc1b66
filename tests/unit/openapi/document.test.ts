import { existsSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { Operation } from '../../../server/contract/operation'
import { operations } from '../../../server/contract/operations'
import { openApiDocument } from '../../../server/openapi/document'

const document = openApiDocument('0.1.0') as {
  paths: Record<
    string,
    Record<
      string,
      {
        operationId: string
        responses: object
        requestBody?: { content: Record<string, { schema: { properties: object } }> }
      }
    >
  >
}

describe('the OpenAPI document', () => {
  it('holds every operation once', () => {
    const ids = Object.values(document.paths).flatMap((path) =>
      Object.values(path).map((operation) => operation.operationId),
    )
    expect(ids.sort()).toEqual(Object.keys(operations).sort())
  })
  it('is made of the schemas the routes validate with', () => {
    const body = document.paths['/links']!.post!.requestBody!.content['application/json']!.schema
    expect(Object.keys(body.properties)).toEqual(
      expect.arrayContaining(['domain', 'slug', 'destination', 'status', 'queryConflict', 'tags']),
    )
  })
  it('survives JSON', () => expect(JSON.parse(JSON.stringify(document))).toEqual(document))
  it('names only operations that have a route file', () => {
    for (const { method, path } of Object.values(operations) as Operation[]) {
      const base = `server/api/v1${path.replace(/\{(\w+)\}/g, '[$1]')}`
      expect(
        [`${base}.${method.toLowerCase()}.ts`, `${base}/index.${method.toLowerCase()}.ts`].some((file) =>
          existsSync(file),
        ),
        `${method} ${path}`,
      ).toBe(true)
    }
  })
})
