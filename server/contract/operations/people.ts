import { z } from 'zod'
import * as schema from '../../../core/schemas'
import { operation } from '../operation'
import { list } from './shapes'

/** Operations of members, sessions and tokens, by name. */
export const people = {
  signIn: operation({
    method: 'POST',
    path: '/session',
    summary: 'Sign in with e-mail address and password; sets the session cookie.',
    role: 'stranger',
    body: schema.signIn,
    answer: schema.session,
    status: 200,
  }),
  readSession: operation({
    method: 'GET',
    path: '/session',
    summary: 'Who is signed in.',
    role: 'viewer',
    answer: schema.session,
    status: 200,
  }),
  signOut: operation({ method: 'DELETE', path: '/session', summary: 'Sign out.', role: 'stranger', status: 204 }),
  setUp: operation({
    method: 'POST',
    path: '/setup',
    summary: 'Make the organisation and its first administrator with the one-time ticket.',
    role: 'stranger',
    body: schema.setup,
    answer: schema.session,
    status: 201,
  }),
  listMembers: operation({
    method: 'GET',
    path: '/members',
    summary: 'All members.',
    role: 'administrator',
    answer: list(schema.member),
    status: 200,
  }),
  createMember: operation({
    method: 'POST',
    path: '/members',
    summary: 'Add a member.',
    role: 'administrator',
    body: schema.memberCreate,
    answer: schema.member,
    status: 201,
  }),
  changeMember: operation({
    method: 'PATCH',
    path: '/members/{id}',
    summary: 'Change a member.',
    role: 'administrator',
    body: schema.memberPatch,
    answer: schema.member,
    status: 200,
    ifMatch: true,
  }),
  listTokens: operation({
    method: 'GET',
    path: '/tokens',
    summary: 'Your own API tokens.',
    role: 'viewer',
    answer: list(schema.token),
    status: 200,
  }),
  createToken: operation({
    method: 'POST',
    path: '/tokens',
    summary: 'Make an API token; its secret is told once.',
    role: 'viewer',
    body: schema.tokenCreate,
    answer: schema.token.extend({ secret: z.string() }),
    status: 201,
  }),
  revokeToken: operation({
    method: 'DELETE',
    path: '/tokens/{id}',
    summary: 'Revoke one of your API tokens.',
    role: 'viewer',
    status: 204,
  }),
}
