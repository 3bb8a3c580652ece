import { countingOf, type StepTest, type VisitCounting } from '../measurement/counting'
import { isWithin } from '../measurement/elementPath'
import { saysDetail, type EventDetails } from '../measurement/eventDetails'
import type { MetricSource } from '../measurement/metric'
import { matchesPageRule } from '../targeting/pageRule'
import { KIND, type Block, type StepKind, type Visits } from './visits'
import { DAY } from '../time/units'

/** What is counted in visits: the same as metrics count, in each of them. */
export type CountedSource = MetricSource

/** Whether a step of a block is one. */
export type IsCounted = (block: Block, row: number) => boolean

/** Kinds of steps that a source looks at: of whole visits, their pages. */
export function kindsCounted(source: CountedSource): readonly StepKind[] {
  const counting = countingOf(source)
  return counting.of === 'visits' ? ['page'] : counting.anyOf.map(({ kind }) => kind)
}

/**
 * A test for what a source counts, as `core/measurement/counting.ts` says it. What it asks of addresses, elements and
 * names is answered once for each of them: a step then costs a lookup. What is counted of whole visits is counted at the
 * last page of each, and so comes after whatever page of it one asks about.
 */
export function countedSteps(visits: Visits, source: CountedSource): IsCounted {
  const counting = countingOf(source)
  if (counting.of === 'visits') return (block, row) => Number.isFinite(ofVisits(counting, block)[row])
  const { anyOf, pages, isOnce } = counting
  const tests = anyOf.map((test) => stepTest(visits, test))
  const [first, ...others] = tests
  const fits = others.length === 0 ? first! : (block: Block, row: number) => tests.some((test) => test(block, row))
  const isOne: IsCounted = isOnce ? (block, row) => block.isRepeat[row] === 0 && fits(block, row) : fits
  if (!pages || pages === 'tested') return isOne
  const isOn = visits.addresses.table((address) => matchesPageRule(pages, address))
  return (block, row) => isOn[block.address[row]!] === 1 && isOne(block, row)
}

function stepTest(visits: Visits, { kind, within, name, detail }: StepTest): IsCounted {
  const wanted = KIND[kind]
  let test: IsCounted = (block, row) => block.kind[row] === wanted
  const and = (one: IsCounted, other: IsCounted): IsCounted => {
    return (block, row) => one(block, row) && other(block, row)
  }
  if (within !== undefined) {
    const isElement = visits.elements.table((element) => isWithin(element, within))
    test = and(test, (block, row) => isElement[block.element[row]!] === 1)
  }
  if (name !== undefined) {
    const place = visits.names.find(name) ?? -1
    test = and(test, (block, row) => block.name[row] === place)
  }
  if (detail)
    test = and(test, (block, row) => saysDetail(detail, visits.extras[block.extra[row]!] as EventDetails | null))
  return test
}

/** What a counted step adds: its amount, seconds, or one. */
export function countedAmounts(source: CountedSource): (block: Block, row: number) => number {
  const counting = countingOf(source)
  if (counting.of === 'visits')
    return counting.adds === 'one' ? () => 1 : (block, row) => ofVisits(counting, block)[row]!
  if (counting.adds === 'one') return () => 1
  if (counting.adds === 'seconds') return (block, row) => block.value[row]! / 1000
  return (block, row) => block.value[row]!
}

/** What each visit of a block comes to, at its last page; NaN everywhere else. A block that changes is another one. */
function ofVisits(counting: VisitCounting, block: Block): Float64Array {
  const key = JSON.stringify(counting)
  const known = computed.get(block) ?? new Map<string, Float64Array>()
  computed.set(block, known)
  const found = known.get(key) ?? visitMarks(counting, block)
  known.set(key, found)
  return found
}

const computed = new WeakMap<Block, Map<string, Float64Array>>()

function visitMarks({ which, adds }: VisitCounting, block: Block): Float64Array {
  const { runs, visitor, kind, at, count } = block
  const marks = new Float64Array(count).fill(NaN)
  let earlier: number[] = []
  for (let run = 0; run < runs.length - 1; run++) {
    if (run > 0 && visitor[runs[run]!] !== visitor[runs[run - 1]!]) earlier = []
    const pages: number[] = []
    for (let row = runs[run]!; row < runs[run + 1]!; row++) if (kind[row] === KIND.page) pages.push(row)
    if (pages.length === 0) continue
    const last = pages.at(-1)!
    const began = at[pages[0]!]!
    const isOne =
      which === 'each' ||
      (which === 'onePage'
        ? pages.length === 1
        : earlier.some((time) => time < began && time >= began - which.withinDays * DAY))
    if (isOne) marks[last] = adds === 'seconds' ? Math.round((at[last]! - began) / 1000) : 1
    earlier.push(at[last]!)
  }
  return marks
}
