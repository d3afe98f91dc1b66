/** A schema as the document tells it (JSON Schema 2020-12), as far as it is shown. */
export interface Schema {
  $ref?: string
  type?: string | string[]
  enum?: unknown[]
  const?: unknown
  items?: Schema
  anyOf?: Schema[]
  oneOf?: Schema[]
  properties?: Record<string, Schema>
  required?: string[]
  default?: unknown
  maxLength?: number
  minimum?: number
  maximum?: number
  maxItems?: number
}
interface Content {
  schema?: Schema
  example?: unknown
}
interface Parameter {
  name: string
  in: 'path' | 'query' | 'header'
  required: boolean
  description?: string
  schema: Schema
  example?: unknown
}
interface DocumentOperation {
  operationId: string
  summary: string
  description: string
  parameters: Parameter[]
  requestBody?: { content: Record<string, Content> }
  responses: Record<string, { content?: Record<string, Content> }>
}
export interface ApiDocument {
  paths: Record<string, Record<string, DocumentOperation>>
  components: { schemas: Record<string, Schema> }
}

export interface Field {
  name: string
  /** Where it stands: in the path, the query, a header, or the body. */
  where: string
  required: boolean
  words: string
  note: string
}
export interface ReferenceOperation {
  id: string
  method: string
  path: string
  summary: string
  who: string
  fields: Field[]
  /** What comes back: a status, and fields where it is JSON. */
  status: string
  answers: Field[]
  type: string
  example: string
}
export interface ReferenceGroup {
  name: string
  operations: ReferenceOperation[]
}

const nameOf = (ref: string) => ref.split('/').at(-1)!
type Components = ApiDocument['components']

/** A schema itself where it stands for a value, under whatever name: only things of several fields keep theirs. */
function plain(schema: Schema, components: Components): Schema {
  const named = schema.$ref === undefined ? undefined : components.schemas[nameOf(schema.$ref)]
  return named && !named.properties ? { ...plain(named, components), default: schema.default ?? named.default } : schema
}

/** What a value is, in words. */
export function wordsOf(given: Schema, components: Components): string {
  const schema = plain(given, components)
  const words = (one: Schema) => wordsOf(one, components)
  if (schema.$ref) return nameOf(schema.$ref).replace(/Input$/, '')
  if (schema.const !== undefined) return JSON.stringify(schema.const)
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(' or ')
  const several = schema.anyOf ?? schema.oneOf
  if (several) return [...new Set(several.map(words))].join(' or ')
  const types = [schema.type ?? []].flat()
  if (types.includes('array') && schema.items) return `list of ${words(schema.items)}`
  return types.join(' or ') || 'anything'
}

/** Whether there is a usual value worth telling: nothing at all goes without saying. */
const hasUsual = (value: unknown) => value !== undefined && !['null', '""', '[]', '{}'].includes(JSON.stringify(value))

function noteOf(given: Schema, components: Components): string {
  const schema = plain(given, components)
  const notes = [
    hasUsual(schema.default) && `${JSON.stringify(schema.default)} where not said`,
    schema.maxLength !== undefined && `at most ${schema.maxLength.toLocaleString('en')} characters`,
    schema.maxItems !== undefined && `at most ${schema.maxItems.toLocaleString('en')}`,
    // What JSON can hold anyway is no bound worth telling.
    schema.maximum !== undefined &&
      schema.maximum < Number.MAX_SAFE_INTEGER &&
      `${schema.minimum ?? 0} to ${schema.maximum.toLocaleString('en')}`,
  ]
  return notes.filter(Boolean).join(', ')
}

function fieldsOf(schema: Schema | undefined, where: string, { components }: ApiDocument): Field[] {
  const whole = schema?.$ref ? components.schemas[nameOf(schema.$ref)] : schema
  return Object.entries(whole?.properties ?? {}).map(([name, property]) => ({
    name,
    where,
    required: whole!.required?.includes(name) ?? false,
    words: wordsOf(property, components),
    note: noteOf(property, components),
  }))
}

const quoted = (text: string) => `'${text.replaceAll("'", "'\\''")}'`

/** The example of an operation as a line for a shell. */
function curlOf(path: string, method: string, { parameters, requestBody }: DocumentOperation, desk: string): string {
  const valueOf = (name: string) => parameters.find((one) => one.in === 'path' && one.name === name)?.example
  const filled = path.replace(/\{(\w+)\}/g, (whole, name: string) => String(valueOf(name) ?? whole))
  const query = new URLSearchParams(
    parameters.flatMap(({ in: where, name, example }) =>
      where === 'query' && example !== undefined ? [[name, String(example)]] : [],
    ),
  ).toString()
  const lines = [
    `curl ${method === 'GET' ? '' : `-X ${method} `}${quoted(`${desk}/api/v1${filled}${query && `?${query}`}`)}`,
    '-H "Authorization: Bearer $TOKEN"',
  ]
  if (parameters.some(({ name }) => name === 'If-Match')) lines.push(`-H 'If-Match: "1"'`)
  const [type, content] = Object.entries(requestBody?.content ?? {})[0] ?? []
  if (type && content?.example !== undefined) {
    const body = typeof content.example === 'string' ? content.example : JSON.stringify(content.example)
    lines.push(`-H 'Content-Type: ${type}'`, `--data-binary ${quoted(body)}`)
  }
  return lines.join(' \\\n  ')
}

/** The document as it is read: operations by what they are about, each with its fields and an example. */
export function readDocument(document: ApiDocument, desk: string): ReferenceGroup[] {
  const groups = new Map<string, ReferenceOperation[]>()
  for (const [path, methods] of Object.entries(document.paths))
    for (const [key, operation] of Object.entries(methods)) {
      const method = key.toUpperCase()
      const [sent] = Object.entries(operation.requestBody?.content ?? {})
      const [status, answer] = Object.entries(operation.responses).find(([code]) => code !== 'default') ?? ['', {}]
      const [type, content] = Object.entries(answer.content ?? {})[0] ?? ['', undefined]
      const isText = sent !== undefined && sent[0] !== 'application/json'
      const group = path.split('/')[1]!.replace(/\..*/, '')
      groups.set(group, [
        ...(groups.get(group) ?? []),
        {
          id: operation.operationId,
          method,
          path,
          summary: operation.summary,
          who: operation.description,
          fields: [
            ...operation.parameters.map(({ name, in: where, required, schema, description }) => ({
              name,
              where,
              required,
              words: wordsOf(schema, document.components),
              note: description ?? noteOf(schema, document.components),
            })),
            ...(isText
              ? [
                  {
                    name: 'body',
                    where: 'body',
                    required: true,
                    words: Object.keys(operation.requestBody!.content).join(', '),
                    note: '',
                  },
                ]
              : fieldsOf(sent?.[1].schema, 'body', document)),
          ],
          status,
          answers: fieldsOf(content?.schema, 'answer', document),
          type,
          example: curlOf(path, method, operation, desk),
        },
      ])
    }
  return [...groups].map(([name, operations]) => ({ name, operations })).sort((a, b) => a.name.localeCompare(b.name))
}
