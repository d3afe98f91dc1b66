// Tells, in octets of heap per link, what a table read from a snapshot costs. Run with --expose-gc.
import { countLinks } from '../core/table'
import { readSnapshot } from '../gateway/snapshot'

const settled = () => {
  for (let round = 0; round < 5; round++) globalThis.gc!()
  return process.memoryUsage().heapUsed
}
const before = settled()
const table = (await readSnapshot(process.argv[2]!))!
const links = countLinks(table)
process.stdout.write(JSON.stringify({ links, bytesPerLink: Math.round((settled() - before) / links) }) + '\n')
// Kept until after the last measurement.
process.exitCode = countLinks(table) === links ? 0 : 1
