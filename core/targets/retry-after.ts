/** Nobody is believed who asks for more. */
const MAX_MS = 7 * 86_400_000

/**
 * How long Retry-After asks to wait from `now`, in milliseconds: delay-seconds, or an HTTP-date in any of its three
 * forms (RFC 9110 §10.2.3, §5.6.7). `undefined` where it says nothing that can be read; at most a week.
 */
export function retryAfterMs(value: string | null | undefined, now: number): number | undefined {
  const text = value?.trim() ?? ''
  if (/^\d{1,12}$/.test(text)) return Math.min(MAX_MS, Number(text) * 1000)
  const at = httpDate(text, now)
  return at === undefined ? undefined : Math.min(MAX_MS, Math.max(0, at - now))
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const TIME = '(\\d{2}):(\\d{2}):(\\d{2})'
const FIXED = new RegExp(`^[A-Z][a-z]{2}, (\\d{2}) ([A-Z][a-z]{2}) (\\d{4}) ${TIME} GMT$`)
const RFC_850 = new RegExp(`^[A-Z][a-z]{5,8}, (\\d{2})-([A-Z][a-z]{2})-(\\d{2}) ${TIME} GMT$`)
const ASCTIME = new RegExp(`^[A-Z][a-z]{2} ([A-Z][a-z]{2}) ([ \\d]\\d) ${TIME} (\\d{4})$`)

/**
 * An HTTP-date in milliseconds (RFC 9110 §5.6.7); a year of two digits is the latest that is not over 50 years ahead.
 */
function httpDate(text: string, now: number): number | undefined {
  const fixed = FIXED.exec(text)
  if (fixed) return moment(fixed[3]!, fixed[2]!, fixed[1]!, fixed.slice(4))
  const old = RFC_850.exec(text)
  if (old) {
    const thisYear = new Date(now).getUTCFullYear()
    const century = Math.floor(thisYear / 100) * 100
    const year = [100, 0, -100].map((more) => century + more + Number(old[3])).find((one) => one - thisYear <= 50)!
    return moment(String(year), old[2]!, old[1]!, old.slice(4))
  }
  const c = ASCTIME.exec(text)
  return c ? moment(c[6]!, c[1]!, c[2]!, c.slice(3, 6)) : undefined
}

function moment(year: string, month: string, day: string, [hour, minute, second]: string[]): number | undefined {
  const index = MONTHS.indexOf(month)
  if (index === -1) return undefined
  const at = Date.UTC(Number(year), index, Number(day), Number(hour), Number(minute), Number(second))
  return Number.isNaN(at) ? undefined : at
}
