import Bowser from 'bowser'

/** What a visitor came on, as far as the user agent says; empty where it does not. */
export interface Device {
  device: string
  system: string
  browser: string
}

const UNKNOWN: Device = { device: '', system: '', browser: '' }

/** What a browser says of itself beside its user agent (User-Agent Client Hints, WICG): “?1” and “"Android"”. */
export interface DeviceHints {
  mobile: string
  platform: string
}
const NO_HINTS: DeviceHints = { mobile: '', platform: '' }

/** Reads device kind, system and browser from a user agent and its hints; names only, no versions. */
export function readDevice(userAgent: string, { mobile, platform }: DeviceHints = NO_HINTS): Device {
  if (userAgent === '') return UNKNOWN
  try {
    const parsed = Bowser.parse(userAgent)
    const hinted = /^"([^"\\]{1,40})"$/.exec(platform)?.[1]
    return {
      device: mobile === '?1' && parsed.platform.type !== 'tablet' ? 'mobile' : (parsed.platform.type ?? ''),
      system: hinted === undefined ? (parsed.os.name ?? '') : (SYSTEMS[hinted] ?? parsed.os.name ?? ''),
      browser: parsed.browser.name ?? '',
    }
  } catch {
    return UNKNOWN
  }
}

/** What systems are called in hints, and by those who read user agents. */
const SYSTEMS: Record<string, string> = {
  Android: 'Android',
  'Chrome OS': 'Chrome OS',
  'Chromium OS': 'Chrome OS',
  iOS: 'iOS',
  Linux: 'Linux',
  macOS: 'macOS',
  Windows: 'Windows',
}
