import { computed, reactive, ref, watch } from 'vue'
import { linkCreate, linkPatch, type Link } from '~~/core/schemas'
import type { REDIRECT_STATUSES } from '~~/core/rows'

export interface LinkFields {
  domain: string
  slug: string
  destination: string
  status: (typeof REDIRECT_STATUSES)[number]
  query: Link['query']
  queryConflict: Link['queryConflict']
  title: string
  note: string
  tags: string[]
  owner: string
  startsAt: string
  endsAt: string
  endedDestination: string
  robots: string
  referrerPolicy: string | null
}

const OPTIONAL = ['startsAt', 'endsAt', 'endedDestination', 'robots', 'referrerPolicy'] as const

/** The fields of a link while somebody makes or changes it, their faults, and saving them. */
export function useLinkForm() {
  const store = useLinkStore()
  const domains = useDomainsStore()
  const { toField, fromField } = useMoments()
  const fields = reactive<LinkFields>(blank())
  const faults = ref<Record<string, string>>({})
  const fault = ref('')
  const saving = ref(false)
  const { conflicts, reason, clear, take } = useConflicts()
  /** The link as it was opened; undefined while making one. */
  const opened = ref<Link>()
  /** What somebody else saved meanwhile, and must be compared. */
  const meanwhile = ref<Link>()

  function blank(): LinkFields {
    const domain = domains.domains[0]
    return {
      domain: domain?.host ?? '',
      slug: '',
      destination: '',
      status: domain?.defaultStatus ?? 302,
      query: 'discard',
      queryConflict: 'destination',
      title: '',
      note: '',
      tags: [],
      owner: '',
      startsAt: '',
      endsAt: '',
      endedDestination: '',
      robots: '',
      referrerPolicy: null,
    }
  }

  // The form may be open before the domains are known.
  watch(
    () => domains.domains.length,
    () => {
      if (fields.domain !== '' || opened.value) return
      const { domain, status } = blank()
      Object.assign(fields, { domain, status })
    },
  )

  function open(link: Link | undefined, given: Partial<LinkFields> = {}) {
    opened.value = link
    meanwhile.value = undefined
    faults.value = {}
    fault.value = ''
    clear()
    reason.value = ''
    Object.assign(fields, blank(), given)
    if (link) Object.assign(fields, fieldsOf(link))
  }

  const fieldsOf = (link: Link): LinkFields => ({
    domain: link.domain,
    slug: link.slug,
    destination: link.destination,
    status: link.status,
    query: link.query,
    queryConflict: link.queryConflict,
    title: link.title,
    note: link.note,
    tags: [...link.tags],
    owner: link.owner,
    startsAt: toField(link.startsAt),
    endsAt: toField(link.endsAt),
    endedDestination: link.endedDestination ?? '',
    robots: link.robots ?? '',
    referrerPolicy: link.referrerPolicy,
  })

  /** The fields as the API takes them. */
  function body(): Record<string, unknown> {
    const { domain, slug, startsAt, endsAt, ...rest } = fields
    const all: Record<string, unknown> = { ...rest, startsAt: fromField(startsAt), endsAt: fromField(endsAt) }
    for (const name of OPTIONAL) if (all[name] === '') all[name] = null
    return opened.value ? all : { ...all, domain, ...(slug.trim() && { slug: slug.trim() }) }
  }

  /** Only what differs from the link as opened, so that a save touches nothing else. */
  function changes(link: Link): Record<string, unknown> {
    const before = fieldsOf(link)
    const all = body()
    return Object.fromEntries(
      Object.entries(all).filter(
        ([name]) =>
          JSON.stringify(before[name as keyof LinkFields]) !== JSON.stringify(fields[name as keyof LinkFields]),
      ),
    )
  }

  /** Checks and saves; on a refusal everything typed stays, with a sentence at each field. */
  async function save(): Promise<Link | undefined> {
    faults.value = {}
    fault.value = ''
    const sent = {
      ...(opened.value ? changes(opened.value) : body()),
      ...(reason.value.trim() && { reason: reason.value.trim() }),
    }
    const checked = (opened.value ? linkPatch : linkCreate).safeParse(sent)
    if (!checked.success) {
      for (const issue of checked.error.issues) faults.value[String(issue.path[0])] ??= issue.message
      return undefined
    }
    saving.value = true
    try {
      return opened.value
        ? await store.change(opened.value.id, (meanwhile.value ?? opened.value).version, sent)
        : await store.create(sent)
    } catch (error) {
      refuse(error)
      return undefined
    } finally {
      saving.value = false
    }
  }

  function refuse(error: unknown) {
    if (!(error instanceof ApiProblem)) throw error
    faults.value = error.fields
    if (take(error)) return
    if (error.status === 412) meanwhile.value = error.problem.current as Link
    else if (Object.keys(error.fields).length === 0) fault.value = error.message
  }

  /** Fields in which both this form and the other save differ from the link as opened, or from each other. */
  const clashes = computed(() => {
    if (!opened.value || !meanwhile.value) return []
    const theirs = fieldsOf(meanwhile.value)
    const before = fieldsOf(opened.value)
    return (Object.keys(theirs) as (keyof LinkFields)[])
      .filter(
        (name) =>
          JSON.stringify(theirs[name]) !== JSON.stringify(before[name]) ||
          JSON.stringify(fields[name]) !== JSON.stringify(before[name]),
      )
      .map((name) => ({
        name,
        before: String(before[name] ?? ''),
        theirs: String(theirs[name] ?? ''),
        yours: String(fields[name] ?? ''),
      }))
  })

  /** Takes the other's version as the one opened; what this form changed itself can be typed again. */
  function takeTheirs() {
    open(meanwhile.value)
  }

  // What was refused may be mended by what is typed now.
  watch([() => fields.slug, () => fields.domain, () => fields.destination], clear)

  return { fields, faults, fault, saving, opened, meanwhile, clashes, conflicts, reason, open, save, takeTheirs }
}
