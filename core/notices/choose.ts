import { LANES, type LaneName } from '../docket'
import type { Role } from '../schemas/roles'

/** What a member is told, and when. */
export interface NoticeSettings {
  /** Lanes of the docket. */
  lanes: readonly LaneName[]
  /** Only of links whose owner they are. */
  onlyMine: boolean
  /** Only of cases that harm at least so many visits a day. */
  minVisits: number
  digest: 'none' | 'daily' | 'weekly'
  /** By the organisation's clock. */
  digestHour: number
  /** 1 is Monday, as ISO 8601 counts. */
  digestWeekday: number
  /** Told at once of what harms at least so many visits a day. */
  atOnce: boolean
  atOnceVisits: number
  /** No mail between these hours; what comes up waits. */
  quiet: boolean
  quietFrom: number
  quietTo: number
  /** Whether the report of each week’s visits comes by mail. */
  report: boolean
}

/** What somebody is told who never said: administrators what harms, all others nothing. */
export const defaultSettings = (role: Role): NoticeSettings => ({
  lanes: Object.keys(LANES) as LaneName[],
  onlyMine: false,
  minVisits: 1,
  digest: role === 'administrator' ? 'daily' : 'none',
  digestHour: 8,
  digestWeekday: 1,
  atOnce: role === 'administrator',
  atOnceVisits: 50,
  quiet: true,
  quietFrom: 22,
  quietTo: 7,
  report: false,
})

/** A case as it is chosen by. */
export interface ToldCase {
  lane: LaneName
  /** Visits a day it harms: affected, by the share of them harmed. */
  harmed: number
  /** How near its harm is: 1 where it is there, less where it lies ahead (semantics §14). */
  nearness: number
  /** Owners of the links it is about. */
  owners: readonly string[]
}

const plain = (text: string) => text.trim().toLowerCase()

/** Whether a member is told of a case at all; `names` are what links call the member by: name and address. */
export function isTold(settings: NoticeSettings, names: readonly string[], one: ToldCase): boolean {
  if (!settings.lanes.includes(one.lane)) return false
  if (settings.onlyMine) {
    const mine = new Set(names.map(plain))
    if (!one.owners.some((owner) => mine.has(plain(owner)))) return false
  }
  return one.harmed >= settings.minVisits
}

/** Visits a day that cases harm together, those ahead by how near they are. */
const harmedOf = (cases: readonly ToldCase[]): number =>
  cases.reduce((sum, { harmed, nearness }) => sum + harmed * nearness, 0)

/** Whether the cases of one cause are told a member at once: those the member cares for harm enough together. */
export function wantsAtOnce(settings: NoticeSettings, names: readonly string[], cases: readonly ToldCase[]): boolean {
  if (!settings.atOnce) return false
  // Many small ones of one cause are one great one: the least a single case must harm does not count here.
  const mine = cases.filter((one) => isTold({ ...settings, minVisits: 0 }, names, one))
  return mine.length > 0 && harmedOf(mine) >= settings.atOnceVisits
}
