import { computed } from 'vue'
import { useRoute } from '#imports'

interface Section {
  name: string
  title: string
  to: string
  /** Goes there after `g`. */
  key: string
}

/** The sections of the desk, in the order of the work. */
export const SECTIONS: readonly Section[] = [
  { name: 'docket', title: 'Docket', to: '/docket', key: 'd' },
  { name: 'register', title: 'Register', to: '/register', key: 'r' },
  { name: 'domains', title: 'Domains', to: '/domains', key: 'o' },
  { name: 'traffic', title: 'Traffic', to: '/traffic', key: 't' },
  { name: 'exchange', title: 'Exchange', to: '/exchange', key: 'x' },
  { name: 'ledger', title: 'Ledger', to: '/ledger', key: 'l' },
]

/** Pages that belong to a section of another name. */
const BELONGS: Record<string, string> = {
  links: 'register',
  changes: 'register',
  tags: 'register',
  misses: 'docket',
  'morning-round': 'docket',
  dates: 'docket',
}

/** The section that the page belongs to, and the numbers shown beside sections. */
export function useSections() {
  const route = useRoute()
  const docket = useDocketStore()
  const register = useRegisterStore()
  const domains = useDomainsStore()
  const current = computed(() => {
    const first = route.path.split('/')[1] ?? ''
    return BELONGS[first] ?? first
  })
  const counts = computed((): Record<string, number | undefined> => ({
    docket: docket.total || undefined,
    register: register.overall?.total,
    domains: domains.loaded ? domains.domains.length : undefined,
  }))
  /** The register is returned to as it was left. */
  const pathOf = ({ name, to }: Section) =>
    name === 'register' && current.value !== 'register' ? register.left.path : to
  return { current, counts, pathOf }
}
