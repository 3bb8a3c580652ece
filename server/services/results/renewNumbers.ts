import type { PoolClient } from 'pg'
import { countsMoney, inOtherMoney } from '../../../core/measurement/keptAmounts'
import { readFoldContext, type FoldContext, type MeasuredMetric } from './foldContext'
import type { KnownVisitor } from './exclusion'
import { measureFromEvents } from './measureVisitors'
import * as queries from './queries'
import {
  isOutForGood,
  isSameValue,
  keyOf,
  knownOf,
  moveExposures,
  readExposures,
  readValues,
  saveValues,
  type Exposures,
  type ExposureRow,
  type ValueChange,
  type ValueRow,
} from './saveNumbers'

/**
 * Brings an experiment's numbers of some visitors in line with the site's settings, with who is left out, and with
 * metrics that were added. All of it is computed from what is stored with the numbers; events are read only for what was
 * never measured, and only where all of them are still there. See docs/numbers.md.
 *
 * @param added - metrics that have not been measured for these visitors
 */
export async function renewNumbers(
  client: PoolClient,
  siteId: number,
  experiment: number,
  visitors: readonly string[],
  added: readonly number[] = [],
): Promise<void> {
  const context = await readFoldContext(client, siteId)
  const known = await readExposures(client, siteId, visitors, [experiment])
  const exposures = await exposuresByNow(client, context, experiment, visitors, known)
  const moved = exposures.filter((each) => hasMoved(each, knownOf(known, each)!))
  await moveExposures(client, siteId, moved, known)
  await renewValues(client, context, experiment, exposures, new Set(added))
}

async function exposuresByNow(
  client: PoolClient,
  context: FoldContext,
  experiment: number,
  visitors: readonly string[],
  known: Exposures,
): Promise<ExposureRow[]> {
  const { rows } = await client.query<KnownVisitor>(queries.VISITORS_BY_ID, [context.siteId, visitors])
  const people = new Map(rows.map((row) => [row.id, row]))
  return visitors.flatMap((visitor) => {
    const exposure = known.get(visitor)?.get(experiment)
    if (!exposure) return []
    const person = people.get(visitor)
    const leftOut = person ? context.leftOut(experiment, person, exposure) : exposure.leftOut
    return [{ ...exposure, day: context.dayOf(exposure.at), leftOut }]
  })
}

function hasMoved(after: ExposureRow, before: ExposureRow): boolean {
  return after.day !== before.day || after.leftOut !== before.leftOut
}

async function renewValues(
  client: PoolClient,
  context: FoldContext,
  experiment: number,
  exposures: readonly ExposureRow[],
  added: ReadonlySet<number>,
): Promise<void> {
  const counted = new Map(exposures.filter((each) => !isOutForGood(each)).map((each) => [keyOf(each), each]))
  const visitors = [...counted.values()].map(({ visitor }) => visitor)
  const stored = (await readValues(client, context.siteId, visitors, [experiment])).filter((row) =>
    counted.has(keyOf(row)),
  )
  const measured = await measureMissing(client, context, [...counted.values()], stored, added)
  const anew = new Set(measured.map(valueKey))
  const renewed = stored.filter((row) => !anew.has(valueKey(row))).map((row) => inMoneyOf(context, row))
  const before = new Map(stored.map((row) => [valueKey(row), row]))
  const changed = [...measured, ...renewed].filter((row) => {
    const earlier = before.get(valueKey(row))
    return !earlier || !isSameValue(row, earlier)
  })
  const changes = changed.flatMap((value): ValueChange[] => {
    const exposure = counted.get(keyOf(value))!
    const earlier = before.get(valueKey(value))
    return [
      ...(earlier ? [{ sign: -1 as const, exposure, value: earlier }] : []),
      { sign: 1 as const, exposure, value },
    ]
  })
  await saveValues(client, context.siteId, changed, changes)
}

/** What was never measured: a metric that was added, or amounts of rows from before they were kept. */
async function measureMissing(
  client: PoolClient,
  context: FoldContext,
  exposures: readonly ExposureRow[],
  stored: readonly ValueRow[],
  added: ReadonlySet<number>,
): Promise<ValueRow[]> {
  const money = new Map(
    exposures
      .flatMap(({ experiment }) => context.metricsOf(experiment))
      .filter(countsMoney)
      .map((metric) => [metric.id, metric]),
  )
  const lacksAmounts = new Set(stored.filter(({ amounts, metric }) => amounts === null && money.has(metric)).map(keyOf))
  const asked = exposures.filter(
    (each) => (added.size > 0 && context.hasEvents(each)) || (lacksAmounts.has(keyOf(each)) && context.hasPast(each)),
  )
  if (asked.length === 0) return []
  const { rows } = await client.query<{ seq: string }>(queries.READ_CURSOR, [context.siteId])
  const isMissing = ({ id }: MeasuredMetric) => added.has(id) || money.has(id)
  const metricsOf = (experiment: number) => context.metricsOf(experiment).filter(isMissing)
  const measured = await measureFromEvents(client, context, asked, Number(rows[0]?.seq ?? 0), metricsOf)
  const known = new Set(stored.filter(({ amounts, metric }) => amounts !== null || !money.has(metric)).map(valueKey))
  return measured.filter((row) => added.has(row.metric) || !known.has(valueKey(row)))
}

function inMoneyOf(context: FoldContext, row: ValueRow): ValueRow {
  if (!row.amounts) return row
  const { numbers, amounts } = inOtherMoney({ numbers: row, amounts: row.amounts }, context.convert)
  return {
    ...row,
    value: numbers.value,
    denominator: numbers.denominator,
    past: numbers.past,
    amounts,
  }
}

function valueKey(row: ValueRow): string {
  return `${keyOf(row)} ${row.metric}`
}
