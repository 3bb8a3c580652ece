import { seededUniform } from '../../random/seededUniform'
import { elementInWords } from '../../measurement/elementInWords'
import type { Share } from '../../statistics/newcombe'
import { eachFormSession } from '../formReport'
import { eachSession } from '../sessionRuns'
import { KIND, type Visits } from '../visits'
import {
  falseLargerShares,
  falseLongerTimes,
  largerShares,
  longerTimes,
  type FalseAlarms,
  type ShareSample,
  type TimeSample,
} from './rules'

/** What is looked for. */
export const CANDIDATE_RULES = ['slowFields', 'leftFields', 'deadElements', 'risingExits'] as const
export type CandidateRule = (typeof CANDIDATE_RULES)[number]

/** How large a difference must be to be worth a word. */
const SLOW_RATIO = 3
const LEFT_LEAST = 0.1
const DEAD_LEAST = 0.4
const EXITS_LEAST = 0.02
const ROUNDS = 200
const SEED = 1

/** A share among some visitors that is larger than among others by more than chance. */
interface LargerShare {
  page: string
  marked: Share
  others: Share
  /** Probability of such a difference by chance, adjusted for all that the rule has looked at. */
  p: number
}
/** A field in which phones stay long: medians in ms, on phones and elsewhere, and of how many visitors. */
export interface SlowField {
  page: string
  form: string
  field: string
  median: number
  otherMedian: number
  visitors: number
  others: number
  p: number
}
export interface LeftField extends LargerShare {
  form: string
  field: string
}
export interface DeadElement extends LargerShare {
  path: string
  /** What it is and says. */
  element: string
}
/** What a person might want to look at, and why. */
export interface Candidates {
  slowFields: SlowField[]
  leftFields: LeftField[]
  deadElements: DeadElement[]
  risingExits: LargerShare[]
  rules: { rule: CandidateRule; tested: number; falseAlarms: FalseAlarms }[]
}

/**
 * What stands out by itself: fields in which phones stay three times as long, or that phones leave more often; elements
 * that are clicked and do nothing; pages whose exits rose against the same weekdays before. Each rule is also asked with its
 * marks dealt out by chance over the same visits, so that it can be said how often it speaks where there is nothing.
 *
 * @param selected - 1 for each session that is looked at
 * @param before - 1 for each session of as many days before
 */
export function findCandidates(visits: Visits, selected: Uint8Array, before: Uint8Array): Candidates {
  const uniform = seededUniform(SEED)
  const { times, left, fields, dead, elements, exits } = candidateSamples(visits, selected, before)
  const slow = longerTimes(times, SLOW_RATIO)
  const leaving = largerShares(left, LEFT_LEAST)
  const idle = largerShares(dead, DEAD_LEAST)
  const rising = largerShares(exits, EXITS_LEAST)
  const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) / 2)]!
  return {
    slowFields: slow.found.map(({ sample: { key, marked, others }, p }) => ({
      ...fields.get(key)!,
      p,
      median: median(marked),
      otherMedian: median(others),

      visitors: marked.length,
      others: others.length,
    })),
    leftFields: leaving.found.map(({ sample: { key, ...shares }, p }) => ({ ...fields.get(key)!, ...shares, p })),
    deadElements: idle.found.map(({ sample: { key, ...shares }, p }) => ({ ...elements.get(key)!, ...shares, p })),
    risingExits: rising.found.map(({ sample: { key: page, ...shares }, p }) => ({ page, ...shares, p })),
    rules: [
      { rule: 'slowFields', tested: slow.tested, falseAlarms: falseLongerTimes(times, SLOW_RATIO, ROUNDS, uniform) },
      { rule: 'leftFields', tested: leaving.tested, falseAlarms: falseLargerShares(left, LEFT_LEAST, ROUNDS, uniform) },
      { rule: 'deadElements', tested: idle.tested, falseAlarms: falseLargerShares(dead, DEAD_LEAST, ROUNDS, uniform) },
      {
        rule: 'risingExits',
        tested: rising.tested,
        falseAlarms: falseLargerShares(exits, EXITS_LEAST, ROUNDS, uniform),
      },
    ],
  }
}

/** All that the rules look at, whether it stands out or not. */
export function candidateSamples(visits: Visits, selected: Uint8Array, before: Uint8Array) {
  return {
    ...fieldSamples(visits, selected),
    ...deadSamples(visits, selected),
    exits: exitSamples(visits, selected, before),
  }
}

/** Times in fields and leaving at them, on phones and elsewhere. Of each visitor the first session with the form. */
function fieldSamples(visits: Visits, selected: Uint8Array) {
  const phone = visits.dimensions.device.find('phone')
  const device = visits.sessionDimensions.device.values
  const times = new Map<string, { marked: number[]; others: number[] }>()
  const left = new Map<string, { marked: Share; others: Share }>()
  const begun = new Map<string, { marked: number; others: number }>()
  const fields = new Map<string, { page: string; form: string; field: string }>()
  const lastVisitor = new Map<string, number>()
  eachFormSession(visits, selected, (page, form, { isBegun, isSent, last, fields: visited }, { labels }, session) => {
    const own = `${page} ${form}`
    const visitor = visits.sessionVisitor.values[session]!
    // Sessions of one visitor follow each other.
    if (!isBegun || lastVisitor.get(own) === visitor) return
    lastVisitor.set(own, visitor)
    const side = device[session] === phone ? 'marked' : 'others'
    const count = begun.get(own) ?? { marked: 0, others: 0 }
    begun.set(own, count)
    count[side]++
    for (const [name, { time }] of visited) {
      const key = `${own} ${name}`
      const held = times.get(key) ?? { marked: [], others: [] }
      times.set(key, held)
      held[side].push(time)
      fields.set(key, { page, form, field: labels.get(name) ?? fields.get(key)?.field ?? name })
      const leaving = left.get(key) ?? { marked: { count: 0, of: 0 }, others: { count: 0, of: 0 } }
      left.set(key, leaving)
      if (!isSent && last === name) leaving[side].count++
    }
  })
  for (const [key, { marked, others }] of left) {
    const { page, form } = fields.get(key)!
    const of = begun.get(`${page} ${form}`)!
    marked.of = of.marked
    others.of = of.others
  }
  const listed = <Value extends object>(of: Map<string, Value>) => [...of].map(([key, value]) => ({ key, ...value }))
  return { times: listed(times) as TimeSample[], left: listed(left) as ShareSample[], fields }
}

/** Of those who clicked an element, to whom the page did not answer, beside the other elements of its page. */
function deadSamples(visits: Visits, selected: Uint8Array) {
  const pageOf = visits.pageOfAddress.values
  const clicked = new Map<string, { page: number; element: number; visitors: Set<number>; dead: Set<number> }>()
  eachSession(visits, selected, ({ kind, address, element, visitor }, first, end) => {
    // Whose behavior is not told has clicks and no dead ones.
    let isTold = false
    for (let row = first; row < end && !isTold; row++) isTold = kind[row] === KIND.reading || kind[row] === KIND.dead
    if (!isTold) return
    for (let row = first; row < end; row++) {
      const isDead = kind[row] === KIND.dead
      if (!isDead && kind[row] !== KIND.click) continue
      const page = pageOf[address[row]!]!
      const key = `${page} ${element[row]}`
      let own = clicked.get(key)
      if (!own) clicked.set(key, (own = { page, element: element[row]!, visitors: new Set(), dead: new Set() }))
      own.visitors.add(visitor[row]!)
      if (isDead) own.dead.add(visitor[row]!)
    }
  })
  const pages = new Map<number, Share>()
  for (const { page, visitors, dead } of clicked.values()) {
    const whole = pages.get(page) ?? { count: 0, of: 0 }
    pages.set(page, { count: whole.count + dead.size, of: whole.of + visitors.size })
  }
  const elements = new Map<string, { page: string; path: string; element: string }>()
  const dead = [...clicked].map(([key, { page, element, visitors, dead: unanswered }]): ShareSample => {
    const path = visits.elements.texts[element]!
    const words = elementInWords({ path, label: visits.labels.get(element) ?? null })
    elements.set(key, { page: visits.pages.texts[page]!, path, element: words })
    const whole = pages.get(page)!
    const marked = { count: unanswered.size, of: visitors.size }
    return { key, marked, others: { count: whole.count - marked.count, of: whole.of - marked.of } }
  })
  return { dead, elements }
}

/**
 * Visitors who left on a page, of those who saw it: now, and before. Of each visitor the first session with the page
 * counts, since what one does in several sessions is alike.
 */
function exitSamples(visits: Visits, selected: Uint8Array, before: Uint8Array): ShareSample[] {
  const pageOf = visits.pageOfAddress.values
  const count = (sessions: Uint8Array) => {
    const pages = new Map<number, Share>()
    /** What the visitor that is looked at did in their first session with each page. */
    const own = new Map<number, { at: number; isExit: boolean }>()
    let visitor = -1
    const finish = () => {
      for (const [page, { isExit }] of own) {
        const share = pages.get(page) ?? { count: 0, of: 0 }
        pages.set(page, { count: share.count + (isExit ? 1 : 0), of: share.of + 1 })
      }
      own.clear()
    }
    eachSession(visits, sessions, ({ kind, address, at, visitor: visitors }, first, end) => {
      if (visitors[first] !== visitor) finish()
      visitor = visitors[first]!
      const seen = new Set<number>()
      let exit = -1
      for (let row = first; row < end; row++) if (kind[row] === KIND.page) seen.add((exit = pageOf[address[row]!]!))
      for (const page of seen) {
        const known = own.get(page)
        if (!known || at[first]! < known.at) own.set(page, { at: at[first]!, isExit: page === exit })
      }
    })
    finish()
    return pages
  }
  const [now, then] = [count(selected), count(before)]
  return [...now].flatMap(([page, marked]) => {
    const others = then.get(page)
    return others ? [{ key: visits.pages.texts[page]!, marked, others }] : []
  })
}
