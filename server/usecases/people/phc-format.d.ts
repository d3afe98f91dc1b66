// The package has no types of its own.
declare module '@phc/format' {
  interface Phc {
    id: string
    version?: number
    params?: Record<string, string | number>
    salt?: Buffer
    hash?: Buffer
  }
  export function serialize(of: Phc): string
  /** Throws a TypeError where the text is no PHC string. */
  export function deserialize(text: string): Phc
}
