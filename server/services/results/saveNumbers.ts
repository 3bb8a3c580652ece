import type { PoolClient } from 'pg'
import type { FirstExposure } from '../../../core/measurement/firstExposure'
import type { KeptAmount } from '../../../core/measurement/keptAmounts'
import { SHOWN_LATE } from '../../../core/watch/experiment'
import { cappedNumbers, type VisitorNumbers } from '../../../core/measurement/visitorNumbers'
import { groupBy } from '../groupBy'
import * as queries from './queries'

/** An exposure as it is stored. */
export interface ExposureRow extends FirstExposure {
  visitor: string
  experiment: number
  /** Day of the exposure in the site's time zone. */
  day: string
  segments: Record<string, string>
  leftOut: string | null
}

/** A visitor's numbers as they are stored. */
export interface ValueRow extends VisitorNumbers {
  visitor: string
  experiment: number
  metric: number
  /** Of the metric. */
  cap: number | null
  /** What the value was expected to be from before the exposure; null where nothing is adjusted by that. */
  expected: number | null
  /** The amounts of money in them; null where the metric counts none, or the row is from before they were kept. */
  amounts: readonly KeptAmount[] | null
}

/** A visitor's numbers that come into the sums, or go out of them, with the exposure that they belong to. */
export interface ValueChange {
  sign: 1 | -1
  exposure: ExposureRow
  value: ValueRow
}

/** Whether two rows of the same visitor and metric hold the same numbers, with the same amounts in them. */
export function isSameValue(one: ValueRow, other: ValueRow): boolean {
  return (
    one.value === other.value &&
    one.denominator === other.denominator &&
    one.past === other.past &&
    one.expected === other.expected &&
    JSON.stringify(one.amounts) === JSON.stringify(other.amounts)
  )
}

/** Exposures by visitor and experiment. */
export type Exposures = ReadonlyMap<string, ReadonlyMap<number, ExposureRow>>

/** Exposures of visitors in some experiments. */
export async function readExposures(
  client: PoolClient,
  siteId: number,
  visitors: readonly string[],
  experiments: readonly number[],
): Promise<Exposures> {
  if (visitors.length === 0 || experiments.length === 0) return new Map()
  const { rows } = await client.query<ExposureRow>(queries.EXPOSURES_OF_VISITORS, [siteId, visitors, experiments])
  return new Map(
    [...groupBy(rows, ({ visitor }) => visitor)].map(([visitor, own]) => [
      visitor,
      new Map(own.map((each) => [each.experiment, each])),
    ]),
  )
}

/** Stored numbers of visitors in some experiments. */
export async function readValues(
  client: PoolClient,
  siteId: number,
  visitors: readonly string[],
  experiments: readonly number[],
): Promise<readonly ValueRow[]> {
  if (visitors.length === 0 || experiments.length === 0) return []
  return (await client.query<ValueRow>(queries.VALUES_OF_VISITORS, [siteId, visitors, experiments])).rows
}

/** Whether nothing of a visitor will ever count again. Whom an owner leaves out may come back, and keeps their numbers. */
export function isOutForGood({ leftOut }: ExposureRow): boolean {
  return leftOut !== null && leftOut !== 'excluded'
}

/**
 * Stores exposures that are new, or turn out to be others than was known. Numbers of the exposures that they take the
 * place of go: they are to be measured anew.
 */
export async function replaceExposures(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
  known: Exposures,
): Promise<void> {
  if (exposures.length === 0) return
  const before = exposures.flatMap((each) => knownOf(known, each) ?? [])
  await dropValues(client, siteId, before)
  await storeExposures(client, siteId, before, exposures)
}

/** Takes exposures away, with their numbers. */
export async function dropExposures(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
): Promise<void> {
  if (exposures.length === 0) return
  await dropValues(client, siteId, exposures)
  const dropped = exposures.map(({ visitor, experiment }) => ({ visitor, experiment }))
  await client.query(queries.DROP_EXPOSURES, [siteId, JSON.stringify(dropped)])
  await client.query(queries.CHANGE_COUNTS, [siteId, JSON.stringify(countChanges(exposures, []))])
}

/**
 * Stores what has changed about exposures that are the same as before: their day, whether they count, whether another
 * variant was seen. Their numbers stay and move with them from one place in the sums to another.
 */
export async function moveExposures(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
  known: Exposures,
): Promise<void> {
  if (exposures.length === 0) return
  const before = exposures.map((each) => knownOf(known, each)!)
  const goneForGood = exposures.filter(isOutForGood)
  await dropValues(
    client,
    siteId,
    goneForGood.map((each) => knownOf(known, each)!),
  )
  await changeSums(client, siteId, await placeChanges(client, siteId, exposures, known))
  await storeExposures(client, siteId, before, exposures)
}

/** Numbers of exposures that count under another label than before, or that count no more, or again. */
async function placeChanges(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
  known: Exposures,
): Promise<ValueChange[]> {
  const after = new Map(exposures.map((each) => [keyOf(each), each]))
  const visitors = [...new Set(exposures.map(({ visitor }) => visitor))]
  const values = await readValues(client, siteId, visitors, [...new Set(exposures.map(({ experiment }) => experiment))])
  return values.flatMap((value): ValueChange[] => {
    const to = after.get(keyOf(value))
    const from = to && knownOf(known, to)
    if (!to || !from || (from.day === to.day && from.leftOut === to.leftOut)) return []
    return [
      { sign: -1, exposure: from, value },
      { sign: 1, exposure: to, value },
    ]
  })
}

async function storeExposures(
  client: PoolClient,
  siteId: number,
  before: readonly ExposureRow[],
  after: readonly ExposureRow[],
): Promise<void> {
  await client.query(queries.SAVE_EXPOSURES, [siteId, JSON.stringify(after)])
  await client.query(queries.CHANGE_COUNTS, [siteId, JSON.stringify(countChanges(before, after))])
}

async function dropValues(client: PoolClient, siteId: number, exposures: readonly ExposureRow[]): Promise<void> {
  if (exposures.length === 0) return
  const byKey = new Map(exposures.map((each) => [keyOf(each), each]))
  const visitors = [...new Set(exposures.map(({ visitor }) => visitor))]
  const values = await readValues(client, siteId, visitors, [...new Set(exposures.map(({ experiment }) => experiment))])
  const changes = values.flatMap((value): ValueChange[] => {
    const exposure = byKey.get(keyOf(value))
    return exposure ? [{ sign: -1, exposure, value }] : []
  })
  const dropped = exposures.map(({ visitor, experiment }) => ({ visitor, experiment }))
  await client.query(queries.DROP_VALUES, [siteId, JSON.stringify(dropped)])
  await changeSums(client, siteId, changes)
}

/** Stores values and carries the changes over to the sums. */
export async function saveValues(
  client: PoolClient,
  siteId: number,
  values: readonly ValueRow[],
  changes: readonly ValueChange[],
): Promise<void> {
  if (values.length === 0) return
  await client.query(queries.SAVE_VALUES, [siteId, JSON.stringify(values)])
  await changeSums(client, siteId, changes)
}

/** Whoever is left out has values, but no part in the sums. */
async function changeSums(client: PoolClient, siteId: number, changes: readonly ValueChange[]): Promise<void> {
  const rows = changes
    .filter(({ exposure }) => exposure.leftOut === null)
    .map(({ sign, exposure, value: row }) => {
      const { value: y, denominator: z, past: p } = cappedNumbers(row, row.cap)
      const { experiment, metric } = row
      return {
        sign,
        experiment,
        metric,
        variant: exposure.variant,
        labels: labelsOf(exposure),
        y,
        z,
        p: row.expected ?? p,
      }
    })
  if (rows.length > 0) await client.query(queries.CHANGE_SUMS, [siteId, JSON.stringify(rows)])
}

/** What visitors are counted under: the day of the exposure, and what they were then. */
function labelsOf({ day, period = null, segments }: ExposureRow): Record<string, string> {
  return period === null ? { ...segments, day } : { ...segments, day, period: `${period} ${day}` }
}

/** How fast changes showed is counted, and no visitor compared by it: it comes after the split. */
function countLabelsOf(exposure: ExposureRow): Record<string, string> {
  const { shownAfter = null } = exposure
  return shownAfter === null
    ? labelsOf(exposure)
    : { ...labelsOf(exposure), shown: shownAfter > SHOWN_LATE ? 'late' : 'in time' }
}

function countChanges(before: readonly ExposureRow[], after: readonly ExposureRow[]) {
  const changes = new Map<string, CountChange>()
  for (const [exposures, sign] of [
    [before, -1],
    [after, 1],
  ] as const) {
    for (const exposure of exposures) {
      if (exposure.leftOut !== null) continue
      for (const [dimension, label] of Object.entries(countLabelsOf(exposure))) {
        const { experiment, variant } = exposure
        const key = `${experiment} ${variant} ${dimension} ${label}`
        const change = changes.get(key) ?? { experiment, variant, dimension, label, visitors: 0, crossed: 0 }
        change.visitors += sign
        if (exposure.crossed) change.crossed += sign
        changes.set(key, change)
      }
    }
  }
  return [...changes.values()]
}

interface CountChange {
  experiment: number
  variant: number
  dimension: string
  label: string
  visitors: number
  crossed: number
}

/** Names a visitor's part in an experiment. */
export function keyOf({ visitor, experiment }: { visitor: string; experiment: number }): string {
  return `${experiment} ${visitor}`
}

export function knownOf(known: Exposures, { visitor, experiment }: ExposureRow): ExposureRow | undefined {
  return known.get(visitor)?.get(experiment)
}
