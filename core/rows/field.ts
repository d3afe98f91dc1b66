import type { z } from 'zod'

/** Who reads a row: the redirect table (and its snapshot), the finders of conflicts, the ledger. */
export type Reader = 'table' | 'survey' | 'ledger'

/** How a column holds a value; models and migrations speak of these. */
export type ColumnType =
  | { as: 'id' | 'reference' | 'status' | 'count' | 'flag' | 'moment' | 'text' | 'json' | 'decimal' }
  | { as: 'string' | 'exact'; length: number }
  | { as: 'enum'; values: readonly string[] }

/**
 * One field of a row, described once. `Kept` is its value in a model, `Read` in a row a computation reads (moments
 * there are milliseconds).
 */
export interface Field<Kept = unknown, Read = Kept, Readers extends Reader = Reader, Schema = unknown> {
  type: ColumnType
  /** Its column, where that is not its name in small letters. */
  column: string | undefined
  nullable: boolean
  readers: readonly Readers[]
  /** A forwarding slug has it from the link it forwards to. */
  answers: boolean
  /** What a new row has where nobody says otherwise. */
  fallback: Kept | undefined
  /** What people may give; only fields that can be edited have one. */
  schema: Schema
  /** From the driver's value or a model's. */
  read(value: unknown): Read
}

export type Fields = Readonly<Record<string, Field<never, unknown, Reader, unknown>>>

/** The names of the fields one reader needs. */
export type NamesFor<F, R extends Reader> = {
  [K in keyof F]: F[K] extends Field<infer _K, infer _R, infer Rs, infer _S> ? (R extends Rs ? K : never) : never
}[keyof F]

/** A row as one reader needs it. */
export type RowOf<F, R extends Reader> = {
  [K in NamesFor<F, R>]: F[K] extends Field<infer _K, infer Read, infer _Rs, infer _S> ? Read : never
}

/** A row as a model holds it. */
export type KeptOf<F> = {
  [K in keyof F]: F[K] extends Field<infer Kept, infer _R, infer _Rs, infer _S> ? Kept : never
}

/** The schemas of the fields that can be edited. */
export type SchemasOf<F> = {
  [K in keyof F as F[K] extends Field<infer _K, infer _R, infer _Rs, z.ZodType> ? K : never]: F[K] extends Field<
    infer _K,
    infer _R,
    infer _Rs,
    infer S
  >
    ? S
    : never
}

interface Options<Kept, Readers extends Reader, Schema> {
  readers?: readonly Readers[]
  column?: string
  answers?: boolean
  fallback?: Kept
  schema?: Schema
}

type Some<Value, Null extends boolean> = Null extends true ? Value | null : Value

const field =
  <Kept, Read>(type: ColumnType, decode: (value: NonNullable<unknown>) => Read) =>
  <Readers extends Reader = never, Schema = undefined>(
    options: Options<Kept, Readers, Schema> = {},
  ): Field<Kept, Read, Readers, Schema> => ({
    type,
    column: options.column,
    nullable: false,
    readers: options.readers ?? [],
    answers: options.answers ?? false,
    fallback: options.fallback,
    schema: options.schema as Schema,
    read: (value) => decode(value as NonNullable<unknown>),
  })

const asNumber = (value: unknown) => Number(value)
const asText = (value: unknown) => value as string
/** A column of JSON comes parsed, or as its text, as the connection has it. */
const asJson = <Value>(value: unknown): Value => (typeof value === 'string' ? JSON.parse(value) : value) as Value

export const id = field<number, number>({ as: 'id' }, asNumber)
export const reference = field<number, number>({ as: 'reference' }, asNumber)
export const count = field<number, number>({ as: 'count' }, asNumber)
/** Money, kept as a decimal and read as a number. */
export const price = field<number | string, number>({ as: 'decimal' }, asNumber)
export const flag = field<boolean, boolean>({ as: 'flag' }, Boolean)
export const moment = field<Date, number>({ as: 'moment' }, (value) => (value as Date).getTime())
export const longText = field<string, string>({ as: 'text' }, asText)
export const text = (length: number) => field<string, string>({ as: 'string', length }, asText)
/** Text that is compared octet for octet. */
export const exactText = (length: number) => field<string, string>({ as: 'exact', length }, asText)
export const status = <Status extends number>() =>
  field<Status, Status>({ as: 'status' }, (value) => Number(value) as Status)
export const oneOf = <const Values extends readonly string[]>(values: Values) =>
  field<Values[number], Values[number]>({ as: 'enum', values }, (value) => value as Values[number])
export const json = <Value>() => field<Value, Value>({ as: 'json' }, asJson<Value>)

/** A field that may be empty. */
export function orNull<Kept, Read, Readers extends Reader, Schema>(
  input: Field<Kept, Read, Readers, Schema>,
): Field<Some<Kept, true>, Some<Read, true>, Readers, Schema> {
  return {
    ...input,
    nullable: true,
    fallback: input.fallback ?? null,
    read: (value) => (value === null || value === undefined ? null : input.read(value)),
  }
}

/** The column of a field. */
export const columnOf = (fields: object, name: string): string =>
  (fields as Fields)[name]!.column ?? name.replace(/[A-Z]|\d+$/g, (found) => '_' + found.toLowerCase())

/** The names of the fields one reader needs, in the order they are described in. */
export const namesFor = <F extends object, R extends Reader>(fields: F, reader: R): (NamesFor<F, R> & string)[] =>
  Object.entries(fields as Fields)
    .filter(([, { readers }]) => readers.includes(reader))
    .map(([name]) => name) as (NamesFor<F, R> & string)[]

/** Makes what reads rows for one reader: from the driver's rows, by column, and from models, by name. */
export function rowReader<F extends object, R extends Reader>(fields: F, reader: R) {
  const all = fields as unknown as Record<string, Field>
  const parts = namesFor(fields, reader).map((name) => ({
    name,
    column: columnOf(fields, name),
    read: all[name]!.read,
  }))
  const reading = (from: 'name' | 'column') => (input: object) => {
    const row: Record<string, unknown> = {}
    for (const part of parts) row[part.name] = part.read((input as Record<string, unknown>)[part[from]])
    return row as RowOf<F, R>
  }
  return {
    columns: parts.map(({ column }) => column),
    fromColumns: reading('column'),
    fromModel: reading('name'),
  }
}

/** What the ledger keeps of a model: all that can be put back, moments as ISO 8601. */
export function stateOf(fields: object, model: object): Record<string, unknown> {
  const all = fields as unknown as Record<string, Field>
  return Object.fromEntries(
    namesFor(fields, 'ledger').map((name) => {
      const { type, read } = all[name]!
      const value = (model as Record<string, unknown>)[name] ?? null
      return [name, value === null ? null : type.as === 'moment' ? (value as Date).toISOString() : read(value)]
    }),
  )
}

/** A row as one reader needs it, of a state as the ledger keeps it and what the ledger does not keep of it. */
export function rowOfState<F extends object, R extends Reader>(fields: F, reader: R, state: object): RowOf<F, R> {
  const all = fields as unknown as Record<string, Field>
  return Object.fromEntries(
    namesFor(fields, reader).map((name) => {
      const value = (state as Record<string, unknown>)[name] ?? all[name]!.fallback ?? null
      const isMoment = all[name]!.type.as === 'moment' && value !== null
      return [name, isMoment ? new Date(value as string).getTime() : value]
    }),
  ) as RowOf<F, R>
}

/** A state's fields as a model takes them; names the fields do not have are left out. */
export function modelValues(fields: object, state: Record<string, unknown>): Record<string, unknown> {
  const all = fields as unknown as Record<string, Field>
  return Object.fromEntries(
    Object.entries(state)
      .filter(([name]) => Object.hasOwn(all, name))
      .map(([name, value]) => [
        name,
        all[name]!.type.as === 'moment' && value !== null ? new Date(value as string) : value,
      ]),
  )
}

/** The schemas of the fields that can be edited, by name. */
export const schemasOf = <F extends object>(fields: F): SchemasOf<F> =>
  Object.fromEntries(
    Object.entries(fields as unknown as Record<string, Field>)
      .filter(([, { schema }]) => schema !== undefined)
      .map(([name, { schema }]) => [name, schema]),
  ) as SchemasOf<F>

type CreatableOf<F, Needed extends keyof SchemasOf<F>> = {
  [K in keyof SchemasOf<F>]: SchemasOf<F>[K] extends z.ZodType
    ? K extends Needed
      ? SchemasOf<F>[K]
      : z.ZodDefault<SchemasOf<F>[K]>
    : never
}

/** The schemas of the fields that can be edited, for something new: all but those needed have their fallback. */
export const creatableOf = <F extends object, Needed extends keyof SchemasOf<F> = never>(
  fields: F,
  needed: readonly Needed[] = [],
): CreatableOf<F, Needed> =>
  Object.fromEntries(
    Object.entries(schemasOf(fields) as Record<string, z.ZodType>).map(([name, schema]) => [
      name,
      (needed as readonly string[]).includes(name)
        ? schema
        : schema.default((fields as unknown as Record<string, Field>)[name]!.fallback as never),
    ]),
  ) as CreatableOf<F, Needed>

/** What a new row has where nobody says otherwise. */
export const fallbacksOf = <F extends object>(fields: F): Partial<KeptOf<F>> =>
  Object.fromEntries(
    Object.entries(fields as unknown as Record<string, Field>)
      .filter(([, { fallback }]) => fallback !== undefined)
      .map(([name, { fallback }]) => [name, fallback]),
  ) as Partial<KeptOf<F>>
