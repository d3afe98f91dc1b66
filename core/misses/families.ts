import { shapeOf, shapePattern } from './shape'

/** A path that found nothing, with where the link most likely meant by it leads. */
export interface FamilyMember {
  path: string
  visitors: number
  /** The destination of the link that was meant, where that is likely; `null` else. */
  destination: string | null
}

/** Misses that one rule would cover. */
export interface Family {
  shape: string
  pattern: string
  /** A URI template over the changing part `number`; `null` where the misses do not tell where to. */
  destination: string | null
  members: FamilyMember[]
  visitors: number
}

/** So many different misses make a family. */
export const MIN_MEMBERS = 3
/** So many of them must tell of one destination. */
const MIN_AGREEING = 2

/**
 * The families among misses of one domain: at least three of a shape with one changing part. Where most of them mean
 * links whose destinations differ in that part alone, the rule's destination follows from these.
 */
export function familiesOf(misses: readonly FamilyMember[]): Family[] {
  const byShape = new Map<string, FamilyMember[]>()
  for (const miss of misses) {
    const shape = shapeOf(miss.path)
    const there = byShape.get(shape)
    if (there) there.push(miss)
    else byShape.set(shape, [miss])
  }
  const families: Family[] = []
  for (const [shape, members] of byShape) {
    const made = members.length >= MIN_MEMBERS ? shapePattern(shape) : undefined
    if (!made) continue
    families.push({
      shape,
      pattern: made.pattern,
      destination: templateOf(members, made.partOf),
      members: [...members].sort((a, b) => b.visitors - a.visitors),
      visitors: members.reduce((sum, { visitors }) => sum + visitors, 0),
    })
  }
  return families.sort((a, b) => b.visitors - a.visitors)
}

/** The template that gives members' destinations from their changing part: the one most of those that tell agree on. */
function templateOf(members: readonly FamilyMember[], partOf: (path: string) => string | undefined): string | null {
  const templates = new Map<string, number>()
  let telling = 0
  for (const { path, destination } of members) {
    const part = partOf(path)
    // Braces would be read as an expression (RFC 6570 §2.2).
    if (destination === null || part === undefined || /[{}]/.test(destination)) continue
    telling++
    const plain = part.replace(/^0+(?=[0-9])/, '')
    const found = [part, plain].find((text) => new RegExp(`(?<![0-9])${text}(?![0-9])`).test(destination))
    if (found === undefined) continue
    // The last place: hosts and years stand before.
    const at = [...destination.matchAll(new RegExp(`(?<![0-9])${found}(?![0-9])`, 'g'))].at(-1)!.index
    const template = `${destination.slice(0, at)}{number}${destination.slice(at + found.length)}`
    templates.set(template, (templates.get(template) ?? 0) + 1)
  }
  const [most] = [...templates].sort((a, b) => b[1] - a[1])
  return most && most[1] >= MIN_AGREEING && most[1] * 2 > telling ? most[0] : null
}
