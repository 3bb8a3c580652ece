import type { Pool, PoolClient } from 'pg'
import { firstExposure, type ExposureSighting, type FirstExposure } from '../../../core/measurement/firstExposure'
import type { MeasuredEvent, MetricDefinition } from '../../../core/measurement/metric'
import { visitorNumbers } from '../../../core/measurement/visitorNumbers'
import { INTAKE_LOCK } from '../../database/locks'
import * as plans from './plans'

const EVENTS_AT_A_TIME = 20_000

interface VisitorKey {
  site: number
  visitor: string
}
interface SightingRow extends VisitorKey, ExposureSighting {
  experiment: number
}
interface ExposureRow extends SightingRow {
  crossed: boolean
}
interface MeasuredExposure extends VisitorKey {
  experiment: number
  variant: number
  day: string
  at: number
  until: number | null
}
interface MetricRow extends MetricDefinition {
  experiment: number
  id: number
}
type EventRow = VisitorKey & MeasuredEvent & { at: number }

/**
 * Folds new events into visitors' values and those into sufficient statistics. Costs what is new.
 *
 * Each portion is one transaction together with the cursor, so that an event counts once, whatever breaks.
 * Only one process folds at a time; the others find nothing to do.
 *
 * @returns how many positions of `seq` were folded
 */
export async function foldNewEvents(pool: Pool, portion = EVENTS_AT_A_TIME): Promise<number> {
  const upTo = await lastVisibleSeq(pool)
  let folded = 0
  for (;;) {
    const step = await inTransaction(pool, (client) => foldPortion(client, upTo, portion))
    if (step === 0) return folded
    folded += step
  }
}

/** Numbers are handed out before their rows can be seen; once intake holds still, all up to here can be. */
async function lastVisibleSeq(pool: Pool): Promise<number> {
  return inTransaction(pool, async (client) => {
    await client.query(`SELECT pg_advisory_xact_lock(${INTAKE_LOCK})`)
    return Number((await client.query<{ seq: string }>(plans.LAST_SEQ)).rows[0]?.seq ?? 0)
  })
}

async function foldPortion(client: PoolClient, upTo: number, portion: number): Promise<number> {
  const lock = await client.query<{ taken: boolean }>(plans.TRY_FOLD_LOCK)
  if (!lock.rows[0]?.taken) return 0
  const from = Number((await client.query<{ seq: string }>(plans.READ_CURSOR)).rows[0]?.seq ?? 0)
  const to = Math.min(upTo, from + portion)
  if (to <= from) return 0
  await foldExposures(client, from, to)
  await foldValues(client, from, to)
  await client.query(plans.MOVE_CURSOR, [to])
  return to - from
}

async function foldExposures(client: PoolClient, from: number, to: number): Promise<void> {
  const sightings = groupBy((await client.query<SightingRow>(plans.NEW_SIGHTINGS, [from, to])).rows, exposureKey)
  if (sightings.size === 0) return
  const keys = [...sightings.values()].map(([first]) => ({
    site: first!.site,
    visitor: first!.visitor,
    experiment: first!.experiment,
  }))
  const known = new Map<string, FirstExposure>()
  for (const row of (await client.query<ExposureRow>(plans.KNOWN_EXPOSURES, [JSON.stringify(keys)])).rows)
    known.set(exposureKey(row), row)

  const changed: ExposureRow[] = []
  for (const [key, rows] of sightings) {
    const before = known.get(key) ?? null
    const after = firstExposure(before, rows)!
    if (!before || after.variant !== before.variant || after.at !== before.at || after.crossed !== before.crossed) {
      const { site, visitor, experiment } = rows[0]!
      changed.push({ site, visitor, experiment, variant: after.variant, at: after.at, crossed: after.crossed })
    }
  }
  if (changed.length > 0) await client.query(plans.SAVE_EXPOSURES, [JSON.stringify(changed)])
}

async function foldValues(client: PoolClient, from: number, to: number): Promise<void> {
  const exposures = (await client.query<MeasuredExposure>(plans.EXPOSURES_TO_MEASURE, [from, to])).rows
  if (exposures.length === 0) return
  const experiments = [...new Set(exposures.map((exposure) => exposure.experiment))]
  const metrics = groupBy(
    (await client.query<MetricRow>(plans.METRICS_OF_EXPERIMENTS, [experiments])).rows,
    (metric) => metric.experiment,
  )
  const visitors = [...groupBy(exposures, visitorKey).values()].map(([first]) => ({
    site: first!.site,
    visitor: first!.visitor,
  }))
  const events = groupBy(
    (await client.query<EventRow>(plans.EVENTS_OF_VISITORS, [JSON.stringify(visitors), to])).rows,
    visitorKey,
  )

  const values = exposures.flatMap((exposure) => {
    const seen = events.get(visitorKey(exposure)) ?? []
    const { site, visitor, experiment, variant, day, at, until } = exposure
    return (metrics.get(experiment) ?? []).map((metric) => ({
      site,
      visitor,
      experiment,
      metric: metric.id,
      variant,
      day,
      ...visitorNumbers(metric, seen, at, until),
    }))
  })
  if (values.length > 0) await client.query(plans.SAVE_VALUES, [JSON.stringify(values)])
}

function exposureKey({ site, visitor, experiment }: VisitorKey & { experiment: number }): string {
  return `${site} ${experiment} ${visitor}`
}

function visitorKey({ site, visitor }: VisitorKey): string {
  return `${site} ${visitor}`
}

function groupBy<Row, Key>(rows: readonly Row[], keyOf: (row: Row) => Key): Map<Key, Row[]> {
  const groups = new Map<Key, Row[]>()
  for (const row of rows) {
    const key = keyOf(row)
    const group = groups.get(key)
    if (group) group.push(row)
    else groups.set(key, [row])
  }
  return groups
}

async function inTransaction<Result>(pool: Pool, work: (client: PoolClient) => Promise<Result>): Promise<Result> {
  const client = await pool.connect()
  try {
    await client.query('BEGIN')
    const result = await work(client)
    await client.query('COMMIT')
    client.release()
    return result
  } catch (error) {
    // The connection may be what broke, so it is not handed on.
    client.release(true)
    throw error
  }
}
