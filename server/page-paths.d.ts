declare module '#page-paths' {
  /** Paths of the desk’s pages, as sources of expressions. */
  const paths: string[]
  export default paths
}
