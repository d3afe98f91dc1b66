/**
 * Removes `.` and `..` segments from an absolute path (RFC 3986 §5.2.4), by the standard's own five rules.
 * `path` starts with `/`; so does the result.
 */
export function removeDotSegments(path: string): string {
  if (!path.includes('/.')) return path
  let input = path
  let output = ''
  while (input.length > 0) {
    if (input.startsWith('../')) input = input.slice(3)
    else if (input.startsWith('./')) input = input.slice(2)
    else if (input.startsWith('/./')) input = input.slice(2)
    else if (input === '/.') input = '/'
    else if (input.startsWith('/../') || input === '/..') {
      input = input === '/..' ? '/' : input.slice(3)
      output = output.slice(0, Math.max(0, output.lastIndexOf('/')))
    } else if (input === '.' || input === '..') input = ''
    else {
      const next = input.indexOf('/', 1)
      const end = next === -1 ? input.length : next
      output += input.slice(0, end)
      input = input.slice(end)
    }
  }
  return output
}
