/** A web address taken apart without touching an octet of it (RFC 3986 appendix B). */
export interface AddressParts {
  /** With `://`. */
  scheme: string
  host: string
  /** With its colon; empty where there is none. */
  port: string
  path: string
  /** Without `?`; `undefined` where there is none. */
  query: string | undefined
  /** With `#`; empty where there is none. */
  fragment: string
}

const ADDRESS = /^([a-z][a-z0-9+.-]*:\/\/)(\[[^\]]*\]|[^/?#:]*)(:\d*)?([^?#]*)(?:\?([^#]*))?(#.*)?$/is

/** Takes an address apart; `undefined` where it has no host, as app addresses may. */
export function takeApart(destination: string): AddressParts | undefined {
  const match = ADDRESS.exec(destination)
  if (!match) return undefined
  const [, scheme, host, port = '', path = '', query, fragment = ''] = match
  return { scheme: scheme!, host: host!, port, path, query, fragment }
}

export const putTogether = ({ scheme, host, port, path, query, fragment }: AddressParts): string =>
  scheme + host + port + path + (query === undefined ? '' : '?' + query) + fragment
