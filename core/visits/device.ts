import Bowser from 'bowser'

/** What a visitor came on, as far as the user agent says; empty where it does not. */
export interface Device {
  device: string
  system: string
  browser: string
}

const UNKNOWN: Device = { device: '', system: '', browser: '' }

/** Reads device kind, system and browser from a user agent; names only, no versions. */
export function readDevice(userAgent: string): Device {
  if (userAgent === '') return UNKNOWN
  try {
    const parsed = Bowser.parse(userAgent)
    return {
      device: parsed.platform.type ?? '',
      system: parsed.os.name ?? '',
      browser: parsed.browser.name ?? '',
    }
  } catch {
    return UNKNOWN
  }
}
