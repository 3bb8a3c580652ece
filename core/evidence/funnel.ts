import type { CountedSource } from './countedSteps'
import { countedSteps, kindsCounted, type IsCounted } from './countedSteps'
import { quartiles, type Quartiles } from './quartiles'
import { dayFinder } from './sessionRuns'
import { KIND, type Block, type Visits } from './visits'

export interface FunnelPlan {
  /** At least two, in their order. */
  steps: readonly CountedSource[]
  /** Whether the next page that is opened after a step must be the next step, where that is a page; else anything may lie between. */
  isStrict: boolean
  /** ms from the first step to the last; null without a limit. */
  limit: number | null
  /** Whether all of it happens in one session; else in any of a visitor's sessions that are looked at. */
  isWithinSession: boolean
}

export interface FunnelStep {
  /** Sessions (or visitors) that came this far. */
  reached: number
  /** ms since the step before, of those who came this far; null at the first. */
  time: Quartiles | null
}

export interface FunnelReport {
  steps: FunnelStep[]
  /** Visitors who took the first step. */
  visitors: number
  /** By day of the first step: those who began, and those of them who came to the end. */
  days: { began: number[]; ended: number[] }
}

/** How far somebody came, and when each step was taken. */
interface Walk {
  depth: number
  times: number[]
}

/**
 * How many take each step of a way, one after the other. Of those who try several times the furthest try counts, of
 * equal ones the first; each step is taken at its earliest time after the one before.
 *
 * @param selected - 1 for each session that is looked at
 * @param days - first moments of the days, and the end of the last
 */
export function funnelReport(
  visits: Visits,
  selected: Uint8Array,
  plan: FunnelPlan,
  days: readonly number[],
): FunnelReport {
  const reached = plan.steps.map(() => 0)
  const times = plan.steps.map((): number[] => [])
  const began = new Array<number>(days.length - 1).fill(0)
  const ended = [...began]
  const dayOf = dayFinder(days)
  let [visitors, last] = [0, -1]
  eachWalk(visits, selected, plan, ({ depth, times: own }, visitor) => {
    // Walks of one visitor follow each other.
    if (visitor !== last) visitors++
    last = visitor
    for (let step = 0; step < depth; step++) {
      reached[step]!++
      if (step > 0) times[step]!.push(own[step]! - own[step - 1]!)
    }
    const day = dayOf(own[0]!)
    if (day < 0) return
    began[day]!++
    if (depth === plan.steps.length) ended[day]!++
  })
  return {
    steps: reached.map((count, step) => ({ reached: count, time: step === 0 ? null : quartiles(times[step]!) })),
    visitors,
    days: { began, ended },
  }
}

/** Visitors who came as far as a step and no further, with the time of it; the latest first. */
export function leftAt(
  visits: Visits,
  selected: Uint8Array,
  plan: FunnelPlan,
  step: number,
  most: number,
): { visitor: string; at: number }[] {
  const left: { visitor: number; at: number }[] = []
  eachWalk(visits, selected, plan, ({ depth, times }, visitor) => {
    if (depth === step + 1) left.push({ visitor, at: times[step]! })
  })
  return left
    .sort((a, b) => b.at - a.at)
    .slice(0, most)
    .map(({ visitor, at }) => ({ visitor: visits.visitorIds[visitor]!, at }))
}

function eachWalk(
  visits: Visits,
  selected: Uint8Array,
  plan: FunnelPlan,
  work: (walk: Walk, visitor: number) => void,
): void {
  const tests = plan.steps.map((source) => countedSteps(visits, source))
  const isPageStep = plan.steps.map(({ type }) => type === 'visit')
  const mayMatch = matcherOfAny(visits, plan)
  const taken = new Taken()
  const finish = (visitor: number) => {
    if (taken.count === 0) return
    if (!plan.isWithinSession) taken.sort()
    const walk = furthestWalk(taken, plan, isPageStep)
    if (walk.depth > 0) work(walk, visitor)
    taken.count = 0
  }
  for (const block of visits.blocks()) {
    const { count, session, visitor, kind, at } = block
    let unit = -1
    let own = -1
    for (let row = 0; row < count; row++) {
      const current = plan.isWithinSession ? session[row]! : visitor[row]!
      if (current !== unit) {
        finish(own)
        unit = current
        own = visitor[row]!
      }
      if (selected[session[row]!] !== 1) continue
      const matches = mayMatch(block, row) ? matchesOf(tests, block, row) : 0
      const isPage = kind[row] === KIND.page
      if (matches !== 0 || (plan.isStrict && isPage)) taken.add(at[row]!, matches, isPage)
    }
    finish(own)
  }
}

/** Most steps match nothing: one look at their kind tells. */
function matcherOfAny(visits: Visits, { steps }: FunnelPlan): IsCounted {
  const isKind = new Uint8Array(256)
  for (const source of steps) for (const kind of kindsCounted(source)) isKind[KIND[kind]] = 1
  return ({ kind }, row) => isKind[kind[row]!] === 1
}

/** Which steps a row is, a bit each. */
function matchesOf(tests: readonly IsCounted[], block: Block, row: number): number {
  let matches = 0
  for (let step = 0; step < tests.length; step++) if (tests[step]!(block, row)) matches |= 1 << step
  return matches
}

/** What of a session or visitor matters to a funnel; used again for the next one. */
class Taken {
  count = 0
  at = new Float64Array(64)
  matches = new Uint32Array(64)
  isPage = new Uint8Array(64)

  add(at: number, matches: number, isPage: boolean): void {
    if (this.count === this.at.length) this.grow()
    this.at[this.count] = at
    this.matches[this.count] = matches
    this.isPage[this.count] = isPage ? 1 : 0
    this.count++
  }

  /** By time: sessions of a visitor may overlap. */
  sort(): void {
    let isSorted = true
    for (let index = 1; index < this.count; index++) if (this.at[index]! < this.at[index - 1]!) isSorted = false
    if (isSorted) return
    const order = [...Array(this.count).keys()].sort((a, b) => this.at[a]! - this.at[b]! || a - b)
    const copy = { at: this.at.slice(), matches: this.matches.slice(), isPage: this.isPage.slice() }
    order.forEach((from, to) => {
      this.at[to] = copy.at[from]!
      this.matches[to] = copy.matches[from]!
      this.isPage[to] = copy.isPage[from]!
    })
  }

  private grow(): void {
    const [at, matches, isPage] = [this.at, this.matches, this.isPage]
    this.at = new Float64Array(at.length * 2)
    this.matches = new Uint32Array(at.length * 2)
    this.isPage = new Uint8Array(at.length * 2)
    this.at.set(at)
    this.matches.set(matches)
    this.isPage.set(isPage)
  }
}

function furthestWalk(taken: Taken, { steps, isStrict, limit }: FunnelPlan, isPageStep: readonly boolean[]): Walk {
  let best: Walk = { depth: 0, times: [] }
  for (let start = 0; start < taken.count; start++) {
    if ((taken.matches[start]! & 1) === 0) continue
    const walk = walkFrom(taken, start, steps.length, isStrict, limit ?? Infinity, isPageStep)
    if (walk.depth > best.depth) best = walk
    // Without a limit and with anything between, a later try comes no further.
    if (best.depth === steps.length || (!isStrict && limit === null)) break
  }
  return best
}

function walkFrom(
  taken: Taken,
  start: number,
  length: number,
  isStrict: boolean,
  limit: number,
  isPageStep: readonly boolean[],
): Walk {
  const began = taken.at[start]!
  const times = [began]
  for (let row = start + 1; row < taken.count && times.length < length; row++) {
    if (taken.at[row]! - began > limit) break
    if ((taken.matches[row]! >> times.length) & 1) times.push(taken.at[row]!)
    else if (isStrict && taken.isPage[row] === 1 && isPageStep[times.length]) break
  }
  return { depth: times.length, times }
}
