import { z } from 'zod'
import { problem } from '../../core/schemas'
import type { Operation } from '../contract/operation'
import { EXAMPLES, type Example } from '../contract/examples'
import { operations } from '../contract/operations'
import { pagingQuery } from '../http/paging'
import { withComponents } from './components'
import { ONCE_KEPT_HOURS } from '../usecases/requests/once-keys'

const json = (schema: z.ZodType, io: 'input' | 'output', example?: unknown) => ({
  'application/json': {
    schema: z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' }),
    ...(example !== undefined && { example }),
  },
})
const text = (types: readonly string[], example?: string) =>
  Object.fromEntries(
    types.map((type, place) => [
      type,
      { schema: { type: 'string' }, ...(place === 0 && example !== undefined && { example }) },
    ]),
  )

/** Parameters of a path, with the value each has in the example. */
function pathParameters(path: string, { id, n, word }: Example): object[] {
  const values = { id, n, remedy: word, format: word }
  return Object.entries(values)
    .filter(([name]) => path.includes(`{${name}}`))
    .map(([name, example]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: name === 'id' || name === 'n' ? 'integer' : 'string' },
      ...(example !== undefined && { example }),
    }))
}

function parameters(operation: Operation, example: Example): object[] {
  const found: object[] = pathParameters(operation.path, example)
  for (const query of [operation.query, operation.paged && pagingQuery]) {
    if (!query) continue
    const { properties = {}, required = [] } = z.toJSONSchema(query, { io: 'input', unrepresentable: 'any' }) as {
      properties?: object
      required?: string[]
    }
    for (const [name, schema] of Object.entries(properties))
      found.push({
        name,
        in: 'query',
        required: required.includes(name),
        schema,
        ...(example.query?.[name] !== undefined && { example: example.query[name] }),
      })
  }
  if (operation.ifMatch)
    found.push({
      name: 'If-Match',
      in: 'header',
      required: true,
      description: 'The entity tag it was read with (RFC 9110 §13.1.1).',
      schema: { type: 'string' },
      example: '"1"',
    })
  if (operation.once)
    found.push({
      name: 'Idempotency-Key',
      in: 'header',
      required: false,
      description:
        `A quoted string of your own: sent again with it within ${ONCE_KEPT_HOURS} hours, the request is carried out ` +
        'once, and answered as the first time (draft-ietf-httpapi-idempotency-key-header).',
      schema: { type: 'string' },
      example: '"8e03978e-40d5-43dd-bc93-6894a57f9324"',
    })
  return found
}

/** What a request sends, as the document tells it. */
function requestBody({ body, bodyTold, text: texts }: Operation, example: Example): object {
  if (texts) return { requestBody: { required: true, content: text(texts.types, example.text) } }
  return body ? { requestBody: { required: true, content: json(bodyTold ?? body, 'input', example.body) } } : {}
}

/** The OpenAPI 3.1 document of the API, made from the same schemas that the routes validate with. */
export function openApiDocument(version: string): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const [operationId, operation] of Object.entries(operations) as [string, Operation][]) {
    const example = EXAMPLES[operationId as keyof typeof operations] ?? {}
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
      parameters: parameters(operation, example),
      ...requestBody(operation, example),
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
  const told = withComponents(paths)
  return {
    openapi: '3.1.1',
    info: { title: 'Fides', version, license: { name: 'MIT', identifier: 'MIT' } },
    servers: [{ url: '/api/v1' }],
    paths: told.paths,
    components: {
      schemas: told.schemas,
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: '__Host-fides' },
        token: { type: 'http', scheme: 'bearer' },
      },
    },
  }
}
