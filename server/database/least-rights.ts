/**
 * What the processes that face strangers may do in the database, table by table, and nothing else. A process that is
 * taken over can then read links and add visits, but neither members nor the ledger's past.
 */
export const MIN_RIGHTS = {
  gateway: {
    domain: ['SELECT'],
    link: ['SELECT'],
    rule: ['SELECT'],
    organisation: ['SELECT'],
    ledger_entry: ['SELECT'],
    ledger_entry_link: ['SELECT'],
    visitor_key: ['SELECT', 'INSERT'],
  },
  shipper: {
    organisation: ['SELECT'],
    visit_batch: ['SELECT', 'INSERT'],
    visit_part: ['INSERT'],
    presence: ['SELECT', 'INSERT'],
    visit_day: ['SELECT', 'INSERT', 'UPDATE'],
    rule_day: ['SELECT', 'INSERT', 'UPDATE'],
    stray_day: ['SELECT', 'INSERT', 'UPDATE'],
    miss_event: ['INSERT'],
    miss_cut: ['SELECT', 'INSERT', 'UPDATE'],
    process_sign: ['SELECT', 'INSERT', 'UPDATE'],
  },
} as const satisfies Record<string, Record<string, readonly ('SELECT' | 'INSERT' | 'UPDATE' | 'DELETE')[]>>

export type LeastUser = keyof typeof MIN_RIGHTS

/** The statements that give one user just that, in a database by name; rights given before are taken back first. */
export const grantStatements = (user: LeastUser, account: string, database: string): string[] => [
  `REVOKE ALL PRIVILEGES, GRANT OPTION FROM ${account}`,
  ...Object.entries(MIN_RIGHTS[user]).map(
    ([table, rights]) => `GRANT ${rights.join(', ')} ON \`${database}\`.\`${table}\` TO ${account}`,
  ),
]

/** Of what SHOW GRANTS says of a user, the lines that give more than it needs. */
export function beyondLeast(user: LeastUser, grants: readonly string[]): string[] {
  const needed: Record<string, readonly string[]> = MIN_RIGHTS[user]
  return grants.filter((grant) => {
    // USAGE is the right to sign in, and none besides.
    if (grant.startsWith('GRANT USAGE ON ')) return false
    const [, rights, table] = /^GRANT (.+?) ON `[^`]+`\.`(\w+)` /.exec(grant) ?? []
    return rights === undefined || !rights.split(', ').every((right) => needed[table!]?.includes(right))
  })
}
