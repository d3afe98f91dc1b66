import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { slugRulesPut, type Domain, type SlugDecision, type SlugRulesReview, type SlugRulesView } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

export type SlugRulesFields = Omit<SlugRulesView, 'capacity' | 'usualBlocked' | 'version'>

const pick = ({
  capacity: _capacity,
  usualBlocked: _usual,
  version: _version,
  ...rest
}: SlugRulesView): SlugRulesFields => rest
/** What is shown until a domain's rules are read. */
const NOTHING = { prefixes: [], reserved: [], blocked: [], separators: '' } as unknown as SlugRulesFields

/** Slug rules while somebody changes them: what they would do to links is computed as they are typed. */
export function useSlugRulesForm(domain: () => Domain) {
  const store = useSlugRulesStore()
  const review = ref<SlugRulesReview>()
  const decisions = ref<Record<number, SlugDecision>>({})
  const keepRest = ref(false)

  /** Decisions about links that the review still names. */
  const used = () =>
    Object.fromEntries(
      Object.entries(decisions.value).filter(
        ([id]) =>
          review.value?.breaking.some((link) => link.id === Number(id)) ||
          review.value?.merging.some(({ links }) => links.some((link) => link.id === Number(id))),
      ),
    )
  const form = useVersionedForm<SlugRulesFields, SlugRulesView>({
    name: () => `slug rules ${domain().id}`,
    blank: () => NOTHING,
    fieldsOf: pick,
    schema: { change: slugRulesPut },
    whole: true,
    save: (body, _rules, version) =>
      store.save(version, { ...body, decisions: used(), ...(keepRest.value && { otherwise: 'keep' }) }),
    refused: take,
  })
  function take(error: ApiProblem) {
    if (error.problem.review) review.value = error.problem.review as SlugRulesReview
  }
  watch(
    () => store.rules,
    (rules) => {
      // Typed values are kept when another field of the domain has been saved.
      if (rules && form.opened.value?.version !== rules.version && form.changed.value.length === 0) form.open(rules)
    },
    { immediate: true },
  )

  const asked = refDebounced(
    computed(() => (form.changed.value.length > 0 ? JSON.stringify(form.fields) : '')),
    350,
  )
  let asking: AbortController | undefined
  const problem = ref('')
  watch(asked, async (body) => {
    asking?.abort()
    problem.value = ''
    if (body === '') return void (review.value = undefined)
    const mine = (asking = new AbortController())
    try {
      const answer = await store.review(JSON.parse(body) as object, mine.signal)
      if (!mine.signal.aborted) review.value = answer
    } catch (error) {
      if (mine.signal.aborted) return
      review.value = undefined
      // What a field's fault explains is told there.
      if (!(error instanceof ApiProblem) || Object.keys(error.fields).length === 0)
        problem.value = (error as Error).message
    }
  })
  /** Links that nothing is decided about yet. */
  const left = computed(() => {
    if (!review.value) return 0
    const breaking = keepRest.value
      ? 0
      : review.value.breakingTotal - review.value.breaking.filter(({ id }) => decisions.value[id]).length
    const merging = review.value.merging.filter(
      ({ links }) => links.filter(({ id }) => !decisions.value[id] || decisions.value[id]!.do === 'keep').length !== 1,
    ).length
    return breaking + merging
  })
  /** Saves rules and decisions; true where that was done. */
  async function save(): Promise<boolean> {
    if (!(await form.save())) return false
    decisions.value = {}
    review.value = undefined
    keepRest.value = false
    return true
  }
  return { ...form, review, decisions, keepRest, left, problem, save }
}
