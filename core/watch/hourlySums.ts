/** What an experiment had come to by an hour: sums since its start. */
export interface HourlySums {
  /** Visits of the site within the hour before. */
  visits: number
  /** Visitors of each arm, the control first. */
  visitors: readonly number[]
  /** Of the visitors of each arm, those of whom it is known when the changes showed, and to whom they showed late. */
  timed: readonly number[]
  late: readonly number[]
  /** Of each metric by its id, visitors of each arm with something. */
  active: Readonly<Record<string, readonly number[]>>
}

/** What came within the last hours, and within all the time before them since the sums begin. */
export function parted(sums: readonly HourlySums[], window: number, isBeforeNeeded = true) {
  const [now, start, first] = [sums.at(-1), sums.at(-1 - window), sums[0]]
  if (!now || !start || !first || (isBeforeNeeded && start === first)) return { before: null, within: null }
  const end = sums.length
  return {
    before: between(first, start, sums.slice(1, end - window)),
    within: between(start, now, sums.slice(end - window)),
  }
}

function between(from: HourlySums, to: HourlySums, hoursBetween: readonly HourlySums[]): HourlySums {
  const less = (a: readonly number[] | undefined, b: readonly number[] | undefined) =>
    // Numbers that were computed anew may have become fewer.
    (a ?? []).map((count, arm) => Math.max(0, count - (b?.[arm] ?? 0)))
  return {
    visits: hoursBetween.reduce((sum, { visits }) => sum + visits, 0),
    visitors: less(to.visitors, from.visitors),
    timed: less(to.timed, from.timed),
    late: less(to.late, from.late),
    active: Object.fromEntries(Object.keys(to.active).map((id) => [id, less(to.active[id], from.active[id])])),
  }
}

/** Over all arms. */
export function total(counts: readonly number[] | undefined): number {
  return (counts ?? []).reduce((sum, count) => sum + count, 0)
}
