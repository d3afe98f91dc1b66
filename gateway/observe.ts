import { createHmac } from 'node:crypto'
import type { BlockList } from 'node:net'
import { markIn } from '../core/address'
import type { Admission } from '../core/misses'
import type { Answer } from '../core/table'
import {
  agentKind,
  firstLanguage,
  forwardedAddress,
  networkOf,
  readDevice,
  referrerHost,
  referrerPage,
  visitKind,
  writeEvent,
  writeVisitor,
  type AgentKind,
} from '../core/visits'
import type { CountryOf } from './country'
import type { RequestFields } from './fields'
import { plainAddress, trustedBy } from '../environment/peer'

const REMEMBERED = 20_000

/** What is computed of a visitor once and written with each request. */
interface Visitor {
  /** Names the visitor for a day. */
  token: string
  /** What it asked for in vain last, as `domain/path`, and when. */
  missed: string
  missedAt: number
  agent: AgentKind
  /** The visitor's part of the line. */
  written: string
}

/** A visitor who finds a link so soon after a miss most likely meant it. */
const FOLLOW_MS = 600_000

/** Whether a request found nothing, or only what is gone. */
const isMiss = ({ outcome, location, canonical }: Answer): boolean =>
  canonical !== '' &&
  (outcome === 'not-found' ||
    outcome === 'scheduled' ||
    ((outcome === 'ended' || outcome === 'retired') && location === null))
/** Longer paths are told apart by so many characters, as the database does; what is remembered stays small. */
const MAX_PATH = 600
const missName = ({ linkId, canonical }: Answer) => (linkId === 0 ? canonical.slice(0, MAX_PATH) : `#${linkId}`)

/** What an organisation keeps of its visitors. */
export interface Privacy {
  /** Visitors who ask not to be told apart are counted without a token. */
  honourGpc: boolean
  /** The network a visitor comes from is kept, the address cut to /24 or /48. */
  keepNetwork: boolean
}

/** What the observer needs from outside. */
export interface ObserverSources {
  /** Bounds what is written of requests that found nothing. */
  admission: Admission
  /** The day's secret for visitor tokens. */
  secretAt(now: number): Buffer
  countryOf: CountryOf
  trustedProxies: BlockList
  /** What the organisation keeps of visitors, by now. */
  privacy(): Privacy
}

/**
 * Makes the spool's line for an answered request. Visitors come again, so what is computed from address, user agent
 * and language is remembered, within bounds, until the day's secret goes. Gives `undefined` for a miss that is one too
 * many.
 */
export function createObserver(sources: ObserverSources) {
  let visitors = new Map<string, Visitor>()
  let visitorsSecret: Buffer | undefined

  const isTrusted = trustedBy(sources.trustedProxies)

  function visitorOf(address: string, fields: RequestFields, privacy: Privacy, now: number): Visitor {
    const [userAgent, acceptLanguage] = [fields.userAgent.slice(0, 500), fields.acceptLanguage.slice(0, 200)]
    const hints = { mobile: fields.mobileHint.slice(0, 2), platform: fields.platformHint.slice(0, 42) }
    const secret = sources.secretAt(now)
    if (secret !== visitorsSecret) {
      visitors = new Map()
      visitorsSecret = secret
    }
    const unnamed = fields.gpc && privacy.honourGpc
    const key =
      `${address}\n${userAgent}\n${acceptLanguage}\n${hints.mobile}\n${hints.platform}\n` +
      `${unnamed ? 1 : 0}${privacy.keepNetwork ? 1 : 0}`
    let visitor = visitors.get(key)
    if (!visitor) {
      const token = createHmac('sha256', secret).update(`${address}\n${userAgent}`).digest('hex').slice(0, 32)
      visitor = {
        token,
        missed: '',
        missedAt: 0,
        agent: agentKind(userAgent),
        written: writeVisitor({
          country: sources.countryOf(address),
          language: firstLanguage(acceptLanguage),
          ...readDevice(userAgent, hints),
          visitor: unnamed ? '' : token,
          network: privacy.keepNetwork && !unnamed ? networkOf(address) : '',
        }),
      }
      if (visitors.size >= REMEMBERED) visitors.clear()
      visitors.set(key, visitor)
    }
    return visitor
  }

  // A kept connection mostly brings the same visitor again: then nothing need be looked up.
  const last = new WeakMap<
    object,
    {
      address: string
      userAgent: string
      acceptLanguage: string
      gpc: boolean
      mobileHint: string
      platformHint: string
      privacy: Privacy
      secret: Buffer | undefined
      visitor: Visitor
    }
  >()

  return function observe(
    socket: { remoteAddress?: string },
    method: string,
    fields: RequestFields,
    answer: Answer,
    now: number,
    target = '',
  ): string | undefined {
    let address = plainAddress(socket.remoteAddress)
    if ((fields.forwarded ?? fields.xForwardedFor) !== undefined && isTrusted(address))
      address = forwardedAddress(fields, isTrusted) ?? address
    const { userAgent, acceptLanguage, gpc, mobileHint, platformHint } = fields
    const privacy = sources.privacy()
    const before = last.get(socket)
    let visitor: Visitor
    if (
      before?.address === address &&
      before.userAgent === userAgent &&
      before.acceptLanguage === acceptLanguage &&
      before.gpc === gpc &&
      before.mobileHint === mobileHint &&
      before.platformHint === platformHint &&
      before.privacy === privacy &&
      before.secret === sources.secretAt(now)
    ) {
      visitor = before.visitor
    } else {
      visitor = visitorOf(address, fields, privacy, now)
      last.set(socket, {
        address,
        userAgent,
        acceptLanguage,
        gpc,
        mobileHint,
        platformHint,
        privacy,
        secret: visitorsSecret,
        visitor,
      })
    }
    const kind = visitKind({
      method,
      redirected: answer.outcome === 'redirect',
      agent: visitor.agent,
      purpose: fields.purpose,
    })
    const missed = isMiss(answer)
    if (missed && !sources.admission.admits(answer.domainId, missName(answer), visitor.token, now)) return undefined
    let after = ''
    if (kind === 'visit' && visitor.missed !== '') {
      if (now - visitor.missedAt <= FOLLOW_MS) after = visitor.missed
      visitor.missed = ''
    } else if (missed && kind === 'page') {
      visitor.missed = `${answer.domainId}/${answer.canonical}`
      visitor.missedAt = now
    }
    return writeEvent(
      {
        at: now,
        domainId: answer.domainId,
        linkId: answer.linkId,
        kind,
        status: answer.status,
        outcome: answer.outcome,
        path: answer.linkId === 0 || answer.mended !== null || missed ? answer.canonical : '',
        referrer: fields.referer === '' ? '' : referrerHost(fields.referer),
        ruleId: answer.ruleId,
        mended: answer.mended ?? '',
        channel: markIn(target),
        after,
        page: missed ? referrerPage(fields.referer) : '',
      },
      visitor.written,
    )
  }
}
