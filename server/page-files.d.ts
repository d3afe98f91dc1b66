declare module '#page-files' {
  /** The files each page of the desk needs besides those of every page: scripts/page-files.ts. */
  const files: { path: string; scripts: string[]; styles: string[] }[]
  /** The fonts of the first view. */
  export const fonts: string[]
  export default files
}
