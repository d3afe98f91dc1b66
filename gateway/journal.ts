import { createReadStream, existsSync } from 'node:fs'
import { appendFile, readFile, rename, rm, stat } from 'node:fs/promises'
import { createInterface } from 'node:readline'
import { dropLink, putDomain, putLink, putRules, type Table } from '../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../core/rows'

type Address = { domainId: number; canonical: string }

/** What changed of a table since its snapshot. */
export interface TableChange {
  gone?: readonly Address[]
  links?: readonly LinkRow[]
  domains?: readonly DomainRow[]
  rules?: readonly RuleRow[]
}

/**
 * Changes since the snapshot, a line each, in a file beside it: a gateway that starts without the database has them,
 * and a million links are not written anew for one of them. While a snapshot is written, what came before it stands
 * in a second file, until the snapshot is in its place.
 */
export class Journal {
  private writing: Promise<unknown> = Promise.resolve()
  private octets = 0

  constructor(
    private readonly file: string,
    private readonly failed: (error: Error) => void,
  ) {}

  private get before(): string {
    return this.file + '.before'
  }

  /** How much has been written since the last snapshot. */
  get size(): number {
    return this.octets
  }

  /** Notes a change by which the table came to a revision. */
  note(revision: number, change: TableChange): void {
    const line = JSON.stringify({ revision, ...change }) + '\n'
    this.octets += line.length
    this.then(() => appendFile(this.file, line, { mode: 0o600 }))
  }

  /** A snapshot begins to be written: what comes from now on is not sure to be in it. */
  turn(): Promise<unknown> {
    this.octets = 0
    return this.then(async () => {
      if (!existsSync(this.file)) return
      // One that failed left its own behind: both are needed.
      if (existsSync(this.before)) {
        await appendFile(this.before, await readFile(this.file), { mode: 0o600 })
        await rm(this.file)
      } else await rename(this.file, this.before)
    })
  }

  /** The snapshot is in its place: what came before it is in it. */
  settled(): Promise<unknown> {
    return this.then(() => rm(this.before, { force: true }))
  }

  /** Waits until all that was noted is written. */
  flushed(): Promise<unknown> {
    return this.writing
  }

  private then(work: () => Promise<unknown>): Promise<unknown> {
    return (this.writing = this.writing.then(work).catch((error: Error) => this.failed(error)))
  }

  /** Brings a table read from the snapshot to where the journal ends; a line that was cut short ends it. */
  async replay(table: Table): Promise<void> {
    for (const file of [this.before, this.file]) {
      const found = await stat(file).catch(() => undefined)
      if (!found) continue
      this.octets += found.size
      const lines = createInterface({ input: createReadStream(file, { encoding: 'utf8' }) })
      for await (const line of lines) {
        let entry: { revision: number } & TableChange
        try {
          entry = JSON.parse(line) as typeof entry
        } catch {
          return
        }
        if (entry.revision < table.revision) continue
        for (const domain of entry.domains ?? []) putDomain(table, domain)
        for (const { domainId, canonical } of entry.gone ?? []) dropLink(table, domainId, canonical)
        for (const link of entry.links ?? []) putLink(table, link)
        if (entry.rules) putRules(table, entry.rules)
        table.revision = entry.revision
      }
    }
  }
}
