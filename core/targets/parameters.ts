import { parameterName } from '../address/query'
import type { Hop } from './evidence'

/** A parameter of the destination, as it is told. */
export interface LostParameter {
  name: string
  value: string
  /** Which hop it was gone at, counting from 1: the one that sent it on without. */
  hop: number
  /** The address that lost it. */
  by: string
}

const parametersOf = (url: string): { name: string; value: string }[] => {
  const query = new URL(url).search.slice(1)
  return query
    .split('&')
    .filter(Boolean)
    .map((piece) => {
      const equals = piece.indexOf('=')
      const raw = equals === -1 ? '' : piece.slice(equals + 1)
      return { name: parameterName(piece), value: decoded(raw) }
    })
}

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text.replace(/\+/g, ' '))
  } catch {
    return text
  }
}

/** Whether an address still carries a parameter: by name and value, or its value as a part of the path. */
function carries(url: string, { name, value }: { name: string; value: string }): boolean {
  if (parametersOf(url).some((one) => one.value === value && one.name.toLowerCase() === name.toLowerCase())) return true
  if (value.length < 2) return false
  return decoded(new URL(url).pathname)
    .split(/[/._-]/)
    .includes(value)
}

/** Each parameter that any of these hops brought, and where it got lost; `hop` 0 where it arrives. */
export function followParameters(hops: readonly Pick<Hop, 'url'>[]): LostParameter[] {
  const told = new Map<string, LostParameter>()
  hops.forEach((hop, index) => {
    const lost = lostParameters(hops.slice(index))
    for (const { name, value } of parametersOf(hop.url)) {
      const key = `${name.toLowerCase()}=${value}`
      const gone = lost.find((one) => one.name === name && one.value === value)
      if (!told.has(key)) told.set(key, gone ? { ...gone, hop: gone.hop + index } : { name, value, hop: 0, by: '' })
    }
  })
  return [...told.values()]
}

/**
 * The parameters of the destination that do not reach the last hop, and where each got lost. A value that became a
 * part of the path has arrived.
 */
export function lostParameters(hops: readonly Pick<Hop, 'url'>[]): LostParameter[] {
  const [first] = hops
  const last = hops.at(-1)
  if (!first || !last || hops.length < 2) return []
  return parametersOf(first.url)
    .filter((parameter) => !carries(last.url, parameter))
    .map((parameter) => {
      let at = hops.length - 1
      while (at > 1 && !carries(hops[at - 1]!.url, parameter)) at--
      return { ...parameter, hop: at, by: hops[at - 1]!.url }
    })
}
