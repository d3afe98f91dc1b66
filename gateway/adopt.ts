import { readdir, rename } from 'node:fs/promises'
import { join } from 'node:path'
import { OPEN, READY } from './spool'

/**
 * Takes over what processes of higher places left in their spools: where fewer processes serve than before, nobody
 * else would ship it. `state` is the folder of all places, `place` the one that adopts, `count` how many serve; gives
 * how many segments were taken. Call it before the adopting spool is opened, which makes batches of open ones.
 */
export async function adoptSpools(state: string, place: string, count: number): Promise<number> {
  let taken = 0
  for (const name of await readdir(state)) {
    if (!/^\d+$/.test(name) || Number(name) <= count) continue
    const folder = join(state, name, 'spool')
    for (const segment of await readdir(folder).catch(() => [])) {
      if (!segment.endsWith(OPEN) && !segment.endsWith(READY)) continue
      // A segment's name is made once and never again, so that it may go anywhere.
      await rename(join(folder, segment), join(state, place, 'spool', segment))
      taken++
    }
  }
  return taken
}
