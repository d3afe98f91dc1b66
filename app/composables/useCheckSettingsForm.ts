import { settingsPatch, type Settings } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

type Numbers = 'brokenAfter' | 'brokenOverMinutes' | 'checkPerHost' | 'checkPerSecond'
/** Settings as a form holds them: all as text, networks one a line. */
type Fields = Record<Numbers | 'checkContact' | 'checkNetworks', string>

const NUMBERS: readonly Numbers[] = ['brokenAfter', 'brokenOverMinutes', 'checkPerHost', 'checkPerSecond']
const lines = (text: string) =>
  text
    .split(/[\s,]+/)
    .map((line) => line.trim())
    .filter(Boolean)

/** How destinations are checked, while an administrator changes it. */
export function useCheckSettingsForm() {
  const store = useSettingsStore()
  return useVersionedForm<Fields, Settings>({
    name: () => 'settings of checks',
    blank: () => ({
      brokenAfter: '',
      brokenOverMinutes: '',
      checkPerHost: '',
      checkPerSecond: '',
      checkContact: '',
      checkNetworks: '',
    }),
    fieldsOf: (settings) => ({
      brokenAfter: String(settings.brokenAfter),
      brokenOverMinutes: String(settings.brokenOverMinutes),
      checkPerHost: String(settings.checkPerHost),
      checkPerSecond: String(settings.checkPerSecond),
      checkContact: settings.checkContact,
      checkNetworks: settings.checkNetworks.join('\n'),
    }),
    body: (fields) => ({
      ...Object.fromEntries(
        NUMBERS.map((name) => [name, fields[name].trim() === '' ? Number.NaN : Number(fields[name].replace(',', '.'))]),
      ),
      checkContact: fields.checkContact,
      checkNetworks: lines(fields.checkNetworks),
    }),
    schema: { change: settingsPatch },
    save: (body, settings, version) => store.changeSettings(settings!, version, body),
  })
}
