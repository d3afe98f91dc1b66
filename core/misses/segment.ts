import { fileAway, Growing } from './file-away'
import { eachGram, eachKey, eachSound, GRAM_BUCKETS, hash, Kind, MAX_DELETES, tailOf } from './keys'
import { bones, plainLetters } from './words'

/** A link, or a slug that forwards to one, as the ranking knows it. */
export interface IndexedLink {
  id: number
  /** The link that stands behind: its own id, or that of the link it forwards to. */
  leader: number
  domainId: number
  canonical: string
  /** Visits of the last 28 days. */
  visits: number
  /** It answers today; one that is gone can be meant all the same. */
  live: boolean
  /** Strangers may be told of it. */
  shown: boolean
}

/** Ordinals take 24 bits of a posting, so that eight are left to tell false friends apart. */
const MAX_LINKS = 2 ** 24
const POSTINGS_A_BUCKET = 6
const LINKS_A_STEP = 200

/**
 * Links in as little memory as finding what was meant takes: their texts end to end, keys of their bones with one
 * character left out (Mor & Fraenkel 1982, from memory), of their sorted words and of their last part, and three
 * letters in a row. Made once; what changes stands in another segment.
 */
export class Segment {
  readonly size: number
  private readonly text: Uint16Array | Uint8Array
  private readonly ends: Uint32Array
  private readonly ids: Uint32Array
  private readonly domains: Uint16Array
  private readonly visits: Uint32Array
  private readonly flags: Uint8Array
  private readonly leaders = new Map<number, number>()
  private readonly domainIds: number[] = []
  private heads = new Uint32Array(17)
  private postings = new Uint32Array()
  private shift = 28
  private gramHeads = new Uint32Array(GRAM_BUCKETS + 1)
  private gramPostings = new Uint32Array()
  /** Ordinals by text, for what was cut off. */
  private sorted = new Uint32Array()
  readonly totalVisits: number

  private constructor(links: readonly IndexedLink[]) {
    if (links.length >= MAX_LINKS) throw new RangeError('at most 16,777,215 links')
    const size = (this.size = links.length)
    const units = links.reduce((sum, { canonical }) => sum + canonical.length, 0)
    const narrow = links.every(({ canonical }) => !/[\u0100-\uffff]/.test(canonical))
    this.text = narrow ? new Uint8Array(units) : new Uint16Array(units)
    this.ends = new Uint32Array(size)
    this.ids = new Uint32Array(size)
    this.domains = new Uint16Array(size)
    this.visits = new Uint32Array(size)
    this.flags = new Uint8Array(size)
    this.totalVisits = links.reduce((sum, { visits }) => sum + visits, 0)
  }

  /** Makes a segment, in steps of about a millisecond; the last gives it. */
  static *make(links: readonly IndexedLink[]): Generator<undefined, Segment> {
    const segment = new Segment(links)
    const { size } = segment
    const keys = new Growing()
    const grams = new Growing()
    const keyEnds = new Uint32Array(size)
    const gramEnds = new Uint32Array(size)
    const domainAt = new Map<number, number>()
    for (let at = 0, end = 0; at < size; at++) {
      const link = links[at]!
      for (let unit = 0; unit < link.canonical.length; unit++) segment.text[end++] = link.canonical.charCodeAt(unit)
      segment.ends[at] = end
      segment.ids[at] = link.id
      if (link.leader !== link.id) segment.leaders.set(at, link.leader)
      let domain = domainAt.get(link.domainId)
      if (domain === undefined) {
        domainAt.set(link.domainId, (domain = segment.domainIds.length))
        segment.domainIds.push(link.domainId)
      }
      segment.domains[at] = domain
      segment.visits[at] = link.visits
      segment.flags[at] = Number(link.live) | (Number(link.shown) << 1)
      const plain = plainLetters(link.canonical)
      const skeleton = bones(plain)
      eachKey(plain, skeleton, (key) => keys.push(key))
      eachGram(skeleton, (bucket) => grams.push(bucket))
      keyEnds[at] = keys.length
      gramEnds[at] = grams.length
      if (at % LINKS_A_STEP === 0) yield
    }
    const bits = Math.max(4, Math.ceil(Math.log2(Math.max(1, keys.length / POSTINGS_A_BUCKET))))
    segment.shift = 32 - bits
    const { shift } = segment
    const filed = yield* fileAway(
      keys.all,
      keyEnds,
      1 << bits,
      (key) => key >>> shift,
      (at, key) => at | ((key & 0xff) << 24),
    )
    segment.heads = filed.heads
    segment.postings = filed.postings
    const runs = yield* fileAway(
      grams.all,
      gramEnds,
      GRAM_BUCKETS,
      (bucket) => bucket,
      (at) => at,
    )
    segment.gramHeads = runs.heads
    segment.gramPostings = runs.postings
    const plains = links.map(({ canonical }) => plainLetters(canonical))
    yield
    segment.sorted = Uint32Array.from({ length: size }, (_, at) => at)
    segment.sorted.sort((a, b) => (plains[a]! < plains[b]! ? -1 : plains[a]! > plains[b]! ? 1 : a - b))
    return segment
  }

  /** Octets its arrays take. */
  get bytes(): number {
    return [
      this.text,
      this.ends,
      this.ids,
      this.domains,
      this.visits,
      this.flags,
      this.heads,
      this.postings,
      this.gramHeads,
      this.gramPostings,
      this.sorted,
    ].reduce((sum, array) => sum + array.byteLength, this.leaders.size * 40)
  }

  /** The text of a link, in small letters without accents. */
  plainAt(at: number): string {
    return plainLetters(this.canonicalAt(at))
  }
  /** A link’s address as it stands in the table. */
  canonicalAt(at: number): string {
    const from = at === 0 ? 0 : this.ends[at - 1]!
    return String.fromCharCode.apply(null, this.text.subarray(from, this.ends[at]!) as unknown as number[])
  }
  idAt(at: number): number {
    return this.ids[at]!
  }
  leaderAt(at: number): number {
    return this.leaders.size === 0 ? this.ids[at]! : (this.leaders.get(at) ?? this.ids[at]!)
  }
  domainAt(at: number): number {
    return this.domainIds[this.domains[at]!]!
  }
  visitsAt(at: number): number {
    return this.visits[at]!
  }
  isLive(at: number): boolean {
    return (this.flags[at]! & 1) !== 0
  }
  isShown(at: number): boolean {
    return (this.flags[at]! & 2) !== 0
  }
  private take(key: number, into: Set<number>, most: number): void {
    const bucket = key >>> this.shift
    const tag = key & 0xff
    const to = this.heads[bucket + 1]!
    for (let at = this.heads[bucket]!; at < to && into.size < most; at++) {
      const posting = this.postings[at]!
      if (posting >>> 24 === tag) into.add(posting & 0xffffff)
    }
  }

  /** Links a text may mean by one slip between bones, other words, another first part, something glued on. */
  near(plain: string, into: Set<number>, most: number): void {
    const skeleton = bones(plain)
    if (skeleton !== '') {
      this.take(hash(skeleton, Kind.Bones), into, most)
      if (skeleton.length > 1)
        for (let skip = 0; skip < skeleton.length && skip < MAX_DELETES + 2; skip++)
          this.take(hash(skeleton, Kind.Bones, skip), into, most)
    }
    const tail = bones(tailOf(plain))
    if (tail.length > 1) {
      this.take(hash(tail, Kind.Tail), into, most)
      this.take(hash(tail, Kind.Bones), into, most)
    }
    this.take(hash(skeleton, Kind.Tail), into, most)
    for (let to = skeleton.length - 1; to >= 2; to--) this.take(hash(skeleton, Kind.Bones, -1, 0, to), into, most)
    for (let from = 1; from <= skeleton.length - 2; from++) this.take(hash(skeleton, Kind.Bones, -1, from), into, most)
  }

  /** Links of the same words, in any order, number and spelling. */
  ofWords(words: string, into: Set<number>, most: number): void {
    this.take(hash(words, Kind.Words), into, most)
  }

  /** Links that go on where a text ends. So many are looked at, and those visited most are given. */
  beginning(plain: string, into: Set<number>, look: number, most: number): void {
    if (plain.length < 3) return
    let low = 0
    let high = this.size
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.plainAt(this.sorted[middle]!) < plain) low = middle + 1
      else high = middle
    }
    const found: number[] = []
    for (; low < this.size && found.length < look; low++) {
      const at = this.sorted[low]!
      if (!this.plainAt(at).startsWith(plain)) break
      found.push(at)
    }
    if (found.length > most) found.sort((a, b) => this.visits[b]! - this.visits[a]!).length = most
    for (const at of found) into.add(at)
  }

  /** Links that sound like a text, or have its sounds in another order. */
  sounding(plain: string, into: Set<number>, most: number): void {
    eachSound(bones(plain), (key) => this.take(key, into, most))
  }

  /** Links that share rare runs of three letters with a text; for what was typed with several slips. */
  sharing(plain: string, into: Set<number>, most: number): void {
    const skeleton = bones(plain)
    const runs: [from: number, to: number][] = []
    eachGram(skeleton, (bucket) => runs.push([this.gramHeads[bucket]!, this.gramHeads[bucket + 1]!]))
    const counts = new Map<number, number>()
    let looked = 0
    for (const [from, to] of runs.sort((a, b) => a[1] - a[0] - (b[1] - b[0]))) {
      if (looked + to - from > MAX_LOOKED) break
      looked += to - from
      for (let at = from; at < to; at++) {
        const ordinal = this.gramPostings[at]!
        counts.set(ordinal, (counts.get(ordinal) ?? 0) + 1)
      }
    }
    const wanted = [...counts].filter(([, count]) => count > 1 || runs.length < 4)
    for (const [ordinal] of wanted.sort((a, b) => b[1] - a[1]).slice(0, most)) into.add(ordinal)
  }
}

/** So many postings of runs of letters are gone through for one text. */
const MAX_LOOKED = 4000
