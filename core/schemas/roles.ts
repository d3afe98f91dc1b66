// Apart from the schemas, so that a page which only asks who may do what need not load them.

export const ROLES = ['administrator', 'editor', 'viewer'] as const
export type Role = (typeof ROLES)[number]

/** Whether a role may do what needs `needed`. */
export const mayAct = (role: Role, needed: Role) => ROLES.indexOf(role) <= ROLES.indexOf(needed)

export const TOKEN_SCOPES = ['read', 'write', 'administer'] as const
export type TokenScope = (typeof TOKEN_SCOPES)[number]

/** The role a token of each scope lends at most. */
export const SCOPE_ROLE: Record<TokenScope, Role> = { read: 'viewer', write: 'editor', administer: 'administrator' }
