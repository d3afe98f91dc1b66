import { noticeSettingsPatch, type NoticeSettingsView } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

type Fields = Omit<NoticeSettingsView, 'email' | 'sends' | 'version' | 'minVisits' | 'atOnceVisits'> &
  Record<'minVisits' | 'atOnceVisits', string>

const number = (text: string) => (text.trim() === '' ? Number.NaN : Number(text.replace(/[\s,]/g, '')))

/** What a member is told by mail, while they change it. */
export function useNoticeForm() {
  const store = useNoticesStore()
  return useVersionedForm<Fields, NoticeSettingsView>({
    name: () => 'notices',
    blank: () => ({
      lanes: [],
      onlyMine: false,
      minVisits: '',
      digest: 'none',
      digestHour: 8,
      digestWeekday: 1,
      atOnce: false,
      atOnceVisits: '',
      quiet: false,
      quietFrom: 22,
      quietTo: 7,
      report: false,
    }),
    fieldsOf: ({ email: _email, sends: _sends, version: _version, minVisits, atOnceVisits, ...settings }) => ({
      ...settings,
      minVisits: String(minVisits),
      atOnceVisits: String(atOnceVisits),
    }),
    body: (fields) => ({
      ...fields,
      minVisits: number(fields.minVisits),
      atOnceVisits: number(fields.atOnceVisits),
    }),
    schema: { change: noticeSettingsPatch },
    save: (body, _settings, version) => store.changeSettings(version, body),
  })
}
