import { config } from '@vue/test-utils'
import { createVuetify } from 'vuetify'
import { VAlert, VBtn, VCheckbox, VNumberInput, VSelect, VSwitch, VTextField } from 'vuetify/components'
import { afterEach, vi } from 'vitest'
import AcceptLanguageField from '../../app/components/conditions/AcceptLanguageField.vue'
import DraftNotice from '../../app/components/form/DraftNotice.vue'
import FormFoot from '../../app/components/form/FormFoot.vue'
import MeanwhileNotice from '../../app/components/form/MeanwhileNotice.vue'
import { ApiProblem } from '../../app/composables/useApi'
import { useConflicts } from '../../app/composables/useConflicts'
import { useDomainForm } from '../../app/composables/useDomainForm'
import { useVersionedForm } from '../../app/composables/useVersionedForm'

globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
config.global.plugins.push(
  createVuetify({ components: { VAlert, VBtn, VCheckbox, VNumberInput, VSelect, VSwitch, VTextField } }),
)
Object.assign(config.global.components, { AcceptLanguageField, DraftNotice, FormFoot, MeanwhileNotice })

// It asks the server for visits.
config.global.stubs.CaseTrend = true

// What Nuxt imports by itself is the real thing here, too; tests put stand-ins for stores, which ask the server.
vi.stubGlobal('ApiProblem', ApiProblem)
vi.stubGlobal('useConflicts', useConflicts)
vi.stubGlobal('useVersionedForm', useVersionedForm)
vi.stubGlobal('useDomainForm', useDomainForm)
vi.stubGlobal('useSessionStore', () => ({ session: undefined, holdForms: () => undefined, may: () => true }))
afterEach(() => sessionStorage.clear())
