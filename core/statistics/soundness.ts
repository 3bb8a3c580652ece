import { crowdText, type CountedMetric, type Crowd, type CrowdPlace } from '../traffic/crowd'
import type { AllocationCheck } from './allocation'

/** What is known about how the data came in, beside the metrics. */
export interface DataIntake {
  allocation: AllocationCheck | null
  visitors: number
  /** Visitors who were seen in more than one arm. */
  crossed: number
  /** Days of the run that are over, in order, with the visitors first exposed on each. */
  days: readonly { day: string; visitors: number }[]
  arms: readonly {
    name: string
    visitors: number
    /** visitors with at least one event of any metric */ active: number
  }[]
  /** Visitors who are not counted, by reason. */
  leftOut?: Readonly<Partial<Record<'robot' | 'pace' | 'absurd' | 'excluded', number>>>
  /** Amounts in currencies that the site has no rate for, by currency. */
  unconverted?: Readonly<Record<string, number>>
  /** Events that could not be folded, and those that intake refused. */
  setAside?: number
  refused?: number
  /** Where each person is one: how many, how many on several devices, and how many signed in halfway. */
  persons?: { all: number; onSeveral: number; halfway: number } | null
  /** Visitors who have more in common than is likely, and the metric that they count in. */
  crowds?: readonly Crowd[]
  counted?: CountedMetric | null
  /** What the pages say of the edits that they did not say at the start. */
  drift?: readonly string[]
  /** How much of the numbers is computed anew so far, from 0 to 1; null where all is done. */
  computing?: number | null
}

export interface SoundnessFinding {
  kind:
    | 'allocation'
    | 'crossed'
    | 'silent-days'
    | 'missing-events'
    | 'drift'
    | 'left-out'
    | 'unconverted'
    | 'set-aside'
    | 'refused'
    | 'persons'
    | 'computing'
    | 'crowd'
  /** Whether results must not be read before it is cleared up. */
  isBreaking: boolean
  text: string
  /** Of a crowd: which one, so that it can be left out. */
  crowd?: CrowdPlace
}

/** Share of visitors in more than one arm above which the arms are no longer what was randomized. */
export const MOST_CROSSED = 0.01
/** Probability of an arm's silence by chance under which its events count as lost. */
const SILENCE_ALARM = 1e-6

/**
 * Reasons not to trust the data, or to look closer.
 *
 * An arm's events are missing when it has none although, at the other arms' rate, the chance of none is under 10⁻⁶.
 *
 * @param intake - counts from intake and fold
 * @returns findings in the order of their weight; none when the data is sound
 */
export function findUnsoundness(intake: DataIntake): SoundnessFinding[] {
  const { allocation, visitors, crossed, days, arms } = intake
  const findings: SoundnessFinding[] = []
  if (typeof intake.computing === 'number')
    findings.push({
      kind: 'computing',
      isBreaking: true,
      text: `These numbers are being computed again: ${percent(intake.computing)} done. Until then they mix old and new ones.`,
    })
  if (allocation?.alarm)
    findings.push({
      kind: 'allocation',
      isBreaking: true,
      text: 'The visitors are not split over the variants as the weights say.',
    })
  for (const arm of arms) {
    const others = arms.filter((other) => other !== arm)
    const otherVisitors = others.reduce((sum, other) => sum + other.visitors, 0)
    const rate = otherVisitors === 0 ? 0 : others.reduce((sum, other) => sum + other.active, 0) / otherVisitors
    if (arm.active === 0 && arm.visitors * Math.log1p(-Math.min(rate, 1 - 1e-12)) < Math.log(SILENCE_ALARM)) {
      findings.push({
        kind: 'missing-events',
        isBreaking: true,
        text: `No events at all come from “${arm.name}”, though ${percent(rate)} of the other visitors send some.`,
      })
    }
  }
  if (visitors > 0 && crossed / visitors > MOST_CROSSED) {
    findings.push({
      kind: 'crossed',
      isBreaking: true,
      text: `${percent(crossed / visitors)} of the visitors were seen in more than one variant.`,
    })
  }
  const silent = days.filter((day) => day.visitors === 0).map(({ day }) => day)
  if (silent.length > 0) {
    findings.push({
      kind: 'silent-days',
      isBreaking: false,
      text: `No new visitors on ${silent.length === 1 ? silent[0]! : `${silent.length} days, the first ${silent[0]!}`}.`,
    })
  }
  for (const text of intake.drift ?? [])
    findings.push({ kind: 'drift', isBreaking: false, text: `The page has changed since the start. ${text}` })
  for (const crowd of intake.crowds ?? []) {
    const { day, kind, value } = crowd
    findings.push({
      kind: 'crowd',
      isBreaking: false,
      text: crowdText(crowd, intake.counted ?? null),
      crowd: { day, kind, value },
    })
  }
  return [...findings, ...whatIsMissing(intake)]
}

const LEFT_OUT_WORDS = {
  robot: 'say that they are robots',
  pace: 'open pages faster than people do',
  absurd: 'report more than people do',
  excluded: 'were left out by the team',
} as const

/** What came and is not in the numbers, for reasons that do not break them. */
function whatIsMissing({
  leftOut = {},
  unconverted = {},
  setAside = 0,
  refused = 0,
  persons = null,
}: DataIntake): SoundnessFinding[] {
  const findings: SoundnessFinding[] = []
  const add = (kind: SoundnessFinding['kind'], text: string) => findings.push({ kind, isBreaking: false, text })
  const reasons = Object.entries(LEFT_OUT_WORDS).flatMap(([reason, words]) => {
    const visitors = leftOut[reason as keyof typeof LEFT_OUT_WORDS] ?? 0
    return visitors > 0 ? [`${visitors.toLocaleString('en-US')} ${words}`] : []
  })
  if (reasons.length > 0) add('left-out', `Some visitors are not counted: ${reasons.join(', ')}.`)
  for (const [currency, amounts] of Object.entries(unconverted)) {
    add(
      'unconverted',
      `${count(amounts, 'amount')} in ${currency} ${amounts === 1 ? 'is' : 'are'} not in the sums: the site has no rate for ${currency}.`,
    )
  }
  if (persons)
    add(
      'persons',
      `Each person is one: ${count(persons.onSeveral, 'person', 'people')} of ${persons.all.toLocaleString('en-US')} came on more than one device. ${count(persons.halfway, 'person', 'people')} had been here before the page named them: what they did before does not count.`,
    )
  if (setAside > 0)
    add('set-aside', `${count(setAside, 'event')} could not be counted and ${setAside === 1 ? 'is' : 'are'} set aside.`)
  if (refused > 0)
    add(
      'refused',
      `${count(refused, 'event')} of the site ${refused === 1 ? 'was' : 'were'} refused as malformed or made up since the start.`,
    )
  return findings
}

function count(number: number, word: string, several = `${word}s`): string {
  return `${number.toLocaleString('en-US')} ${number === 1 ? word : several}`
}

function percent(share: number): string {
  return `${(share * 100).toFixed(1)} %`
}
