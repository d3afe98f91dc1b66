import { z } from 'zod'
import * as schemas from '../../core/schemas'

type Side = 'input' | 'output'
export type Json = Record<string, unknown>

const REF = '#/components/schemas/'

/** What a schema of the contract is called: as it is read it may look otherwise than as it is sent. */
const nameOf = (key: string, side: Side) => key[0]!.toUpperCase() + key.slice(1) + (side === 'input' ? 'Input' : '')

/** Schemas by their ids, and those of the contract under their names, referred to by each other. */
function convert(others: readonly z.ZodType[], side: Side): { ids: z.core.$ZodRegistry<{ id: string }>; told: Json } {
  const ids = z.registry<{ id: string }>()
  for (const [key, schema] of Object.entries(schemas))
    if (schema instanceof z.ZodType) ids.add(schema, { id: nameOf(key, side) })
  for (const [at, schema] of others.entries()) if (!ids.has(schema)) ids.add(schema, { id: `other ${at}` })
  const { schemas: told } = z.toJSONSchema(ids, { io: side, unrepresentable: 'any', uri: (id) => REF + id })
  return { ids, told }
}

/**
 * Tells schemas as the document does: those of the contract once, under their names, with references to them
 * (OpenAPI 3.1 §4.8.7). `sent` and `answered` are all that will be asked for.
 */
export function makeComponents(sent: readonly z.ZodType[], answered: readonly z.ZodType[]) {
  const sides = { input: convert(sent, 'input'), output: convert(answered, 'output') }
  const used = new Map<string, Json>()

  function whole(schema: z.ZodType, side: Side): Json {
    const { ids, told } = sides[side]
    return take(told[ids.get(schema)!.id] as Json, side)
  }
  /** A schema without what it says of itself; notes what it refers to. */
  function take({ $schema: _schema, $id: _id, ...json }: Json, side: Side): Json {
    for (const [, name] of JSON.stringify(json).matchAll(/"\$ref":"#\/components\/schemas\/([^"]+)"/g)) use(name!, side)
    return json
  }
  function use(name: string, side: Side): void {
    if (used.has(name)) return
    used.set(name, {})
    used.set(name, take(sides[side].told[name] as Json, side))
  }
  return {
    whole,
    /** A reference to a schema with a name, or all of one without. */
    refer(schema: z.ZodType, side: Side): Json {
      const { id } = sides[side].ids.get(schema)!
      if (id.startsWith('other ')) return whole(schema, side)
      use(id, side)
      return { $ref: REF + id }
    },
    used: (): Json => Object.fromEntries(used),
  }
}
