import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch, type Ref } from 'vue'
import { useDisplay } from 'vuetify'
import type { Link } from '~~/core/schemas'
import { REGISTER_FILTERS, type RegisterFilters } from '~~/core/schemas/register-filters'

/** Windows from here on have room for the inspector. */
const MIN_PANE = 1100

/**
 * What the register shows: its filters and the current link, which the address bar keeps, and whether that link is
 * shown beside the list. `list` contains the scrolled list, whose position is restored.
 */
export function useRegisterView(list: Ref<HTMLElement | undefined>) {
  const register = useRegisterStore()
  const current = useLinkStore()
  const route = useRoute()
  const { width } = useDisplay()

  const filters = computed((): RegisterFilters =>
    Object.fromEntries(
      REGISTER_FILTERS.flatMap((name) => (route.query[name] ? [[name, String(route.query[name])]] : [])),
    ),
  )
  const narrowed = computed(() => REGISTER_FILTERS.some((name) => name !== 'sort' && filters.value[name]))
  watch(filters, (now, before) => JSON.stringify(now) !== JSON.stringify(before) && register.list(now), {
    immediate: true,
  })
  const choose = (name: keyof RegisterFilters, value: string | undefined) =>
    navigateTo({ query: { ...route.query, [name]: value || undefined, link: undefined } })
  /** Replaces all filters. */
  const view = (of: RegisterFilters) => navigateTo({ query: { sort: filters.value.sort, ...of } })

  // Changes before the address does, so that each of several quick keys counts.
  const selected = ref<number>()
  const linkInRoute = computed(() => Number(route.query.link) || undefined)
  // What we wrote into the address ourselves must not, arriving late, undo a later choice.
  const written = new Set<number | undefined>()
  watch(linkInRoute, (id) => written.delete(id) || (selected.value = id), { immediate: true })
  watchDebounced(
    selected,
    (id) => {
      if (id === linkInRoute.value) return
      written.add(id)
      return navigateTo({ query: { ...route.query, link: id } }, { replace: true })
    },
    { debounce: 120 },
  )
  const inHand = () => register.items.find((link) => link.id === selected.value)

  const hasPane = computed(() => width.value >= MIN_PANE)
  /** Whether the current link is shown beside the list; remembered in this browser. */
  const inspecting = useLocalStorage('fides-inspector', false)
  // A link that the address names is meant to be seen.
  if (linkInRoute.value) inspecting.value = true
  const isInspected = computed(() => hasPane.value && inspecting.value && selected.value !== undefined)
  watchDebounced(
    [selected, isInspected],
    () => isInspected.value && current.read(selected.value!).catch(() => undefined),
    { immediate: true, debounce: 60 },
  )

  const open = (link: Link) => navigateTo(`/links/${link.id}`)
  function select(link: Link) {
    if (!hasPane.value) return open(link)
    selected.value = link.id
    inspecting.value = true
  }
  function step(by: number) {
    const at = register.items.findIndex((link) => link.id === selected.value)
    const link = register.items[at === -1 ? 0 : Math.min(register.items.length - 1, Math.max(0, at + by))]
    if (link) selected.value = link.id
    if (at + by >= register.items.length - 5) void register.more()
  }
  function pick(link: Link) {
    const next = new Set(register.picked)
    if (!next.delete(link.id)) next.add(link.id)
    register.picked = next
  }

  const scroller = () => list.value?.querySelector('.scroll') ?? undefined
  let path = route.fullPath
  watch(
    () => route.fullPath,
    (now) => route.path === '/register' && (path = now),
  )
  onMounted(async () => {
    await nextTick()
    if (register.left.path === route.fullPath) scroller()?.scrollTo({ top: register.left.scroll })
  })
  onBeforeUnmount(() => (register.left = { path, scroll: scroller()?.scrollTop ?? 0 }))

  return { filters, narrowed, choose, view, selected, inHand, inspecting, isInspected, open, select, step, pick }
}
