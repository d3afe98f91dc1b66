import { CannotList, standingOf, tellDates, type Outgoing, type Written } from './outgoing'

/** Links that lead somewhere at the moment, and those that are gone; the rest is told. */
function* linesOf(outgoing: Outgoing, cannot: CannotList): Generator<{ slug: string; to: string; status: number }> {
  for (const link of outgoing.links) {
    const standing = standingOf(outgoing, link)
    if (standing.kind === 'redirect') {
      if (standing.carry) cannot.add('query', 'That a visitor’s query goes along is not said.', link.slug)
      yield { slug: link.slug, to: standing.location, status: standing.status }
    } else if (standing.status === 410) yield { slug: link.slug, to: 'gone', status: 410 }
    else cannot.add('rest', 'A link that answers nobody just now is left out.', link.slug)
  }
}

/** A list of `path destination status`. */
export function writePlain(outgoing: Outgoing): Written {
  const cannot = new CannotList()
  tellDates(outgoing, cannot)
  for (const { pattern } of outgoing.rules) cannot.add('rules', 'A rule is no line of a list.', pattern)
  const lines = [...linesOf(outgoing, cannot)].map(({ slug, to, status }) =>
    status === 410 ? `/${slug} gone` : `/${slug} ${to} ${status}`,
  )
  const head = `# ${outgoing.domain.host}, ${new Date(outgoing.at).toISOString()}`
  return {
    files: [{ name: `${outgoing.domain.host}.txt`, text: [head, ...lines, ''].join('\n') }],
    cannot: cannot.all,
    steps: [],
  }
}
