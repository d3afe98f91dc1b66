import { z } from 'zod'
import * as schemas from '../../core/schemas'

type Json = null | boolean | number | string | Json[] | { [key: string]: Json }

/** Schemas shorter than this are told where they stand. */
const SHORT = 120

const nameOf = (key: string) => key[0]!.toUpperCase() + key.slice(1)

/** The schemas that have a name in the contract, by their own text; read and written ones may differ. */
function named(): Map<string, string> {
  const names = new Map<string, string>()
  for (const [key, schema] of Object.entries(schemas)) {
    if (!(schema instanceof z.ZodType)) continue
    for (const io of ['output', 'input'] as const) {
      const { $schema: _, ...json } = z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' })
      const text = JSON.stringify(json)
      const name = nameOf(key)
      if (text.length < SHORT || names.has(text)) continue
      names.set(text, [...names.values()].includes(name) ? `${name}Sent` : name)
    }
  }
  return names
}

/**
 * Puts each schema of the contract into the document once, under its name, with references to it elsewhere
 * (OpenAPI 3.1 §4.8.7).
 */
export function withComponents(paths: object): { paths: object; schemas: Record<string, Json> } {
  const names = named()
  const used: Record<string, Json> = {}
  const replace = (value: Json): Json => {
    if (Array.isArray(value)) return value.map(replace)
    if (value === null || typeof value !== 'object') return value
    const { $schema: _, ...rest } = value
    const name = names.get(JSON.stringify(rest))
    if (name !== undefined) {
      if (!(name in used)) {
        used[name] = null
        used[name] = inside(rest)
      }
      return { $ref: `#/components/schemas/${name}` }
    }
    return inside(rest)
  }
  const inside = (value: { [key: string]: Json }): Json =>
    Object.fromEntries(Object.entries(value).map(([key, part]) => [key, key === 'example' ? part : replace(part)]))
  const done = replace(JSON.parse(JSON.stringify(paths)) as Json)
  return { paths: done as object, schemas: used }
}
