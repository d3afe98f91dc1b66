/** A number of things in words: `1 link`, `1,208 links`. `many` is the plural, where it is not formed by an s. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`
