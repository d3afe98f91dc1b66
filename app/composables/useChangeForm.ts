import { computed, ref } from 'vue'
import { proposalCreate, type ChangeSelection } from '~~/core/schemas'
import type { Step } from '~~/core/changes'
import { useDraft } from './useDraft'

/** Which links a change is for, as the form has it. */
export type SelectBy = 'links' | 'filters' | 'host' | 'addresses'

/** A step as it is typed. */
export const BLANK_STEPS: { [Kind in Step['do']]: () => Extract<Step, { do: Kind }> } = {
  set: () => ({ do: 'set', destination: '' }),
  'move-host': () => ({ do: 'move-host', from: '', to: '' }),
  replace: () => ({ do: 'replace', in: 'path', find: '', with: '', pattern: false }),
  parameters: () => ({ do: 'parameters', put: [{ name: '', value: '' }], remove: [], rename: [] }),
  follow: () => ({ do: 'follow' }),
}

/** A form for a change to many links: which, what, why. What was typed is kept until it was sent. */
export function useChangeForm(start: {
  links: number[]
  filters: Record<string, string>
  host: string
  destination?: string
}) {
  const by = ref<SelectBy>(
    start.links.length > 0
      ? 'links'
      : start.host !== ''
        ? 'host'
        : Object.keys(start.filters).length > 0
          ? 'filters'
          : 'host',
  )
  const host = ref(start.host)
  const addresses = ref('')
  const steps = ref<Step[]>([])
  const set = ref<Record<string, unknown>>({})
  const domain = ref<string | null>(null)
  const tagsAdded = ref<string[]>([])
  const tagsRemoved = ref<string[]>([])
  const reason = ref('')
  const faults = ref<Record<string, string>>({})
  const fault = ref('')
  const sending = ref(false)

  // The page's address says which links; only what is done to them is a draft.
  const draft = useDraft('bulk change', { addresses, steps, set, domain, tagsAdded, tagsRemoved, reason })
  const resumed = ref(draft.resume())
  if (start.destination) steps.value = [{ do: 'set', destination: start.destination }]
  function discard() {
    draft.forget()
    resumed.value = false
    addresses.value = ''
    steps.value = []
    set.value = {}
    domain.value = null
    tagsAdded.value = []
    tagsRemoved.value = []
    reason.value = ''
    draft.resume()
  }

  const select = computed((): ChangeSelection => {
    if (by.value === 'links') return { links: start.links }
    if (by.value === 'filters') return { filters: start.filters }
    if (by.value === 'host') return { host: host.value.trim() }
    return {
      addresses: addresses.value
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean),
    }
  })

  /** The proposal as it is sent; undefined where something is missing, which stands at its field. */
  function body() {
    const given = {
      select: select.value,
      change: {
        steps: steps.value,
        set: set.value,
        domain: domain.value,
        tags: { add: tagsAdded.value, remove: tagsRemoved.value },
      },
      reason: reason.value || undefined,
    }
    const checked = proposalCreate.safeParse(given)
    faults.value = {}
    fault.value = ''
    if (checked.success) return given
    for (const issue of checked.error.issues) {
      const at = issue.path.join('/')
      if (issue.path.length <= 1) fault.value ||= issue.message
      faults.value[at] ??= issue.message
    }
    fault.value ||= 'Some fields need attention; see the messages below them.'
    return undefined
  }

  return {
    by,
    host,
    addresses,
    steps,
    set,
    domain,
    tagsAdded,
    tagsRemoved,
    reason,
    faults,
    fault,
    sending,
    resumed,
    body,
    discard,
  }
}
