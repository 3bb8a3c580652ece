import type { PoolClient } from 'pg'
import { earlierBehavior } from '../../../core/measurement/earlierBehavior'
import { expectedValue } from '../../../core/measurement/expectedValue'
import { amountsOf, countsMoney, withEarlierTelling, type KeptAmount } from '../../../core/measurement/keptAmounts'
import type { MeasuredEvent } from '../../../core/measurement/metric'
import {
  addEvents,
  firstOfEach,
  NOTHING,
  withVisits,
  type MeasuredExposure,
  type VisitorNumbers,
} from '../../../core/measurement/visitorNumbers'
import type { Visit } from '../../../core/measurement/visitSum'
import { groupBy } from '../groupBy'
import type { FoldContext, MeasuredMetric } from './foldContext'
import type { StoredEvent } from './storedEvent'
import * as queries from './queries'
import {
  isOutForGood,
  isSameValue,
  keyOf,
  readValues,
  saveValues,
  type Exposures,
  type ExposureRow,
  type ValueChange,
  type ValueRow,
} from './saveNumbers'
import type { EarlierTelling } from './tellOrdersApart'

/** What metrics count, beside page views. */
export const MEASURED_EVENTS: readonly StoredEvent['type'][] = [
  'click',
  'submit',
  'amount',
  'custom',
  'error',
  'reading',
]

/** Events by visitor. */
export type Histories = ReadonlyMap<string, readonly StoredEvent[]>

async function readHistories(client: PoolClient, context: FoldContext, visitors: readonly string[], to: number) {
  if (visitors.length === 0) return new Map<string, StoredEvent[]>()
  const asked = [context.siteId, visitors, to, MEASURED_EVENTS]
  const { rows } = await client.query<StoredEvent>(queries.eventsOfVisitors(context.ofPersons.size > 0), asked)
  return groupBy(rows.map(context.inMoney), ({ visitor }) => visitor)
}

/** Visits of visitors, where a metric counts them. */
async function readVisits(
  client: PoolClient,
  { siteId, needsVisits, ofPersons }: FoldContext,
  visitors: readonly string[],
): Promise<(visitor: string) => readonly Visit[]> {
  if (!needsVisits || visitors.length === 0) return () => []
  const { rows } = await client.query<Visit & { visitor: string }>(queries.visitsOfVisitors(ofPersons.size > 0), [
    siteId,
    visitors,
  ])
  const visits = groupBy(rows, ({ visitor }) => visitor)
  return (visitor) => visits.get(visitor) ?? []
}

/**
 * Numbers of visitors from all that they ever did, by metric. Whoever is left out for good has none.
 *
 * @param to - number of the last event that counts
 * @param metricsOf - what is measured in an experiment
 * @param whole - what is known already to be all that visitors ever did
 */
export async function measureFromEvents(
  client: PoolClient,
  context: FoldContext,
  exposures: readonly ExposureRow[],
  to: number,
  metricsOf: FoldContext['metricsOf'] = context.metricsOf,
  whole: Histories = new Map(),
): Promise<ValueRow[]> {
  const counted = exposures.filter((each) => !isOutForGood(each))
  if (counted.length === 0) return []
  const visitors = [...new Set(counted.map(({ visitor }) => visitor))]
  const unread = visitors.filter((visitor) => !whole.has(visitor))
  const histories = new Map([...whole, ...(await readHistories(client, context, unread, to))])
  const events = new Map(visitors.map((visitor) => [visitor, firstOfEach(histories.get(visitor) ?? [])]))
  const visitsOf = await readVisits(client, context, visitors)
  return counted.flatMap((exposure) => {
    const { visitor } = exposure
    const measured = context.measured(exposure)
    return metricsOf(exposure.experiment).flatMap((metric): ValueRow[] => {
      const own = events.get(visitor) ?? []
      const ofEvents = addEvents(metric, NOTHING, own, measured)
      const numbers = withVisits(metric, ofEvents, visitsOf(visitor), measured)
      const expected = expectedOf(metric, numbers.past, own, visitsOf(visitor), exposure)
      const row = valueRow(exposure, metric, { ...numbers, expected }, amountsOf(metric, own, measured))
      return isSomething(row) ? [row] : []
    })
  })
}

/** Measures visitors of exposures that have no numbers yet, and adds them to the sums. */
export async function measureAnew(
  client: PoolClient,
  context: FoldContext,
  exposures: readonly ExposureRow[],
  to: number,
  whole: Histories,
): Promise<void> {
  const values = await measureFromEvents(client, context, exposures, to, context.metricsOf, whole)
  const byKey = new Map(exposures.map((each) => [keyOf(each), each]))
  const changes = values.map((value): ValueChange => ({ sign: 1, exposure: byKey.get(keyOf(value))!, value }))
  await saveValues(client, context.siteId, values, changes)
}

/**
 * Adds new events to the numbers of visitors whose exposures stand.
 *
 * @param earlier - orders that turn out to have been told earlier than was known, by visitor
 * @returns experiments whose numbers have changed
 */
export async function addToValues(
  client: PoolClient,
  context: FoldContext,
  arrived: readonly StoredEvent[],
  standing: Exposures,
  earlier: ReadonlyMap<string, readonly EarlierTelling[]>,
): Promise<Set<number>> {
  const touched = new Set<number>()
  const events = groupBy(arrived, ({ visitor }) => visitor)
  const visitors = [...new Set([...events.keys(), ...earlier.keys()])].filter((visitor) => standing.has(visitor))
  const experiments = new Set(visitors.flatMap((visitor) => [...standing.get(visitor)!.keys()]))
  const rows = await readValues(client, context.siteId, visitors, [...experiments])
  const before = new Map(rows.map((row) => [`${keyOf(row)} ${row.metric}`, row]))
  const visitsOf = await readVisits(client, context, visitors)
  const values: ValueRow[] = []
  const changes: ValueChange[] = []
  for (const visitor of visitors) {
    const own = firstOfEach(events.get(visitor) ?? [])
    for (const exposure of standing.get(visitor)!.values()) {
      if (isOutForGood(exposure)) continue
      const measured = context.measured(exposure)
      for (const metric of context.metricsOf(exposure.experiment)) {
        const known = before.get(`${keyOf(exposure)} ${metric.id}`)
        const added = withEvents(metric, known, own, measured)
        const now = withTellings(metric, added, earlier.get(visitor) ?? [], measured)
        const numbers = withVisits(metric, now.numbers, visitsOf(visitor), measured)
        // What changes the past measures the visitor anew.
        const value = valueRow(exposure, metric, { ...numbers, expected: known?.expected ?? null }, now.amounts)
        if (known ? isSameValue(value, known) : !isSomething(value)) continue
        values.push(value)
        if (known) changes.push({ sign: -1, exposure, value: known })
        changes.push({ sign: 1, exposure, value })
        touched.add(exposure.experiment)
      }
    }
  }
  await saveValues(client, context.siteId, values, changes)
  return touched
}

/** What a metric's value was expected to be from before the exposure; null where it is not adjusted by that. */
function expectedOf(
  { expectation, cap = null }: MeasuredMetric,
  past: number | null,
  events: readonly MeasuredEvent[],
  visits: readonly Visit[],
  exposure: ExposureRow,
): number | null {
  if (!expectation) return null
  const counted = past === null || cap === null ? past : Math.min(past, cap)
  return expectedValue(expectation, earlierBehavior(counted, events, visits, exposure))
}

/** Numbers, with the amounts of money in them where all of those are known. */
interface Measured {
  numbers: VisitorNumbers
  amounts: readonly KeptAmount[] | null
}

function withEvents(
  metric: MeasuredMetric,
  known: ValueRow | undefined,
  events: readonly MeasuredEvent[],
  exposure: MeasuredExposure,
): Measured {
  const amounts = known ? known.amounts : []
  return {
    numbers: addEvents(metric, known ?? NOTHING, events, exposure),
    amounts: amounts && [...amounts, ...amountsOf(metric, events, exposure)],
  }
}

function withTellings(
  metric: MeasuredMetric,
  before: Measured,
  tellings: readonly EarlierTelling[],
  exposure: MeasuredExposure,
): Measured {
  return tellings.reduce((measured, { gone, come }) => {
    const { numbers, amounts } = measured
    const after = withEarlierTelling(metric, { numbers, amounts: amounts ?? [] }, gone, come, exposure)
    return { numbers: after.numbers, amounts: amounts && after.amounts }
  }, before)
}

function valueRow(
  { visitor, experiment }: ExposureRow,
  metric: MeasuredMetric,
  { value, denominator, past, expected }: VisitorNumbers & Pick<ValueRow, 'expected'>,
  amounts: readonly KeptAmount[] | null,
): ValueRow {
  return {
    visitor,
    experiment,
    metric: metric.id,
    cap: metric.cap ?? null,
    value,
    denominator,
    past,
    expected,
    amounts: countsMoney(metric) ? amounts : null,
  }
}

function isSomething({ value, denominator, past, expected, amounts }: ValueRow): boolean {
  return value !== 0 || denominator !== 0 || past !== null || expected !== null || (amounts?.length ?? 0) > 0
}
