/** What a redirect’s destination may be made of, and what it means here. */
export interface ValueContext {
  host: string | null
  /** Captures of the pattern in force, by name or number. */
  captures: ReadonlySet<string>
}

export type Value =
  | { ok: true; template: string; /** It puts the path in. */ path: boolean; carriesQuery: boolean; endsQuery: boolean }
  | { ok: false; sentence: string; would: string }

const HOSTS = new Set(['host', 'server_name', 'http_host'])

/**
 * A destination with variables (nginx documentation, “Alphabetical index of variables”) as a template: `$1` and names
 * become captures, `$request_uri` and `$uri` the whole path, which is capture `path`; hosts and schemes are written
 * out.
 */
export function readValue(text: string, { host, captures }: ValueContext): Value {
  let template = ''
  let path = false
  let carriesQuery = false
  const parts = text.split(/(\$\{\w+\}|\$\w+)/)
  for (const [index, part] of parts.entries()) {
    if (!/^\$/.test(part)) {
      template += part.replace(/[{}]/g, encodeURIComponent)
      continue
    }
    const name = part.replace(/[${}]/g, '')
    if (captures.has(name)) template += `{+${name}}`
    else if (/^\d$/.test(name)) template += ''
    else if (HOSTS.has(name) && host !== null) template += host
    else if (name === 'scheme') template += 'https'
    else if (name === 'request_uri' || name === 'uri' || name === 'document_uri') {
      path = true
      if (name === 'request_uri') carriesQuery = true
      // What puts the path in brings its slash.
      template = (template.endsWith('/') ? template.slice(0, -1) : template) + '/{+path}'
      if (template.endsWith('//{+path}')) return { ok: false, sentence: `“${text}” doubles slashes.`, would: '' }
    } else if (name === 'is_args' && parts[index + 2] !== undefined && /^\$\{?args/.test(parts[index + 2]!))
      carriesQuery = true
    else if (name === 'args' || name === 'query_string') {
      carriesQuery = true
      template = template.replace(/[?&]$/, '')
    } else
      return {
        ok: false,
        sentence: `“$${name}” is nothing a link or a rule knows.`,
        would: 'Write out what it stands for.',
      }
  }
  return { ok: true, template, path, carriesQuery, endsQuery: template.endsWith('?') }
}
