import { randomBytes } from 'node:crypto'
import mariadb, { type ConnectionConfig } from 'mariadb'

/** The secret of a day (YYYY-MM-DD) that all gateways of a database share: whoever asks first makes it. */
export async function agreeVisitorKey(config: ConnectionConfig, day: string): Promise<Buffer> {
  const connection = await mariadb.createConnection(config)
  try {
    await connection.query('INSERT IGNORE INTO visitor_key (day, secret) VALUES (?, ?)', [day, randomBytes(32)])
    const [row] = await connection.query<{ secret: Buffer }[]>('SELECT secret FROM visitor_key WHERE day = ?', [day])
    if (!row) throw new Error(`no visitor key of ${day}`)
    return row.secret
  } finally {
    await connection.end()
  }
}
