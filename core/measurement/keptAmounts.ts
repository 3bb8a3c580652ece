import { carriesMoney } from './counting'
import { exactSum } from './decimal'
import { isCounted, type MeasuredEvent, type MetricDefinition, type MetricSource } from './metric'
import {
  addEvents,
  isOnItsPages,
  NOTHING,
  sum,
  timeOf,
  type MeasuredExposure,
  type VisitorNumbers,
} from './visitorNumbers'

/**
 * An amount of money in a visitor's numbers, as it was told. It is kept with them, so that the site's currency, rates
 * and time zone can change when the event itself is not there any more.
 */
export interface KeptAmount {
  /** Which of the numbers it is in. */
  part: 'value' | 'denominator' | 'past'
  /** ms since 1970 */
  at: number
  currency: string
  amount: number
  /** What it counts as in the site's currency; null where there is no rate for it. */
  counted: number | null
}

/** Numbers with the amounts of money in them. */
export interface MoneyNumbers {
  numbers: VisitorNumbers
  amounts: readonly KeptAmount[]
}

/** Whether a metric sums up amounts of money; a conversion only asks whether there was one. */
export function countsMoney({ kind, source, denominator }: MetricDefinition): boolean {
  if (kind === 'conversion') return false
  return carriesMoney(source) || (kind === 'ratio' && !!denominator && carriesMoney(denominator))
}

/**
 * The amounts of money that events add to a visitor's numbers: those that `addEvents` sums up.
 *
 * @param metric - what is measured
 * @param events - each given once
 * @param exposure - the visitor's first exposure
 */
export function amountsOf(
  metric: MetricDefinition,
  events: readonly MeasuredEvent[],
  exposure: MeasuredExposure,
): KeptAmount[] {
  if (!countsMoney(metric)) return []
  const { kind, source, denominator } = metric
  return events.flatMap((event): KeptAmount[] => {
    const time = timeOf(metric, event, exposure)
    if (!event.told || time === null) return []
    const { amount, currency } = event.told
    const isIn = (each: MetricSource) =>
      carriesMoney(each) && isOnItsPages(each, event, exposure) && isCounted(each, event)
    const counted = event.isUnconverted ? null : (event.amount ?? null)
    const kept = (part: KeptAmount['part']) => ({ part, at: event.at, currency, amount, counted })
    if (time === 'past') return isIn(source) ? [kept('past')] : []
    return [
      ...(isIn(source) ? [kept('value')] : []),
      ...(kind === 'ratio' && denominator && isIn(denominator) ? [kept('denominator')] : []),
    ]
  })
}

/**
 * The same numbers in other money.
 *
 * @param numbers - with the amounts of money in them
 * @param convert - what an amount of a moment counts as; null where there is no rate for it
 */
export function inOtherMoney(
  { numbers, amounts }: MoneyNumbers,
  convert: (told: Pick<KeptAmount, 'amount' | 'currency' | 'at'>) => number | null,
): MoneyNumbers {
  const converted = amounts.map((kept) => ({ ...kept, counted: convert(kept) }))
  const result = { ...numbers }
  for (const part of new Set(amounts.map((kept) => kept.part))) {
    const sumOf = (all: readonly KeptAmount[], sign: 1 | -1) =>
      all.filter((kept) => kept.part === part).map(({ counted }) => sign * (counted ?? 0))
    result[part] = exactSum([numbers[part] ?? 0, ...sumOf(amounts, -1), ...sumOf(converted, 1)])
  }
  return { numbers: result, amounts: converted }
}

/**
 * The numbers in which one event stands in the place of another that told of the same thing: an order that turns out to
 * have been told earlier. A conversion stays, since it happened.
 *
 * @param before - numbers with the event that goes
 * @param gone - the event that was known
 * @param come - the earlier one
 * @param exposure - the visitor's first exposure, before both
 */
export function withEarlierTelling(
  metric: MetricDefinition,
  { numbers, amounts }: MoneyNumbers,
  gone: MeasuredEvent,
  come: MeasuredEvent,
  exposure: MeasuredExposure,
): MoneyNumbers {
  const now = addEvents(metric, numbers, [come], exposure)
  if (metric.kind === 'conversion') return { numbers: now, amounts }
  const part = addEvents(metric, NOTHING, [gone], exposure)
  const left = [...amounts]
  for (const each of amountsOf(metric, [gone], exposure)) {
    const place = left.findIndex(
      (kept) => kept.part === each.part && kept.at === each.at && kept.amount === each.amount,
    )
    if (place >= 0) left.splice(place, 1)
  }
  return {
    numbers: {
      ...now,
      value: sum(now.value, -part.value),
      denominator: sum(now.denominator, -part.denominator),
    },
    amounts: [...left, ...amountsOf(metric, [come], exposure)],
  }
}
