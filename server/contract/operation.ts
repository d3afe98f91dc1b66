import type { z } from 'zod'
import type { Role } from '../../core/schemas'

/** One operation of the API: what a route accepts, who may call it, what it answers. OpenAPI is made from these. */
export interface Operation<Query extends z.ZodType = z.ZodType, Body extends z.ZodType = z.ZodType> {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'
  /** Path below /api/v1, with `{id}` and `{n}` for numbers, `{remedy}` and `{format}` for a word. */
  path: string
  summary: string
  /** The least role that may call it; `stranger` needs no sign-in. */
  role: Role | 'stranger'
  query?: Query
  body?: Body
  /** What the document says of the body, where its parts are judged one by one. */
  bodyTold?: z.ZodType
  /** The body is text of one of these media types instead of JSON; at most so many octets are read. */
  text?: { types: readonly string[]; most: number }
  /** The body of a success; none for 204. */
  answer?: z.ZodType
  /** The media type of a success that is not JSON. */
  answers?: string
  status: 200 | 201 | 202 | 204
  /** Needs If-Match with the entity tag the thing was read under (RFC 9110 §13.1.1); `applied`: not for a dry run. */
  ifMatch?: true | 'applied'
  /** Needs a person, not a token. `fresh`: who sits there proved who they are within a quarter of an hour. */
  person?: true | 'fresh'
  /** May be called from outside our own pages, as by a mail program: it goes by a key of its own, not by a session. */
  foreign?: true
  /** Repeated with the same Idempotency-Key, it is done once. */
  once?: true
  /** A list that is returned whole, or in pages if pages are requested. */
  paged?: true
  /** How a token that is limited to domains may call it; without this it may not. */
  limited?: Limited
}

/**
 * Which domain an operation touches: that of the link of the path, the host named in the query or body as `domain`,
 * that of the query’s `address`, those of each row of the body, or none at all.
 */
export type Limited = 'link' | 'query' | 'address' | 'body' | 'rows' | 'nothing'

/** Keeps an operation's exact types. */
export const operation = <Query extends z.ZodType = z.ZodType, Body extends z.ZodType = z.ZodType>(
  input: Operation<Query, Body>,
) => input
