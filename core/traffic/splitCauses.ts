import { checkAllocation } from '../statistics/allocation'
import { normalUpperTail } from '../statistics/distributions'
import { carriersOf, type Trait, type TraitSplit, type ValueSplit } from './splitByTrait'

/** Usual causes of a split that is not as set. */
export const SPLIT_CAUSES = ['fails', 'late', 'changed', 'machines', 'entry'] as const
export type SplitCause = (typeof SPLIT_CAUSES)[number]

export const CAUSE_WORDS: Record<SplitCause, { title: string; check: string }> = {
  fails: {
    title: 'A variant fails in some browsers or on some devices',
    check: 'Open the preview of the variant in that browser, and watch recordings of both variants.',
  },
  late: {
    title: 'Visitors leave before one variant is counted',
    check: 'Compare how soon each variant is counted. A redirect or a slow page loses impatient visitors.',
  },
  changed: {
    title: 'The experiment or the page changed during the run',
    check: 'Look at what changed on that day, and leave out the days before or after it.',
  },
  machines: {
    title: 'Robots or a single network got mostly one variant',
    check: 'Look at the hours, sources and networks that stand out. Leave them out if they are no people.',
  },
  entry: {
    title: 'Some visitors reach one variant another way',
    check: 'Look for links to one variant, pages kept in a cache, and campaigns that land elsewhere.',
  },
}

/** What is known of a variant's visitors beside what they were. */
export interface ArmEvidence {
  name: string
  weight: number
  visitors: number
  /** Whether the variant sends visitors to another address. */
  redirects: boolean
  /** Visitors whose page had a script error in the view of their first exposure. */
  withErrors: number
  /** From the opening of the page to the exposure, the median in ms; null where nothing is known. */
  delay: number | null
}

export interface SplitEvidence {
  traits: readonly TraitSplit[]
  /** The control first. */
  arms: readonly ArmEvidence[]
  /** Crowds that the data is warned of. */
  crowds: readonly string[]
}

export interface CauseReading {
  cause: SplitCause
  /** Whether the data shows it. That it does not is no proof against it. */
  isShown: boolean
  /** What the data says, in sentences. */
  because: string[]
}

const LEVEL = 0.01
/** The clearest that are named. */
const MOST_CARRIERS = 3
/** A difference of medians under which nobody leaves. */
const LEAST_DELAY = 200

/**
 * For each usual cause of a split that is not as set, what the data says of it.
 *
 * @returns in the order of `SPLIT_CAUSES`
 */
export function splitCauses(evidence: SplitEvidence): CauseReading[] {
  const read: Record<SplitCause, CauseReading> = {
    fails: failing(evidence),
    late: late(evidence),
    changed: byTraits('changed', evidence, ['period', 'day'], 'The split does not depend on the day.'),
    machines: machines(evidence),
    entry: byTraits('entry', evidence, ['source', 'entry', 'page'], 'The split is the same for all sources and pages.'),
  }
  return SPLIT_CAUSES.map((cause) => read[cause])
}

function failing(evidence: SplitEvidence): CauseReading {
  const traits: Trait[] = ['device', 'system', 'browser', 'browserVersion']
  const reading = byTraits('fails', evidence, traits, 'The split is the same for all browsers and devices.')
  const [control, ...others] = evidence.arms
  const errors = others.flatMap((arm) => {
    const [own, rest] = [arm.withErrors / arm.visitors, control!.withErrors / control!.visitors]
    if (!(arm.visitors > 0 && control!.visitors > 0) || own <= rest || differencePValue(arm, control!) >= LEVEL)
      return []
    return [`${percent(own)} of the visitors of ${arm.name} had a script error, and ${percent(rest)} in the control.`]
  })
  return errors.length === 0
    ? reading
    : { ...reading, isShown: true, because: [...(reading.isShown ? reading.because : []), ...errors] }
}

/** A variant lacks visitors alike in all traits, and is counted later than the others, or redirects. */
function late({ traits, arms }: SplitEvidence): CauseReading {
  const { pValue, expected } = checkAllocation(
    arms.map(({ visitors }) => visitors),
    arms.map(({ weight }) => weight),
  )
  const soonest = Math.min(...arms.flatMap(({ delay }) => delay ?? []))
  const isAlike = traits.every((trait) => carriersOf(trait).length === 0)
  const lacking = arms.filter(({ visitors }, arm) => visitors < expected[arm]!)
  const because = lacking.flatMap(({ name, redirects, delay }) => {
    const later = delay === null ? 0 : delay - soonest
    if (!redirects && later < LEAST_DELAY) return []
    return later < LEAST_DELAY
      ? [`${name} redirects, and lacks visitors.`]
      : [`${name} is counted ${seconds(delay!)} after the page opens; the soonest variant after ${seconds(soonest)}.`]
  })
  if (pValue < LEVEL && isAlike && because.length > 0) return { cause: 'late', isShown: true, because }
  const known = arms.flatMap(({ name, delay }) => (delay === null ? [] : [`${name} ${seconds(delay)}`]))
  const medians = known.length > 0 ? [`Half of the visitors are counted within: ${known.join(', ')}.`] : []
  const none = arms.some(({ redirects }) => redirects) ? [] : ['No variant redirects.']
  return { cause: 'late', isShown: false, because: [...none, ...medians] }
}

function machines(evidence: SplitEvidence): CauseReading {
  const reading = byTraits(
    'machines',
    evidence,
    ['hour'],
    'The split is the same at all hours, and no crowd was found.',
  )
  return evidence.crowds.length === 0
    ? reading
    : {
        ...reading,
        isShown: true,
        because: [...(reading.isShown ? reading.because : []), ...evidence.crowds],
      }
}

function byTraits(
  cause: SplitCause,
  { traits, arms }: SplitEvidence,
  looked: readonly Trait[],
  otherwise: string,
): CauseReading {
  const own = traits.filter(({ trait, matters }) => matters && looked.includes(trait))
  const carriers = own
    .flatMap(carriersOf)
    // A browser and its only version are the same visitors.
    .filter((value, place, all) => all.findIndex((each) => isSameCount(each, value)) === place)
    .sort((a, b) => a.adjustedPValue! - b.adjustedPValue!)
    .slice(0, MOST_CARRIERS)
  const unclear = own.filter((trait) => carriersOf(trait).length === 0)
  const because =
    carriers.length > 0
      ? carriers.map((value) => carrierText(value, arms))
      : unclear.map(({ trait }) => `The split depends on ${TRAIT_WORDS[trait]}, but no single value explains it.`)
  return { cause, isShown: because.length > 0, because: because.length > 0 ? because : [otherwise] }
}

const isSameCount = (one: ValueSplit, other: ValueSplit) =>
  one.visitors.every((visitors, arm) => visitors === other.visitors[arm])

/** What a trait is called within a sentence. */
export const TRAIT_WORDS: Record<Trait, string> = {
  period: 'the time between changes',
  day: 'the day',
  hour: 'the hour of the day',
  device: 'the device',
  system: 'the operating system',
  browser: 'the browser',
  browserVersion: 'the browser’s version',
  source: 'the source',
  country: 'the country',
  visitor: 'whether the visitor is new',
  entry: 'the entry page',
  page: 'the page of the exposure',
}

function carrierText({ value, visitors, expected }: ValueSplit, arms: readonly ArmEvidence[]): string {
  const counts = arms.map(
    ({ name }, arm) => `${name} ${count(visitors[arm]!)} of ${count(Math.round(expected[arm]!))} expected`,
  )
  return `${value}: ${counts.join(', ')}. All other visitors are split as set.`
}

/** Of two shares of visitors with script errors: a z test with the pooled share, one-sided. */
function differencePValue(arm: ArmEvidence, control: ArmEvidence): number {
  const pooled = (arm.withErrors + control.withErrors) / (arm.visitors + control.visitors)
  const error = Math.sqrt(pooled * (1 - pooled) * (1 / arm.visitors + 1 / control.visitors))
  if (error === 0) return 1
  return normalUpperTail((arm.withErrors / arm.visitors - control.withErrors / control.visitors) / error)
}

const count = (number: number) => number.toLocaleString('en-US')
const percent = (share: number) => `${(share * 100).toFixed(1)} %`
const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`
