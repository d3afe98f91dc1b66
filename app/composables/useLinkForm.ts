import { watch } from 'vue'
import { LINK_FIELDS, schemasOf } from '~~/core/rows'
import { linkCreate, linkPatch, type Link } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

type Editable = keyof ReturnType<typeof editable>
const editable = () => schemasOf(LINK_FIELDS)

/** A link as a form holds it: dates as fields hold them, nothing as empty text. */
export type LinkFields = Pick<Link, 'domain' | 'slug' | 'tags'> &
  Omit<{ [K in Editable]: K extends 'referrerPolicy' ? Link[K] : NonNullable<Link[K]> }, 'resumesAt'>

const OPTIONAL = ['endedDestination', 'robots'] as const
const DATES = ['startsAt', 'endsAt'] as const

/** The fields of a link while somebody makes or changes it, their faults, and saving them. */
export function useLinkForm() {
  const store = useLinkStore()
  const domains = useDomainsStore()
  const { toField, fromField } = useMoments()
  const names = Object.keys(editable()).filter((name) => name !== 'resumesAt') as (keyof LinkFields)[]

  function blank(): LinkFields {
    const domain = domains.domains[0]
    const empty = Object.fromEntries(
      names.map((name) => [name, (LINK_FIELDS as Record<string, { fallback?: unknown }>)[name]?.fallback ?? '']),
    ) as LinkFields
    return {
      ...empty,
      domain: domain?.host ?? '',
      slug: '',
      tags: [],
      status: domain?.defaultStatus ?? 302,
      referrerPolicy: null,
    }
  }
  function fieldsOf(link: Link): LinkFields {
    const fields = Object.fromEntries(
      ['domain', 'slug', 'tags', ...names].map((name) => [name, link[name as keyof Link] ?? '']),
    ) as LinkFields
    for (const name of DATES) fields[name] = toField(link[name])
    return { ...fields, tags: [...link.tags], referrerPolicy: link.referrerPolicy }
  }
  /** The fields as the API takes them. The slug is the renaming dialog's matter once there is a link. */
  function body({ domain, slug, ...rest }: LinkFields, making: boolean): Record<string, unknown> {
    const all: Record<string, unknown> = { ...rest }
    for (const name of DATES) all[name] = fromField(rest[name])
    for (const name of OPTIONAL) all[name] = rest[name] === '' ? null : rest[name]
    if (!making) return all
    // Whether a random slug is told of is for the server to say, where nobody did here.
    if (slug.trim() === '' && !rest.unlisted) delete all.unlisted
    return { ...all, domain, slug: slug.trim() || undefined }
  }

  const form = useVersionedForm<LinkFields, Link>({
    name: (link) => (link ? `link ${link.id}` : 'new link'),
    blank,
    fieldsOf,
    body,
    schema: { make: linkCreate, change: linkPatch },
    save: (sent, link, version) => (link ? store.change(link.id, version, sent) : store.create(sent)),
  })

  // The form may be open before the domains are known.
  watch(
    () => domains.domains.length,
    () => {
      if (form.fields.domain !== '' || form.opened.value) return
      const { domain, status } = blank()
      Object.assign(form.fields, { domain, status })
    },
  )
  return form
}
