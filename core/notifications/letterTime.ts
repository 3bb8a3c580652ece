import { dayAfter } from '../time/siteDay'
import { localMoment, localTime } from '../time/localMoment'
import { MINUTE } from '../time/units'
import type { Way } from './occurrence'

/** What comes within a minute goes into one letter. */
export const GATHERED_FOR = MINUTE
/** However much happens, no more letters than one in so long. */
export const BETWEEN_LETTERS = 10 * MINUTE

/** When letters may come, in minutes of the day by the clock of the person. */
export interface LetterTimes {
  /** Name in the IANA database. */
  timeZone: string
  /** No letter between the two; the same twice is no pause. The second may lie on the next day. */
  quietFrom: number
  quietUntil: number
  /** Of the morning letter. */
  morningAt: number
}

export const DEFAULT_TIMES = { quietFrom: 20 * 60, quietUntil: 7 * 60, morningAt: 8 * 60 } as const

/**
 * When somebody may be written to about what happens at a moment.
 *
 * @param at - ms since 1970
 * @returns ms since 1970; null where no letter is sent
 * @example
 * const times = { timeZone: 'Europe/Dublin', quietFrom: 1200, quietUntil: 420, morningAt: 480 }
 * letterTime('now', Date.UTC(2026, 0, 5, 23), times) // Date.UTC(2026, 0, 6, 7): quiet until seven
 * letterTime('morning', Date.UTC(2026, 0, 5, 9), times) // Date.UTC(2026, 0, 6, 8)
 */
export function letterTime(way: Way, at: number, times: LetterTimes): number | null {
  if (way === 'now') return afterQuiet(at + GATHERED_FOR, times)
  if (way === 'morning') return nextAt(times.morningAt, at, times.timeZone)
  return null
}

/** The first moment from then on that is not within the quiet hours. */
function afterQuiet(at: number, { timeZone, quietFrom, quietUntil }: LetterTimes): number {
  const minute = minuteOfDay(localTime(at, timeZone))
  const isQuiet =
    quietFrom <= quietUntil ? minute >= quietFrom && minute < quietUntil : minute >= quietFrom || minute < quietUntil
  return isQuiet ? nextAt(quietUntil, at, timeZone) : at
}

/** The next moment after another at which the clock shows a minute of the day. */
function nextAt(minute: number, after: number, timeZone: string): number {
  const clock = `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
  const day = localTime(after, timeZone).slice(0, 10)
  const today = localMoment(`${day}T${clock}`, timeZone).at
  return today > after ? today : localMoment(`${dayAfter(day)}T${clock}`, timeZone).at
}

function minuteOfDay(local: string): number {
  const [hours, minutes] = local.slice(11).split(':').map(Number)
  return hours! * 60 + minutes!
}
