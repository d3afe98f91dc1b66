import type { z } from 'zod'
import { problem } from '../../core/schemas'
import type { Operation } from '../contract/operation'
import { EXAMPLES, type Example } from '../contract/examples'
import { operations } from '../contract/operations'
import { pagingQuery } from '../http/paging'
import { makeComponents } from './components'
import { ONCE_KEPT_HOURS } from '../usecases/requests/once-keys'

type Components = ReturnType<typeof makeComponents>

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

function parameters(operation: Operation, example: Example, { whole }: Components): object[] {
  const found: object[] = pathParameters(operation.path, example)
  for (const query of [operation.query, operation.paged && pagingQuery]) {
    if (!query) continue
    const { properties = {}, required = [] } = whole(query, 'input') as { properties?: object; required?: string[] }
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
        `A quoted string that you choose. Sent again with it within ${ONCE_KEPT_HOURS} hours, the request is carried ` +
        'out once and answered as the first time (draft-ietf-httpapi-idempotency-key-header).',
      schema: { type: 'string' },
      example: '"8e03978e-40d5-43dd-bc93-6894a57f9324"',
    })
  return found
}

/** What a request sends, as the document tells it. */
function requestBody({ body, bodyTold, text: texts }: Operation, example: Example, { refer }: Components): object {
  if (texts) return { requestBody: { required: true, content: text(texts.types, example.text) } }
  if (!body) return {}
  const schema = refer(bodyTold ?? body, 'input')
  const content = { 'application/json': { schema, ...(example.body !== undefined && { example: example.body }) } }
  return { requestBody: { required: true, content } }
}

/** Who may ask. */
function whoOf({ role, person }: Operation): string {
  if (role === 'stranger') return 'Open to anyone.'
  const needs = `Needs the role ${role} or one above it.`
  if (!person) return needs
  const fresh = person === 'fresh' ? ', who just proved who they are' : ''
  return `${needs} A person who signed in asks this${fresh}; no token may.`
}

/** What of the schemas is told where. */
function componentsOf(all: readonly Operation[]): Components {
  const given = (found: readonly (z.ZodType | undefined)[]) => found.filter((schema) => schema !== undefined)
  return makeComponents(
    [pagingQuery, ...given(all.flatMap(({ query, body, bodyTold }) => [query, bodyTold ?? body]))],
    given(all.map(({ answer }) => answer)),
  )
}

/** The OpenAPI 3.1 document of the API, made from the same schemas that the routes validate with. */
export function openApiDocument(version: string): object {
  const all = Object.entries(operations) as [keyof typeof operations, Operation][]
  const components = componentsOf(all.map(([, operation]) => operation))
  const refused = {
    description: 'A problem (RFC 9457).',
    content: { 'application/problem+json': { schema: components.refer(problem, 'output') } },
  }
  const paths: Record<string, Record<string, object>> = {}
  for (const [operationId, operation] of all) {
    const { role, person, answer, answers, status, summary } = operation
    const example = EXAMPLES[operationId] ?? {}
    const success = {
      description: 'Done.',
      ...(answer && { content: { 'application/json': { schema: components.refer(answer, 'output') } } }),
      ...(answers && { content: text([answers]) }),
    }
    ;(paths[operation.path] ??= {})[operation.method.toLowerCase()] = {
      operationId,
      summary,
      description: whoOf(operation),
      parameters: parameters(operation, example, components),
      ...requestBody(operation, example, components),
      responses: { [status]: success, default: refused },
      security: role === 'stranger' ? [] : [{ session: [] }, ...(person ? [] : [{ token: [] }])],
    }
  }
  return {
    openapi: '3.1.1',
    info: { title: 'Fides', version, license: { name: 'MIT', identifier: 'MIT' } },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
      schemas: components.used(),
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: '__Host-fides' },
        token: { type: 'http', scheme: 'bearer' },
      },
    },
  }
}
