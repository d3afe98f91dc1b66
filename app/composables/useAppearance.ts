import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, watchEffect } from 'vue'
import { useTheme } from 'vuetify'

export type Appearance = 'system' | 'light' | 'dark'

/** Light, dark or as the system says; kept in this browser. */
export function useAppearance() {
  const appearance = useLocalStorage<Appearance>('fides-appearance', 'system')
  const theme = useTheme()
  const prefersDark = usePreferredDark()
  const shown = computed(() =>
    appearance.value === 'system' ? (prefersDark.value ? 'dark' : 'light') : appearance.value,
  )
  watchEffect(() => theme.change(shown.value))
  return { appearance, shown }
}
