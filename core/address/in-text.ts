/** An address as it stands in a text: from `start` up to, not including, `end`. */
export interface AddressInText {
  start: number
  end: number
  address: string
}

const OPENS: Record<string, string> = { '(': ')', '[': ']' }

/** How long an address is without what belongs to the sentence around it: its points, and brackets it does not open. */
function lengthOf(found: string): number {
  const open: Record<string, number> = { ')': 0, ']': 0 }
  let length = 0
  for (let at = 0; at < found.length; at++) {
    const character = found[at]!
    const closing = OPENS[character]
    if (closing !== undefined) open[closing]!++
    else if (character in open) {
      if (open[character] === 0) continue
      open[character]!--
    } else if (/[.,;:!?*]/.test(character)) continue
    length = at + 1
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
