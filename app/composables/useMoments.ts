import { DateTime } from 'luxon'
import { dayWords } from '~~/core/time/day-words'
import { localMoment } from '~~/core/time/local-moment'

/** Moments in the organisation's time zone, as people read them and as fields hold them. */
export function useMoments() {
  const session = useSessionStore()
  const zone = () => session.session?.organisation.timeZone ?? 'UTC'
  const at = (iso: string) => DateTime.fromISO(iso, { zone: zone() }).setLocale('en-GB')
  return {
    /** `Thu 19 Nov, 06:12`; with the year where it is another. */
    short(iso: string): string {
      const moment = at(iso)
      if (!moment.isValid) return iso
      return moment.toFormat(moment.year === DateTime.now().setZone(zone()).year ? 'ccc d LLL, HH:mm' : 'd LLL yyyy')
    },
    /** A calendar day without a time. */
    day: dayWords,
    /** The exact time, for hovering. */
    exact: (iso: string): string => at(iso).toFormat("cccc d LLLL yyyy, HH:mm:ss '('ZZZZ')'"),
    /** For a date field, in the organisation's zone. */
    toField: (iso: string | null): string =>
      iso === null ? '' : at(iso).isValid ? at(iso).toFormat("yyyy-MM-dd'T'HH:mm") : iso,
    /** From a date field; text that is not a moment is passed on unchanged, so that saving reports it. */
    fromField: (text: string): string | null => (text === '' ? null : (localMoment(text, zone()) ?? text)),
    zone,
  }
}
