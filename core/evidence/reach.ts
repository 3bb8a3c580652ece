import { matchesPageRule, type PageRule } from '../targeting/pageRule'
import { countedAmounts, countedSteps, type CountedSource } from './countedSteps'
import { eachSession } from './sessionRuns'
import { KIND, type Visits } from './visits'

/** Whom an idea reaches, and what those did. */
export interface Reach {
  /** With a view of such a page. */
  visitors: number
  /** Of them those who did, in the same session at or after their first view, what the metric counts. */
  converters: number
  /** Things counted there. */
  counted: number
  /** The same, or their amounts, and the sum of the squares of a visitor's. */
  sum: number
  squares: number
  /** Sum of a visitor's own times what else is asked of them; 0 where nothing else is. */
  products: number
}

/**
 * Visitors of some pages and what they did from there on, as the report of pages counts them.
 *
 * @param selected - 1 for each session that is looked at (`selectSessions`)
 * @param rule - the pages; null for all
 * @param source - what the metric counts
 * @param cap - most that a visitor's sum counts as; null for no cap
 * @param other - what is counted of the same visitors beside it, as what a ratio is divided by
 */
export function reachOf(
  visits: Visits,
  selected: Uint8Array,
  rule: PageRule | null,
  source: CountedSource,
  cap: number | null = null,
  other: CountedSource | null = null,
): Reach {
  const isCounted = countedSteps(visits, source)
  const amountOf = countedAmounts(source)
  const isOther = other ? countedSteps(visits, other) : null
  const otherAmountOf = other ? countedAmounts(other) : null
  const isOn = rule ? visits.addresses.table((address) => matchesPageRule(rule, address)) : null
  const reach: Reach = { visitors: 0, converters: 0, counted: 0, sum: 0, squares: 0, products: 0 }
  const own = { visitor: -1, count: 0, sum: 0, other: 0 }
  /** Sessions of a visitor follow each other. */
  function closeVisitor(): void {
    if (own.visitor === -1) return
    reach.visitors++
    if (own.count > 0) reach.converters++
    const sum = cap === null ? own.sum : Math.min(own.sum, cap)
    reach.sum += sum
    reach.squares += sum ** 2
    reach.products += sum * own.other
    reach.counted += own.count
  }
  eachSession(visits, selected, (block, first, end) => {
    const { kind, address, visitor } = block
    let view = first
    while (view < end && (kind[view] !== KIND.page || (isOn && isOn[address[view]!] !== 1))) view++
    if (view === end) return
    if (own.visitor !== visitor[first]!) {
      closeVisitor()
      Object.assign(own, { visitor: visitor[first]!, count: 0, sum: 0, other: 0 })
    }
    for (let row = view; row < end; row++) {
      if (isOther?.(block, row)) own.other += otherAmountOf!(block, row)
      if (!isCounted(block, row)) continue
      own.count++
      own.sum += amountOf(block, row)
    }
  })
  closeVisitor()
  return reach
}
