declare module 'damerau-levenshtein' {
  export default function levenshtein(
    a: string,
    b: string,
    limit?: number,
  ): { steps: number; relative: number; similarity: number }
}
