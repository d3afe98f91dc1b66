import { z } from 'zod'
import { problem } from '../../core/schemas'
import type { Operation } from '../contract/operation'
import { operations } from '../contract/operations'

const json = (schema: z.ZodType, io: 'input' | 'output') => ({
  'application/json': { schema: z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' }) },
})
const text = (types: readonly string[]) =>
  Object.fromEntries(types.map((type) => [type, { schema: { type: 'string' } }]))

function parameters(operation: Operation): object[] {
  const found: object[] = []
  for (const name of ['id', 'n'])
    if (operation.path.includes(`{${name}}`))
      found.push({ name, in: 'path', required: true, schema: { type: 'integer' } })
  if (operation.query) {
    const { properties = {}, required = [] } = z.toJSONSchema(operation.query, {
      io: 'input',
      unrepresentable: 'any',
    }) as { properties?: object; required?: string[] }
    for (const [name, schema] of Object.entries(properties))
      found.push({ name, in: 'query', required: required.includes(name), schema })
  }
  if (operation.ifMatch) found.push({ name: 'If-Match', in: 'header', required: true, schema: { type: 'string' } })
  return found
}

/** The OpenAPI 3.1 document of the API, made from the same schemas that the routes validate with. */
export function openApiDocument(version: string): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const [operationId, operation] of Object.entries(operations) as [string, Operation][]) {
    const success = {
      description: 'Done.',
      ...(operation.answer && { content: json(operation.answer, 'output') }),
      ...(operation.answers && { content: text([operation.answers]) }),
    }
    ;(paths[operation.path] ??= {})[operation.method.toLowerCase()] = {
      operationId,
      summary: operation.summary,
      description:
        operation.role === 'stranger' ? 'Open to anyone.' : `Needs the role ${operation.role} or one above it.`,
      parameters: parameters(operation),
      ...(operation.body && { requestBody: { required: true, content: json(operation.body, 'input') } }),
      ...(operation.text && { requestBody: { required: true, content: text(operation.text.types) } }),
      responses: {
        [operation.status]: success,
        default: {
          description: 'A problem (RFC 9457).',
          content: { 'application/problem+json': { schema: z.toJSONSchema(problem) } },
        },
      },
      security: operation.role === 'stranger' ? [] : [{ session: [] }, { token: [] }],
    }
  }
  return {
    openapi: '3.1.1',
    info: { title: 'Fides', version, license: { name: 'MIT', identifier: 'MIT' } },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: '__Host-fides' },
        token: { type: 'http', scheme: 'bearer' },
      },
    },
  }
}
