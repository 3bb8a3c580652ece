import { benjaminiHochberg } from '../../statistics/benjaminiHochberg'
import { normalUpperTail } from '../../statistics/distributions'
import type { Share } from '../../statistics/newcombe'

/** Of all that a rule points at, at most this share is to be chance (Benjamini and Hochberg 1995). */
const FALSE_SHARE = 0.05
/** Fewer on either side say nothing. */
const FEWEST = 30

/** Times of marked and of other visitors, such as those on phones and the rest. */
export interface TimeSample {
  key: string
  /** ms */
  marked: readonly number[]
  others: readonly number[]
}
/** So many of the marked, and so many of the others. */
export interface ShareSample {
  key: string
  marked: Share
  others: Share
}

/** What a rule has looked at, and which of it stands out. */
export interface Pointed<Sample> {
  /** Those that had enough visitors. */
  tested: number
  found: { sample: Sample; p: number }[]
}

/** How often a rule points at something where there is nothing. */
export interface FalseAlarms {
  /** Times that the marks were dealt out anew by chance. */
  rounds: number
  /** Rounds in which it pointed at anything. */
  alarms: number
}

/** A uniform draw from [0, 1). */
type Uniform = () => number

/**
 * Times at which the marked stay longer than the others by more than chance, and at least so many times as long. One
 * side of the rank-sum test (Mann and Whitney 1947) with the variance corrected for ties.
 *
 * @param ratio - of the medians, at least
 */
export function longerTimes(samples: readonly TimeSample[], ratio: number): Pointed<TimeSample> {
  const enough = samples.filter(({ marked, others }) => marked.length >= FEWEST && others.length >= FEWEST)
  const ranked = enough.map(rank)
  const isMarked = enough.map(({ marked, others }) => marksOf(marked.length, others.length))
  return {
    tested: enough.length,
    found: standingOut(ranked.map((each, at) => judgeTimes(each, isMarked[at]!, ratio))).map(({ index, p }) => {
      return { sample: enough[index]!, p }
    }),
  }
}

/**
 * The same with the marks dealt out by chance: whatever is found then is a false alarm.
 *
 * @param rounds - how often they are dealt out
 */
export function falseLongerTimes(
  samples: readonly TimeSample[],
  ratio: number,
  rounds: number,
  uniform: Uniform,
): FalseAlarms {
  const enough = samples.filter(({ marked, others }) => marked.length >= FEWEST && others.length >= FEWEST)
  const ranked = enough.map(rank)
  const isMarked = enough.map(({ marked, others }) => marksOf(marked.length, others.length))
  let alarms = 0
  for (let round = 0; round < rounds; round++) {
    isMarked.forEach((marks) => shuffle(marks, uniform))
    if (standingOut(ranked.map((each, at) => judgeTimes(each, isMarked[at]!, ratio))).length > 0) alarms++
  }
  return { rounds, alarms }
}

/**
 * Shares that are larger among the marked than among the others by more than chance, and by at least so much. One side
 * of the test of two proportions with the pooled variance and Yates's correction (1934).
 *
 * @param least - difference, at least
 */
export function largerShares(samples: readonly ShareSample[], least: number): Pointed<ShareSample> {
  const enough = samples.filter(isEnough)
  return {
    tested: enough.length,
    found: standingOut(enough.map((each) => judgeShares(each, least))).map(({ index, p }) => {
      return { sample: enough[index]!, p }
    }),
  }
}

/** The same with the marks dealt out by chance. */
export function falseLargerShares(
  samples: readonly ShareSample[],
  least: number,
  rounds: number,
  uniform: Uniform,
): FalseAlarms {
  const enough = samples.filter(isEnough)
  let alarms = 0
  for (let round = 0; round < rounds; round++)
    if (standingOut(enough.map((each) => judgeShares(dealt(each, uniform), least))).length > 0) alarms++
  return { rounds, alarms }
}

const isEnough = ({ marked, others }: ShareSample) =>
  marked.of >= FEWEST && others.of >= FEWEST && marked.count + others.count >= 5

interface Judged {
  p: number
  /** The difference is large enough to be worth a word. */
  isLarge: boolean
}

function standingOut(judged: readonly Judged[]): { index: number; p: number }[] {
  const adjusted = benjaminiHochberg(judged.map(({ p }) => p))
  return adjusted
    .map((p, index) => ({ index, p }))
    .filter(({ index, p }) => p <= FALSE_SHARE && judged[index]!.isLarge)
    .sort((a, b) => a.p - b.p)
}

/** Values in their order, each with its rank, and what ties take off the variance. */
interface Ranked {
  /** Places in the sample (the marked first) in the order of their values. */
  order: Uint32Array
  values: Float64Array
  ranks: Float64Array
  ties: number
}

function rank({ marked, others }: TimeSample): Ranked {
  const values = Float64Array.from([...marked, ...others])
  const order = Uint32Array.from(values.keys()).sort((a, b) => values[a]! - values[b]!)
  const ranks = new Float64Array(values.length)
  let ties = 0
  for (let start = 0; start < order.length;) {
    let end = start + 1
    while (end < order.length && values[order[end]!] === values[order[start]!]) end++
    for (let at = start; at < end; at++) ranks[order[at]!] = (start + end + 1) / 2
    ties += (end - start) ** 3 - (end - start)
    start = end
  }
  return { order, values, ranks, ties }
}

function marksOf(marked: number, others: number): Uint8Array {
  return new Uint8Array(marked + others).fill(1, 0, marked)
}

function judgeTimes({ order, values, ranks, ties }: Ranked, isMarked: Uint8Array, ratio: number): Judged {
  const all = isMarked.length
  let sum = 0
  let marked = 0
  for (let at = 0; at < all; at++)
    if (isMarked[at] === 1) {
      sum += ranks[at]!
      marked++
    }
  const others = all - marked
  const larger = sum - (marked * (marked + 1)) / 2
  const mean = (marked * others) / 2
  const variance = ((marked * others) / 12) * (all + 1 - ties / (all * (all - 1)))
  const p = variance <= 0 ? 1 : normalUpperTail((larger - mean - 0.5) / Math.sqrt(variance))
  const [own, other] = [1, 0].map((mark) => medianOf(order, values, isMarked, mark, mark === 1 ? marked : others))
  return { p, isLarge: own! >= ratio * other! }
}

function medianOf(order: Uint32Array, values: Float64Array, marks: Uint8Array, mark: number, count: number): number {
  const wanted = Math.floor((count - 1) / 2)
  let passed = 0
  for (const at of order) if (marks[at] === mark && passed++ === wanted) return values[at]!
  return 0
}

function judgeShares({ marked, others }: ShareSample, least: number): Judged {
  const difference = marked.count / marked.of - others.count / others.of
  const pooled = (marked.count + others.count) / (marked.of + others.of)
  const inverse = 1 / marked.of + 1 / others.of
  const deviation = Math.sqrt(pooled * (1 - pooled) * inverse)
  const p = deviation === 0 ? 1 : normalUpperTail((difference - inverse / 2) / deviation)
  return { p, isLarge: difference >= least }
}

/** Fisher and Yates. */
function shuffle(marks: Uint8Array, uniform: Uniform): void {
  for (let last = marks.length - 1; last > 0; last--) {
    const other = Math.floor(uniform() * (last + 1))
    const kept = marks[last]!
    marks[last] = marks[other]!
    marks[other] = kept
  }
}

/** The same successes, dealt out to the marked and the others by chance. */
function dealt({ key, marked, others }: ShareSample, uniform: Uniform): ShareSample {
  const successes = marked.count + others.count
  let [own, all] = [marked.of, marked.of + others.of]
  let count = 0
  for (let success = 0; success < successes; success++) {
    if (uniform() * all < own) {
      count++
      own--
    }
    all--
  }
  return { key, marked: { count, of: marked.of }, others: { count: successes - count, of: others.of } }
}
