import { shareDifference, type ShareDifference } from '../statistics/newcombe'
import { elementInWords } from '../measurement/elementInWords'
import type { Question } from '../survey/survey'
import type { ClickMap, ReadingMap } from './clickMap'
import { BANDS } from './behavior'
import type { EventKind } from './eventKinds'
import type { FormReport } from './formReport'
import type { FunnelReport } from './funnel'
import type { PageFigures } from './pageReport'
import type { SurveyReport } from './surveyReport'

/** One number of a report with what it is called, in a form that can be kept and held against a later one. */
export type Figure = { key: string; label: string } & (
  | { kind: 'count'; value: number }
  /** So many of so many, and of how many visitors: what one does several times is alike, and counts as one. */
  | { kind: 'share'; count: number; of: number; people?: number }
  /** ms; null without anybody */
  | { kind: 'time'; value: number | null }
  | { kind: 'mean'; value: number | null }
)

/** Rows of long reports that are kept. */
const MOST_ROWS = 20

const count = (key: string, label: string, value: number): Figure => ({ key, label, kind: 'count', value })
/** @param people - visitors behind `of` */
const share = (key: string, label: string, of: number, counted: number, people: number): Figure => ({
  key,
  label,
  kind: 'share',
  count: counted,
  of,
  people,
})
const time = (key: string, label: string, value: number | null): Figure => ({ key, label, kind: 'time', value })

/** Visitors behind some of the sessions of a report, as many a session as behind all of them. */
function peopleBehind(of: number, visitors: number, sessions: number): number {
  return sessions === 0 ? 0 : (of * visitors) / sessions
}

/** Of one page. */
export function pageFigures(figures: Omit<PageFigures, 'days'>, hasMetric: boolean): Figure[] {
  const { sessions, visitors, entries, exits, bounces, seen, told, errors, conversions } = figures
  const people = (of: number) => peopleBehind(of, visitors, sessions)
  return [
    count('visitors', 'Visitors', visitors),
    count('sessions', 'Sessions', sessions),
    share('entries', 'Entered here', sessions, Math.min(entries, sessions), visitors),
    share('exits', 'Ended here', sessions, Math.min(exits, sessions), visitors),
    share('bounces', 'Saw nothing else, of those who entered here', entries, bounces, people(entries)),
    time('seen', 'Time in view', told === 0 ? null : seen / told),
    count('errors', 'Errors', errors),
    ...(hasMetric ? [share('conversions', 'Converted after it', sessions, conversions, visitors)] : []),
  ]
}

/** Of the pages that most sessions saw. */
export function pagesFigures(pages: readonly Omit<PageFigures, 'days'>[], hasMetric: boolean): Figure[] {
  return pages.slice(0, MOST_ROWS).flatMap((each) => {
    const { page, visitors, sessions, entries, exits, bounces, conversions } = each
    return [
      count(`${page} sessions`, `${page}: sessions`, sessions),
      share(`${page} bounces`, `${page}: bounce rate`, entries, bounces, peopleBehind(entries, visitors, sessions)),
      share(`${page} exits`, `${page}: ended here`, sessions, Math.min(exits, sessions), visitors),
      ...(hasMetric
        ? [share(`${page} conversions`, `${page}: converted after it`, sessions, conversions, visitors)]
        : []),
    ]
  })
}

export function formFigures({ seen, visitors, begun, sent, fields }: FormReport): Figure[] {
  const people = (of: number) => peopleBehind(of, visitors, seen)
  return [
    count('seen', 'Sessions that saw it', seen),
    share('begun', 'Began it', seen, begun, visitors),
    share('sent', 'Sent it, of those who began', begun, Math.min(sent, begun), people(begun)),
    ...fields.flatMap(({ name, label, reached, time: spent, refilled, blank, left }) => {
      const called = label || name
      return [
        time(`${name} time`, `${called}: median time`, spent?.[1] ?? null),
        share(`${name} left`, `${called}: left here, of those who began`, begun, left, people(begun)),
        share(`${name} refilled`, `${called}: filled again`, reached, refilled, people(reached)),
        share(`${name} blank`, `${called}: left empty`, reached, blank, people(reached)),
      ]
    }),
  ]
}

/** @param names - of the steps, in their order */
export function funnelFigures(
  names: readonly string[],
  { steps, visitors }: Pick<FunnelReport, 'steps' | 'visitors'>,
): Figure[] {
  const began = steps[0]?.reached ?? 0
  const people = (of: number) => peopleBehind(of, visitors, began)
  return steps.flatMap(({ reached, time: spent }, index) => {
    const called = `${index + 1}. ${names[index] ?? ''}`
    if (index === 0) return [count('step 1', called, reached)]
    const shareOf = (key: string, label: string, of: number) => share(key, label, of, reached, people(of))
    return [
      shareOf(`step ${index + 1}`, `${called}: of the step before`, steps[index - 1]!.reached),
      shareOf(`step ${index + 1} of all`, `${called}: of all`, began),
      time(`step ${index + 1} time`, `${called}: median time`, spent?.[1] ?? null),
    ]
  })
}

export function clickFigures({ clicks, visitors, elements }: ClickMap): Figure[] {
  return [
    count('clicks', 'Clicks', clicks),
    count('visitors', 'Visitors who clicked', visitors),
    ...elements
      .slice(0, MOST_ROWS)
      .map((each) =>
        share(each.path, `${elementInWords(each)}: of those who clicked`, visitors, each.visitors, visitors),
      ),
  ]
}

export function readingFigures({
  sessions,
  visitors,
  reach,
}: Pick<ReadingMap, 'sessions' | 'visitors' | 'reach'>): Figure[] {
  const quarters = [0.25, 0.5, 0.75, 1]
  return [
    count('sessions', 'Sessions that were told', sessions),
    ...quarters.map((quarter) => {
      const reached = reach[Math.ceil(quarter * BANDS) - 1] ?? 0
      return share(`reach ${quarter}`, `Came down to ${quarter * 100} % of the page`, sessions, reached, visitors)
    }),
  ]
}

export function surveyFigures(
  questions: readonly Question[],
  {
    asked,
    answered,
    questions: tallies,
  }: Pick<SurveyReport, 'asked' | 'answered'> & {
    questions: readonly Omit<SurveyReport['questions'][number], 'texts'>[]
  },
): Figure[] {
  return [
    count('asked', 'Asked', asked),
    share('answered', 'Answered', asked, Math.min(answered, asked), asked),
    ...questions.flatMap((question): Figure[] => {
      const tally = tallies.find(({ id }) => id === question.id)
      const of = tally?.answered ?? 0
      const counted = (id: string) => tally?.choices.find((each) => each.id === id)?.count ?? 0
      if (question.kind === 'text') return [count(question.id, `${question.words}: answers`, of)]
      if (question.kind === 'scale')
        return [
          {
            key: question.id,
            label: `${question.words}: mean`,
            kind: 'mean',
            value: scaleMean(question, tally?.values ?? []),
          },
        ]
      return question.choices.map(({ id, words }) => {
        return share(`${question.id} ${id}`, `${question.words} ${words}`, of, counted(id), of)
      })
    }),
  ]
}

/** Mean place on a scale; what lies off it was told by no panel of ours. Null without anybody. */
export function scaleMean(
  { scale }: Pick<Question, 'scale'>,
  values: readonly { value: number; count: number }[],
): number | null {
  const on = values.filter(({ value }) => scale && value >= scale.low && value <= scale.high)
  const answered = on.reduce((sum, { count: own }) => sum + own, 0)
  return answered === 0 ? null : on.reduce((sum, { value, count: own }) => sum + value * own, 0) / answered
}

export function eventFigures(kinds: readonly EventKind[]): Figure[] {
  return kinds.slice(0, MOST_ROWS).map(({ kind, name, count: own }) => {
    const called = [kind, name].filter(Boolean).join(' ')
    return count(called, called, own)
  })
}

/** Figures that are named by what visitors' browsers tell, and what follows their names in the key. */
const NAMED: Readonly<Record<string, RegExp>> = {
  pages: / (?:sessions|bounces|exits|conversions)$/,
  forms: / (?:time|left|refilled|blank)$/,
}

/**
 * The name in a figure that visitors' browsers have told: of a page, a field, an element or an event.
 *
 * @param report - the report that the figure is of
 * @returns null for a figure that has a name of ours
 */
export function figureNamedBy(report: string, { key }: Pick<Figure, 'key'>): string | null {
  if (report === 'events') return key.includes(' ') ? key.slice(key.indexOf(' ') + 1) : null
  if (report === 'clicks') return key.includes('>') ? key : null
  const ending = NAMED[report]
  return ending?.test(key) ? key.replace(ending, '') : null
}

/** A figure beside the same one of other days. */
export interface FigureChange {
  key: string
  label: string
  then: Figure
  /** Null where the report does not have it any more. */
  now: Figure | null
  /** Of a share, now less then. */
  difference: ShareDifference | null
  /** Whether the difference is more than chance; null where that cannot be said. */
  isDifferent: boolean | null
}

/**
 * Holds figures against the same ones of other days. Shares are compared by Newcombe's interval, at a level by which all
 * of them together hold 95 % (Bonferroni). What one visitor does in several sessions is taken to be the same each time:
 * a share counts as of its visitors. Nothing is said of views that were kept before their visitors were.
 *
 * @param areIndependent - whether nobody is in both: days that overlap say nothing about change
 */
export function compareFigures(
  then: readonly Figure[],
  now: readonly Figure[],
  areIndependent: boolean,
): FigureChange[] {
  const later = new Map(now.map((each) => [each.key, each]))
  const shares = then.filter((each) => areShares([each, later.get(each.key) ?? null])).length
  return then.map((each) => {
    const other = later.get(each.key) ?? null
    const pair: readonly [Figure, Figure | null] = [each, other]
    const difference = areShares(pair)
      ? shareDifference(asOfPeople(pair[1]), asOfPeople(pair[0]), 0.05 / Math.max(1, shares))
      : null
    const isDifferent = difference && areIndependent ? difference.low > 0 || difference.high < 0 : null
    return { key: each.key, label: each.label, then: each, now: other, difference, isDifferent }
  })
}

type Share = Extract<Figure, { kind: 'share' }> & { people: number }

/** Whether both are shares of known visitors. */
function areShares(pair: readonly [Figure, Figure | null]): pair is readonly [Share, Share] {
  return pair.every((each) => each?.kind === 'share' && each.people !== undefined)
}

/** The same share, of no more than its visitors. */
function asOfPeople({ count: counted, of, people }: Share): { count: number; of: number } {
  const weight = of === 0 ? 0 : Math.min(1, people / of)
  return { count: counted * weight, of: of * weight }
}
