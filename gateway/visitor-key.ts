const DAY_MS = 86_400_000
/** So long before a day begins its secret is agreed on, so that its first visitors have the tokens they keep. */
const AHEAD_MS = 600_000
const RETRY_MS = 1000

interface Key {
  secret: Buffer
  shared: boolean
}

/**
 * The day's secret behind visitor tokens, shared by all gateways through the database and thrown away when its day
 * (UTC) is over, so that tokens cannot be joined across days. While the database is away the gateway makes do with
 * a secret of its own.
 */
export class VisitorKey {
  private readonly keys = new Map<number, Key>()
  private today = -1
  private asking: Promise<void> | undefined
  private waitUntil = 0

  /**
   * @param agree asks for the secret all gateways share on a day (YYYY-MM-DD)
   * @param own a secret that only this gateway knows
   */
  constructor(
    private readonly agree: (day: string) => Promise<Buffer>,
    private readonly own: () => Buffer,
  ) {}

  /** The secret for a moment; asks in the background for those it should know by then and does not. */
  at(now: number): Buffer {
    const today = Math.floor(now / DAY_MS)
    if (today !== this.today) this.begin(today)
    const key = this.keyOf(today)
    if (!key.shared) void this.ask(today, now)
    else if ((today + 1) * DAY_MS - now <= AHEAD_MS && !this.keyOf(today + 1).shared) void this.ask(today + 1, now)
    return key.secret
  }

  /** Comes true once the secret of a moment is agreed on, or that was tried in vain. Never rejects. */
  ready(now: number): Promise<void> {
    return this.ask(Math.floor(now / DAY_MS), now)
  }

  /** Throws away the secrets of days that are over. */
  private begin(today: number): void {
    this.today = today
    for (const day of this.keys.keys()) if (day < today) this.keys.delete(day)
  }

  private keyOf(day: number): Key {
    let key = this.keys.get(day)
    if (!key) this.keys.set(day, (key = { secret: this.own(), shared: false }))
    return key
  }

  private ask(day: number, now: number): Promise<void> {
    if (this.asking || now < this.waitUntil) return this.asking ?? Promise.resolve()
    const key = this.keyOf(day)
    const asked = this.agree(new Date(day * DAY_MS).toISOString().slice(0, 10)).then(
      (secret) => {
        key.secret = secret
        key.shared = true
      },
      () => {
        this.waitUntil = now + RETRY_MS
      },
    )
    return (this.asking = asked.finally(() => (this.asking = undefined)))
  }
}
