import { existsSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { clientTypes } from '../../../scripts/client-types'
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
        requestBody?: { content: Record<string, { schema: { $ref: string } }> }
      }
    >
  >
  components: { schemas: Record<string, { properties: object }> }
}

describe('the OpenAPI document', () => {
  it('holds every operation once', () => {
    const ids = Object.values(document.paths).flatMap((path) =>
      Object.values(path).map((operation) => operation.operationId),
    )
    expect(ids.sort()).toEqual(Object.keys(operations).sort())
  })
  it('is made of the schemas the routes validate with', () => {
    const { $ref } = document.paths['/links']!.post!.requestBody!.content['application/json']!.schema
    const body = document.components.schemas[$ref.split('/').at(-1)!]!
    expect(Object.keys(body.properties)).toEqual(
      expect.arrayContaining(['domain', 'slug', 'destination', 'status', 'queryConflict', 'tags']),
    )
  })
  it('takes an Idempotency-Key where it says so, and pages every list', () => {
    for (const [name, operation] of Object.entries(operations) as [string, Operation][]) {
      if (operation.once) expect(operation.method, name).toBe('POST')
      const cursor = 'cursor' in ((operation.query as { shape?: object } | undefined)?.shape ?? {})
      const answer = operation.answer as { shape?: Record<string, unknown> } | undefined
      if (answer?.shape?.items && answer.shape.next) expect(cursor || operation.paged === true, name).toBe(true)
    }
  })
  it('is what the typed client was made of', async () => {
    expect(readFileSync('client/api.ts', 'utf8') === (await clientTypes()), 'run npm run client').toBe(true)
  })
  it('refers to schemas that are there', () => {
    const text = JSON.stringify(document)
    const { schemas } = document.components
    for (const [, name] of text.matchAll(/"#\/components\/schemas\/(\w+)"/g)) expect(schemas).toHaveProperty(name!)
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
