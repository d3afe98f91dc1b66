import { DateTime } from 'luxon'
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
      return moment.toFormat(moment.year === DateTime.now().setZone(zone()).year ? 'ccc d LLL, HH:mm' : 'd LLL yyyy')
    },
    /** The exact time, for hovering. */
    exact: (iso: string): string => at(iso).toFormat("cccc d LLLL yyyy, HH:mm:ss '('ZZZZ')'"),
    /** For a datetime-local field, in the organisation's zone. */
    toField: (iso: string | null): string => (iso === null ? '' : at(iso).toFormat("yyyy-MM-dd'T'HH:mm")),
    /** From a datetime-local field. */
    fromField: (text: string): string | null => localMoment(text, zone()),
    zone,
  }
}
