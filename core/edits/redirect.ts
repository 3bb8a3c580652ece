import { shortened } from './element'
import type { EditKind } from './kind'

/** Sends visitors to another page. What their address asks for goes with them. */
export interface RedirectEdit {
  kind: 'redirect'
  /** A path of the same site, or a whole address. */
  value: string
}

export const redirectKind: EditKind<RedirectEdit> = {
  problems({ value }) {
    if (!value.trim()) return ['Type the address of the other page, such as /timetable-by-day.']
    if (value.length > 2000) return ['The address is longer than 2,000 characters.']
    return /^(\/(?!\/)|https?:\/\/[^/])/.test(value)
      ? []
      : ['Type a path that begins with a slash, or a whole address that begins with https://.']
  },
  describe: ({ value }) => `Visitors go to ${shortened(value)}`,
  changes: () => 'redirect',
  merge: (_, later) => later,
}

/**
 * Where a redirect leads from an address: parameters of the address go along, unless the target has its own.
 *
 * @param target - path or whole address
 * @param from - the whole address that the visitor asked for
 * @returns null where it would lead to the page it comes from
 * @throws TypeError for what is no address
 * @example redirectTarget('/by-day?view=week', 'https://kc.example/timetable?utm_source=mail#top')
 * // 'https://kc.example/by-day?view=week&utm_source=mail#top'
 */
export function redirectTarget(target: string, from: string): string | null {
  const source = new URL(from)
  const goal = new URL(target, from)
  if (goal.origin === source.origin && goal.pathname === source.pathname) {
    const asked = [...goal.searchParams].every(([name, value]) => source.searchParams.get(name) === value)
    if (asked) return null
  }
  const own = new Set(goal.searchParams.keys())
  for (const [name, value] of source.searchParams) if (!own.has(name)) goal.searchParams.append(name, value)
  if (!goal.hash) goal.hash = source.hash
  return goal.href
}
