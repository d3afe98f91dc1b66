import { config } from '@vue/test-utils'
import { createVuetify } from 'vuetify'
import { VBtn, VCheckbox, VNumberInput, VSelect, VTextField } from 'vuetify/components'

globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
config.global.plugins.push(createVuetify({ components: { VBtn, VCheckbox, VNumberInput, VSelect, VTextField } }))
