/** An idea that could be tested. */
export interface TestableIdea {
  id: number
  /** Whole weeks that its test takes, from 1. */
  weeks: number
  /** What it is expected to be worth, above 0; in any unit, the same for all. */
  worth: number
  effortDays: number
  /** Pages whose visitors the test needs, all of them while it runs. */
  pages: readonly string[]
}

/** What there is to test with. */
export interface QuarterTerms {
  /** From 1 to 30. */
  weeks: number
  /** Days of effort that the team has; null for as many as it takes. */
  effortDays: number | null
  /** Weeks in which a page is taken by a test that runs already: from, and before. */
  taken: readonly { page: string; from: number; until: number }[]
}

export interface QuarterChoice {
  /** The chosen ideas with the week in which each begins, from 0. */
  planned: { id: number; start: number }[]
  worth: number
  /** No choice is worth more than this. */
  bound: number
  /** Whether it is certain that no choice is worth more. */
  isBest: boolean
}

/** Choices that are looked at before the best one so far is taken. */
const MOST_NODES = 60_000
/** Beginnings that are tried to fit a set of tests into the weeks. */
const MOST_TRIES = 500
const NEARLY = 1e-9

interface Item extends TestableIdea {
  /** Numbers of its pages. */
  on: number[]
  /** The one of them that most ideas need. */
  home: number
}

/**
 * Which ideas to test in the weeks that there are, and when, so that they are worth the most together: no page in two
 * tests at a time, and no more effort than there is. Depth first with two bounds: the effort that is left, and the free
 * weeks of each page, both filled with parts of ideas. Where that would take too long, the best choice found is given
 * with what no choice can exceed.
 *
 * @see Land, Doig (1960), An automatic method of solving discrete programming problems, Econometrica 28; Dantzig (1957),
 *   Discrete-variable extremum problems, Operations Research 5, for filling with parts
 */
export function chooseForQuarter(ideas: readonly TestableIdea[], terms: QuarterTerms): QuarterChoice {
  const { weeks } = terms
  if (!(Number.isInteger(weeks) && weeks >= 1 && weeks <= 30)) throw new RangeError('A plan is of 1 to 30 weeks.')
  const pages = [...new Set([...ideas.flatMap((idea) => idea.pages), ...terms.taken.map(({ page }) => page)])]
  const numberOf = new Map(pages.map((page, index) => [page, index]))
  const taken = pages.map((page) =>
    terms.taken
      .filter((each) => each.page === page)
      .reduce((mask, { from, until }) => mask | span(Math.max(0, from), Math.min(weeks, until)), 0),
  )
  const items = itemsOf(ideas, numberOf, weeks)
  const byEffort = items
    .map((item, at): [Item, number] => [item, at])
    .sort(([a], [b]) => b.worth * a.effortDays - a.worth * b.effortDays)
  const used = pages.map((_, index) => weeksIn(taken[index]!))
  const chosen: Item[] = []
  let starts = new Map<Item, number>()
  let effort = 0
  let worth = 0
  let nodes = 0
  let best: { worth: number; starts: Map<Item, number> } = { worth: 0, starts }
  /** The most that anything left out of the search could be worth. */
  let open = 0

  function boundFrom(index: number): number {
    const byPage = new Map<number, number>()
    let onPages = 0
    // Items come in the order of worth a week, in which a page fills up.
    for (let at = index; at < items.length; at++) {
      const item = items[at]!
      const free = byPage.get(item.home) ?? weeks - used[item.home]!
      const share = Math.min(1, Math.max(0, free) / item.weeks)
      onPages += share * item.worth
      byPage.set(item.home, free - item.weeks)
    }
    return (
      worth +
      Math.min(onPages, terms.effortDays === null ? Infinity : fillEffort(byEffort, index, terms.effortDays - effort))
    )
  }

  function search(index: number): void {
    if (worth > best.worth + NEARLY) best = { worth, starts: new Map(starts) }
    if (index === items.length) return
    const bound = boundFrom(index)
    if (bound <= best.worth + NEARLY) return
    if (++nodes > MOST_NODES) {
      open = Math.max(open, bound)
      return
    }
    const item = items[index]!
    const fits =
      (terms.effortDays === null || effort + item.effortDays <= terms.effortDays + NEARLY) &&
      item.on.every((page) => used[page]! + item.weeks <= weeks)
    if (fits) {
      const before = starts
      const found = schedule([...chosen, item], starts, taken, weeks)
      if (found === 'unknown') open = Math.max(open, bound)
      else if (found) {
        starts = found
        take(item, 1)
        search(index + 1)
        take(item, -1)
        starts = before
      }
    }
    search(index + 1)
  }

  function take(item: Item, sign: 1 | -1): void {
    if (sign === 1) chosen.push(item)
    else chosen.pop()
    for (const page of item.on) used[page]! += sign * item.weeks
    effort += sign * item.effortDays
    worth += sign * item.worth
  }

  search(0)
  const bound = Math.max(best.worth, open)
  return {
    planned: [...best.starts]
      .map(([{ id }, start]) => ({ id, start }))
      .sort((a, b) => a.start - b.start || a.id - b.id),
    worth: best.worth,
    bound,
    isBest: bound <= best.worth + NEARLY,
  }
}

/** Ideas that fit into the weeks at all, the most worth a week first. */
function itemsOf(ideas: readonly TestableIdea[], numberOf: ReadonlyMap<string, number>, weeks: number): Item[] {
  const wanted = ideas.filter((idea) => idea.worth > 0 && idea.weeks <= weeks && idea.pages.length > 0)
  const demand = new Map<string, number>()
  for (const { pages } of wanted) for (const page of pages) demand.set(page, (demand.get(page) ?? 0) + 1)
  return wanted
    .map((idea) => {
      const busiest = [...idea.pages].sort((a, b) => demand.get(b)! - demand.get(a)! || (a < b ? -1 : 1))[0]!
      return { ...idea, on: [...new Set(idea.pages)].map((page) => numberOf.get(page)!), home: numberOf.get(busiest)! }
    })
    .sort((a, b) => b.worth / b.weeks - a.worth / a.weeks || a.id - b.id)
}

/** The most that the effort left can be worth, filled with parts of the ideas that are not decided on. */
function fillEffort(byEffort: readonly [Item, number][], index: number, effort: number): number {
  let left = effort
  let worth = 0
  for (const [item, at] of byEffort) {
    if (at < index) continue
    if (item.effortDays > left) return worth + (item.worth * Math.max(0, left)) / item.effortDays
    worth += item.worth
    left -= item.effortDays
  }
  return worth
}

/**
 * Weeks in which tests can begin so that no page is in two of them; null where there are none, `unknown` where the
 * search was given up.
 *
 * @param known - where the others stood before the last one came
 */
function schedule(
  items: readonly Item[],
  known: ReadonlyMap<Item, number>,
  taken: readonly number[],
  weeks: number,
): Map<Item, number> | null | 'unknown' {
  const masks = [...taken]
  const set = (item: Item, mask: number) => item.on.forEach((page) => (masks[page]! |= mask))
  const isFree = (item: Item, mask: number) => item.on.every((page) => (masks[page]! & mask) === 0)
  for (const [item, start] of known) set(item, span(start, start + item.weeks))
  const last = items.at(-1)!
  for (let start = 0; start + last.weeks <= weeks; start++)
    if (isFree(last, span(start, start + last.weeks))) return new Map(known).set(last, start)

  // Everything is moved: those with the most pages and weeks first, since they find a place the hardest.
  taken.forEach((mask, page) => (masks[page] = mask))
  const order = [...items].sort((a, b) => b.on.length * b.weeks - a.on.length * a.weeks)
  const starts = new Map<Item, number>()
  let tries = 0
  function place(index: number): boolean | 'unknown' {
    const item = order[index]
    if (!item) return true
    for (let start = 0; start + item.weeks <= weeks; start++) {
      const mask = span(start, start + item.weeks)
      if (!isFree(item, mask)) continue
      if (++tries > MOST_TRIES) return 'unknown'
      const before = item.on.map((page) => masks[page]!)
      set(item, mask)
      starts.set(item, start)
      const placed = place(index + 1)
      if (placed !== false) return placed
      item.on.forEach((page, at) => (masks[page] = before[at]!))
    }
    return false
  }
  const placed = place(0)
  return placed === 'unknown' ? placed : placed ? starts : null
}

/** Weeks from one to before another, a bit each. */
function span(from: number, until: number): number {
  return until <= from ? 0 : ((1 << (until - from)) - 1) << from
}

function weeksIn(mask: number): number {
  let count = 0
  for (let rest = mask; rest !== 0; rest &= rest - 1) count++
  return count
}
