import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { ExportAbout } from '~~/core/schemas'

/** The kinds of files that are written, as people call them. */
export const WRITTEN_KINDS = [
  { value: 'csv', title: 'Table (CSV)' },
  { value: 'json', title: 'JSON (complete)' },
  { value: 'jsonl', title: 'JSON Lines' },
  { value: 'plain', title: 'Plain list' },
  { value: 'apache', title: 'Apache configuration' },
  { value: 'nginx', title: 'nginx configuration' },
  { value: 'pages', title: 'Redirect pages (HTML)' },
  { value: 'bookmarks', title: 'Bookmarks' },
  { value: 'sitemap', title: 'Sitemap of short addresses' },
]

/** An export, described before it is downloaded. */
export function useTakeOut() {
  const { fromField } = useMoments()
  const route = useRoute()
  const format = ref('json')
  const domain = ref(String(route.query.domain ?? ''))
  const tag = ref('')
  const router = useRouter()
  /** Numbers of the links that were picked in the register, as the address names them. */
  const picked = computed(() => String(route.query.links ?? ''))
  const chosen = computed(() => picked.value.split(',').filter(Boolean).length)
  const forgetPicked = () => router.replace({ query: {} })
  const moment = ref('')
  const about = ref<ExportAbout>()
  const fault = ref('')
  const loading = ref(false)
  const query = computed(() => ({
    domain: domain.value,
    ...(picked.value && { links: picked.value }),
    ...(tag.value.trim() && { tag: tag.value.trim() }),
    ...(moment.value && { at: fromField(moment.value)! }),
  }))
  const address = computed(() => `/api/v1/export/${format.value}?${new URLSearchParams(query.value)}`)
  // Counts the questions asked, so that an older answer never replaces a newer one.
  let asked = 0
  const look = useDebounceFn(async () => {
    if (!domain.value) return
    const mine = ++asked
    loading.value = true
    fault.value = ''
    try {
      const told = await callApi<ExportAbout>(`/export/${format.value}/about`, { query: query.value })
      if (mine === asked) about.value = told
    } catch (error) {
      if (mine !== asked) return
      about.value = undefined
      fault.value = (error as Error).message
    } finally {
      if (mine === asked) loading.value = false
    }
  }, 250)
  watch([format, query], () => void look(), { immediate: true })
  return { chosen, forgetPicked, format, domain, tag, moment, about, fault, loading, address }
}
