/** One line of the table: what Fides said in a scenario, and what the servers were seen to do. */
export interface Row {
  scenario: string
  /** Who served: a maker's name, or our stand-ins. */
  world: string
  says: string
  does: string
  verdict: 'true' | 'false' | 'early' | 'late'
  /** How much early or late, in seconds. */
  by?: number
}

const rows: Row[] = []

/** Notes a line; gives whether what was said held. */
export function note(row: Row): boolean {
  rows.push(row)
  return row.verdict !== 'false' && row.verdict !== 'early'
}

/** All lines as a table, and how they came out. */
export function writeTable(all = process.env.FIDES_NAMES_TABLE === 'all'): string {
  const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text)
  const lines = rows
    .filter(({ verdict }) => all || verdict !== 'true')
    .map(({ scenario, world, says, does, verdict, by }) =>
      [
        scenario,
        world,
        cut(says, 100),
        cut(does, 60),
        by === undefined ? verdict : `${verdict} ${by.toFixed(1)} s`,
      ].join(' | '),
    )
  const count = (verdict: Row['verdict']) => rows.filter((row) => row.verdict === verdict).length
  const late = Math.max(0, ...rows.flatMap(({ verdict, by }) => (verdict === 'late' ? [by ?? 0] : [])))
  return [
    ...lines,
    `${new Set(rows.map(({ scenario }) => scenario)).size} scenarios, ${rows.length} statements: ` +
      `${count('true')} true, ` +
      `${count('false')} false, ${count('early')} early, ${count('late')} late (at most by ${late.toFixed(1)} s)`,
  ].join('\n')
}
