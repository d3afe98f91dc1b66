import { foldCase } from '../address'
import type { Forgiveness } from '../rows/domain'
import { lookAlikeKey } from '../slugs/skeleton'

const keys = { capitals: (slug: string) => foldCase(slug), 'look-alikes': (slug: string) => lookAlikeKey(slug) }

/** Slugs of one domain by what they fold to. Kept only while a switch needs it. */
export class NearSlugs {
  private readonly byKey = {
    capitals: new Map<string, string | string[]>(),
    'look-alikes': new Map<string, string | string[]>(),
  }

  constructor(
    private readonly forgiveness: Forgiveness,
    slugs: Iterable<string>,
  ) {
    for (const slug of slugs) this.add(slug)
  }

  private *folded(slug: string): Generator<[Map<string, string | string[]>, string]> {
    if (this.forgiveness.capitals) yield [this.byKey.capitals, keys.capitals(slug)]
    if (this.forgiveness.lookAlikes) yield [this.byKey['look-alikes'], keys['look-alikes'](slug)]
  }

  add(slug: string): void {
    for (const [map, key] of this.folded(slug)) {
      const there = map.get(key)
      if (there === undefined) map.set(key, slug)
      else if (Array.isArray(there)) {
        if (!there.includes(slug)) there.push(slug)
      } else if (there !== slug) map.set(key, [there, slug])
    }
  }

  remove(slug: string): void {
    for (const [map, key] of this.folded(slug)) {
      const there = map.get(key)
      if (Array.isArray(there)) {
        const left = there.filter((other) => other !== slug)
        map.set(key, left.length === 1 ? left[0]! : left)
      } else if (there === slug) map.delete(key)
    }
  }

  near(slug: string, by: 'capitals' | 'look-alikes'): readonly string[] {
    const there = this.byKey[by].get(keys[by](slug))
    return there === undefined ? [] : Array.isArray(there) ? there : [there]
  }
}
