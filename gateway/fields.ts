/**
 * The request fields the gateway looks at, read in one pass; Node's own object of all fields would cost more than the
 * answer.
 */
export interface RequestFields {
  host: string | undefined
  /** More than one Host came (RFC 9112 §3.2). */
  hostDoubled: boolean
  userAgent: string
  acceptLanguage: string
  referer: string
  forwarded: string | undefined
  xForwardedFor: string | undefined
  xForwardedProto: string | undefined
  /** Sec-Purpose, or the older Purpose. */
  purpose: string
  /** Sec-GPC: the visitor asks not to be told apart (Global Privacy Control, W3C). */
  gpc: boolean
  /** Sec-CH-UA-Mobile and Sec-CH-UA-Platform (User-Agent Client Hints, WICG); empty where they did not come. */
  mobileHint: string
  platformHint: string
  /** A body of unknown or large size follows. */
  largeBody: boolean
}

const LARGE = 65_536

/** Reads the fields of `rawHeaders` (name, value, name, value…). Of a field that came twice the last stands. */
export function readFields(raw: readonly string[]): RequestFields {
  const fields: RequestFields = {
    host: undefined,
    hostDoubled: false,
    userAgent: '',
    acceptLanguage: '',
    referer: '',
    forwarded: undefined,
    xForwardedFor: undefined,
    xForwardedProto: undefined,
    purpose: '',
    gpc: false,
    mobileHint: '',
    platformHint: '',
    largeBody: false,
  }
  for (let index = 0; index < raw.length; index += 2) {
    // The length tells most names apart before any letter is compared.
    switch (raw[index]!.length) {
      case 4:
        if (isName(raw[index]!, 'host')) {
          fields.hostDoubled = fields.host !== undefined
          fields.host ??= raw[index + 1]!
        }
        break
      case 7:
        if (isName(raw[index]!, 'referer')) fields.referer = raw[index + 1]!
        else if (isName(raw[index]!, 'purpose')) fields.purpose ||= raw[index + 1]!
        else if (isName(raw[index]!, 'sec-gpc')) fields.gpc = raw[index + 1] === '1'
        break
      case 9:
        if (isName(raw[index]!, 'forwarded')) fields.forwarded = raw[index + 1]!
        break
      case 10:
        if (isName(raw[index]!, 'user-agent')) fields.userAgent = raw[index + 1]!
        break
      case 11:
        if (isName(raw[index]!, 'sec-purpose')) fields.purpose = raw[index + 1]!
        break
      case 14:
        if (isName(raw[index]!, 'content-length')) fields.largeBody ||= Number(raw[index + 1]) > LARGE
        break
      case 15:
        if (isName(raw[index]!, 'accept-language')) fields.acceptLanguage = raw[index + 1]!
        else if (isName(raw[index]!, 'x-forwarded-for')) fields.xForwardedFor = raw[index + 1]!
        break
      case 16:
        if (isName(raw[index]!, 'sec-ch-ua-mobile')) fields.mobileHint = raw[index + 1]!
        break
      case 17:
        if (isName(raw[index]!, 'transfer-encoding')) fields.largeBody = true
        else if (isName(raw[index]!, 'x-forwarded-proto')) fields.xForwardedProto = raw[index + 1]!
        break
      case 18:
        if (isName(raw[index]!, 'sec-ch-ua-platform')) fields.platformHint = raw[index + 1]!
        break
    }
  }
  return fields
}

const isName = (input: string, name: string) => input === name || input.toLowerCase() === name
