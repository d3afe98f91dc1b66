import { randomBytes } from 'node:crypto'
import mariadb, { type ConnectionConfig } from 'mariadb'

/**
 * The day's secret behind visitor tokens, shared by all gateways through the database and thrown away when its day
 * (UTC) is over, so that tokens cannot be joined across days. While the database is away the gateway makes do with
 * a secret of its own.
 */
export class VisitorKey {
  private day = ''
  private dayNumber = -1
  private secret: Buffer = randomBytes(32)
  private shared = false
  private asking = false

  constructor(private readonly config: ConnectionConfig) {}

  /** The secret for a moment; asks for the shared one in the background where it is not yet known. */
  at(now: number): Buffer {
    const dayNumber = Math.floor(now / 86_400_000)
    if (dayNumber !== this.dayNumber) {
      this.dayNumber = dayNumber
      this.day = new Date(now).toISOString().slice(0, 10)
      this.secret = randomBytes(32)
      this.shared = false
    }
    if (!this.shared && !this.asking) void this.ask(this.day)
    return this.secret
  }

  /** Agrees with the database on the day's secret. Never rejects. */
  async ask(day: string): Promise<void> {
    this.asking = true
    try {
      const connection = await mariadb.createConnection(this.config)
      try {
        await connection.query('INSERT IGNORE INTO visitor_key (day, secret) VALUES (?, ?)', [day, randomBytes(32)])
        const rows = await connection.query('SELECT secret FROM visitor_key WHERE day = ?', [day])
        if (rows[0] && day === this.day) {
          this.secret = rows[0].secret
          this.shared = true
        }
      } finally {
        await connection.end()
      }
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 1000))
    } finally {
      this.asking = false
    }
  }
}
