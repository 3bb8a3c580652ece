import { daysFrom } from '~~/core/time/siteDay'

/** All days from the first to the last that there is anything of, so that days without anything are seen as gaps. */
export function dayAxis(days: readonly string[]): string[] {
  const sorted = [...days].sort()
  return sorted.length === 0 ? [] : daysFrom(sorted[0]!, sorted.at(-1)!)
}

/** Nov 3 */
export function shortDay(day: string): string {
  return new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', timeZone: 'UTC' }).format(Date.parse(day))
}
