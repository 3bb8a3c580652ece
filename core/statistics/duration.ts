/**
 * How long a run takes to gather its visitors.
 *
 * @param visitors - needed in all arms together
 * @param newVisitors - visitors seen for the first time on each day of a run, at least one day; later days repeat the
 *   last week of it (or all of it, where it is shorter)
 * @returns days, and the whole weeks that hold them; null where nobody new would come
 * @example runLength(5000, [900]) // { days: 6, weeks: 1 }
 */
export function runLength(visitors: number, newVisitors: readonly number[]): { days: number; weeks: number } | null {
  const pattern = newVisitors.slice(-7)
  const known = newVisitors.slice(0, newVisitors.length - pattern.length)
  let gathered = 0
  let days = 0
  for (; days < known.length && gathered < visitors; days++) gathered += known[days]!
  if (gathered < visitors) {
    const perRound = pattern.reduce((sum, count) => sum + count, 0)
    if (!(perRound > 0)) return null
    const rounds = Math.max(0, Math.ceil((visitors - gathered) / perRound) - 1)
    gathered += rounds * perRound
    days += rounds * pattern.length
    for (let day = 0; gathered < visitors; day++, days++) gathered += pattern[day % pattern.length]!
  }
  return { days, weeks: Math.ceil(days / 7) }
}
