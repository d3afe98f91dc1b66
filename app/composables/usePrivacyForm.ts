import { settingsPatch, type Settings } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

interface Fields {
  visitDays: string
  fewPeople: string
  keepNetwork: boolean
  honourGpc: boolean
}
const number = (text: string) => (text.trim() === '' ? Number.NaN : Number(text))

/** What is kept of visitors, while an administrator changes it. */
export function usePrivacyForm() {
  const store = useSettingsStore()
  return useVersionedForm<Fields, Settings>({
    name: () => 'settings of privacy',
    blank: () => ({ visitDays: '', fewPeople: '', keepNetwork: false, honourGpc: true }),
    fieldsOf: ({ visitDays, fewPeople, keepNetwork, honourGpc }) => ({
      visitDays: String(visitDays),
      fewPeople: String(fewPeople),
      keepNetwork,
      honourGpc,
    }),
    body: (fields) => ({ ...fields, visitDays: number(fields.visitDays), fewPeople: number(fields.fewPeople) }),
    schema: { change: settingsPatch },
    save: (body, settings, version) => store.changeSettings(settings!, version, body),
  })
}

/** The text for the organisation’s privacy page, by the settings as they are. */
export const callPrivacyText = async (): Promise<string> =>
  (await callApi<{ text: string }>('/settings/privacy-text')).text
