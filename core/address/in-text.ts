/** An address as it stands in a text: from `start` up to, not including, `end`. */
export interface AddressInText {
  start: number
  end: number
  address: string
}

const CLOSES: Record<string, string> = { ')': '(', ']': '[' }

/** How long an address is without what belongs to the sentence around it: its points, and brackets it does not open. */
function lengthOf(found: string): number {
  let length = found.length
  for (; length > 0; length--) {
    const last = found[length - 1]!
    if (/[.,;:!?*]/.test(last)) continue
    const opening = CLOSES[last]
    const before = found.slice(0, length - 1)
    if (opening === undefined || before.split(opening).length > before.split(last).length) break
  }
  return length
}

/** The web addresses that stand in a text, in their order. */
export function addressesIn(text: string): AddressInText[] {
  const found: AddressInText[] = []
  for (const match of text.matchAll(/https?:\/\/[^\s<>"'{}|\\^`\u00ab\u00bb\u2018-\u201f]+/gi)) {
    const length = lengthOf(match[0])
    const address = match[0].slice(0, length)
    if (/^https?:\/\/[^/?#]/i.test(address)) found.push({ start: match.index, end: match.index + length, address })
  }
  return found
}
