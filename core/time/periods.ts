import { daysFrom } from './siteDay'

/** What days are put together to. */
export const PERIODS = ['day', 'week', 'month'] as const
export type Period = (typeof PERIODS)[number]

/**
 * The first day of each period within some days. Weeks begin on Monday, months on the 1st; the first period begins with
 * the first day, wherever that lies in it.
 *
 * @example periodStarts('2026-11-04', '2026-11-16', 'week') // ['2026-11-04', '2026-11-09', '2026-11-16']
 */
export function periodStarts(from: string, to: string, period: Period): string[] {
  return daysFrom(from, to).filter((day) => day === from || begins(day, period))
}

function begins(day: string, period: Period): boolean {
  if (period === 'day') return true
  return period === 'month' ? day.endsWith('-01') : new Date(`${day}T00:00:00Z`).getUTCDay() === 1
}
