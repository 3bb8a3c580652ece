import { isWithin } from '../measurement/elementPath'
import { saysDetail, type EventDetails } from '../measurement/eventDetails'
import { isOfVisits, LEADING_ELEMENT, type MetricSource, type VisitSource } from '../measurement/metric'
import { matchesPageRule } from '../targeting/pageRule'
import { KIND, type Block, type StepKind, type Visits } from './visits'

/** What is counted in visits: the same as metrics count, in each of them. */
export type CountedSource = MetricSource

/** Whether a step of a block is one. */
export type IsCounted = (block: Block, row: number) => boolean

/** Kinds of steps that a source looks at. */
export const KINDS_COUNTED: Record<CountedSource['type'], readonly StepKind[]> = {
  visit: ['page'],
  click: ['click'],
  submit: ['submit'],
  pageAmount: ['amount'],
  event: ['custom'],

  engagement: ['click', 'submit'],
  error: ['error'],
  timeInView: ['reading'],

  visits: ['page'],
  bounces: ['page'],
  visitTime: ['page'],
  return: ['page'],
}

const DAY = 86_400_000

/**
 * A test for what a source counts, as `isCounted` of `core/measurement` defines it. What it asks of addresses, elements
 * and names is answered once for each of them: a step then costs a lookup. What is counted of whole visits is counted
 * at the last page of each, and so comes after whatever page of it one asks about.
 */
export function countedSteps(visits: Visits, source: CountedSource): IsCounted {
  if (isOfVisits(source)) return (block, row) => Number.isFinite(ofVisits(source, block)[row])
  const isOne = stepTest(visits, source)
  if (!('page' in source) || !source.page) return isOne
  const { page } = source
  const isOn = visits.addresses.table((address) => matchesPageRule(page, address))
  return (block, row) => isOn[block.address[row]!] === 1 && isOne(block, row)
}

function stepTest(visits: Visits, source: Exclude<CountedSource, VisitSource>): IsCounted {
  const ofKind =
    (kind: number): IsCounted =>
    (block, row) =>
      block.kind[row] === kind
  const within = (kind: number, selector: string): IsCounted => {
    const isElement = visits.elements.table((element) => isWithin(element, selector))
    return (block, row) => block.kind[row] === kind && isElement[block.element[row]!] === 1
  }
  const named = (kind: number, text: string): IsCounted => {
    const name = visits.names.find(text) ?? -1
    return (block, row) => block.kind[row] === kind && block.isRepeat[row] === 0 && block.name[row] === name
  }
  switch (source.type) {
    case 'visit':
      return ofKind(KIND.page)
    case 'click':
    case 'submit':
      return within(KIND[source.type], source.selector)
    case 'pageAmount':
      return named(KIND.amount, source.selector)
    case 'event': {
      const { detail } = source
      const isNamed = named(KIND.custom, source.name)
      if (!detail) return isNamed
      return (block, row) =>
        isNamed(block, row) && saysDetail(detail, visits.extras[block.extra[row]!] as EventDetails | null)
    }
    case 'engagement': {
      const isClick = within(KIND.click, LEADING_ELEMENT)
      return (block, row) => block.kind[row] === KIND.submit || isClick(block, row)
    }
    case 'error':
      return ofKind(KIND.error)
    case 'timeInView':
      return ofKind(KIND.reading)
  }
}

/** What a counted step adds: its amount, seconds, or one. */
export function countedAmounts(source: CountedSource): (block: Block, row: number) => number {
  if (source.type === 'visitTime') return (block, row) => ofVisits(source, block)[row]!
  if (source.type === 'timeInView') return (block, row) => block.value[row]! / 1000
  return ({ kind, value }, row) => (kind[row] === KIND.amount || kind[row] === KIND.custom ? value[row]! : 1)
}

/** What each visit of a block comes to, at its last page; NaN everywhere else. A block that changes is another one. */
function ofVisits(source: VisitSource, block: Block): Float64Array {
  const key = JSON.stringify(source)
  const known = computed.get(block) ?? new Map<string, Float64Array>()
  computed.set(block, known)
  const found = known.get(key) ?? visitMarks(source, block)
  known.set(key, found)
  return found
}

const computed = new WeakMap<Block, Map<string, Float64Array>>()

function visitMarks(source: VisitSource, block: Block): Float64Array {
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
      source.type === 'bounces'
        ? pages.length === 1
        : source.type !== 'return' || earlier.some((time) => time < began && time >= began - source.days * DAY)
    if (isOne) marks[last] = source.type === 'visitTime' ? Math.round((at[last]! - began) / 1000) : 1
    earlier.push(at[last]!)
  }
  return marks
}
