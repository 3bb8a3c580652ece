import { readCrowds } from './crowds'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { sql } from 'drizzle-orm'
import type { DataIntake } from '../../../core/statistics/soundness'
import type { Queries } from '../../database/connect'
import { driftOf } from '../experiments/driftCheck'
import { isOpenRefold } from './queries'

/** What came to an experiment and is not in its numbers. */
export type IntakeNotes = Required<
  Pick<DataIntake, 'leftOut' | 'unconverted' | 'setAside' | 'refused' | 'drift' | 'persons' | 'computing' | 'crowds'>
>

/** Reads what was left out, could not be converted, was set aside, was refused, or is no more as it was at the start. */
export async function readIntakeNotes(
  database: Queries,
  { siteId, id, startedAt, endedAt, currency, terms }: ExperimentSheet,
): Promise<IntakeNotes> {
  const until = endedAt ?? new Date().toISOString()
  const leftOut = await database.execute<{ reason: string; visitors: string }>(sql`
    SELECT left_out AS reason, count(*) AS visitors FROM exposure
    WHERE site_id = ${siteId} AND experiment_id = ${id} AND left_out IS NOT NULL GROUP BY 1`)
  const unconverted = await database.execute<{ currency: string; amounts: string }>(sql`
    SELECT f.currency, sum(f.amounts) AS amounts FROM foreign_amount f
    WHERE f.site_id = ${siteId} AND f.currency <> ${currency}
      AND f.day >= ${startedAt}::timestamptz::date AND f.day <= ${until}::timestamptz::date
      AND NOT EXISTS (
        SELECT 1 FROM currency_rate r WHERE r.site_id = f.site_id AND r.currency = f.currency AND r."from" <= f.day)
    GROUP BY 1`)
  const others = await database.execute<{ aside: string; refused: string }>(sql`
    SELECT (SELECT count(*) FROM set_aside WHERE site_id = ${siteId} AND at >= ${startedAt} AND at <= ${until}) AS aside,
      (SELECT coalesce(sum(events), 0) FROM refusal
       WHERE site_id = ${siteId} AND day >= ${startedAt}::timestamptz::date AND day <= ${until}::timestamptz::date) AS refused`)
  return {
    leftOut: Object.fromEntries(leftOut.rows.map(({ reason, visitors }) => [reason, Number(visitors)])),
    unconverted: Object.fromEntries(unconverted.rows.map((row) => [row.currency, Number(row.amounts)])),
    setAside: Number(others.rows[0]?.aside ?? 0),
    refused: Number(others.rows[0]?.refused ?? 0),
    persons: terms.unit === 'person' ? await countPersons(database, siteId, id) : null,
    computing: await howFarComputed(database, siteId, id),
    crowds: await readCrowds(database, siteId, id),
    drift: (await driftOf(database, siteId, [id])).get(id) ?? [],
  }
}

async function howFarComputed(database: Queries, siteId: number, experimentId: number): Promise<number | null> {
  const { rows } = await database.execute<{ progress: number | null }>(sql`
    SELECT min(j.progress) AS progress FROM background_job j
    WHERE j.site_id = ${siteId} AND j.experiment_id = ${experimentId} AND ${sql.raw(isOpenRefold('j'))}`)
  return rows[0]?.progress ?? null
}

/** Persons of an experiment, those who saw it on several devices, and those who were there before they were named. */
async function countPersons(database: Queries, siteId: number, experimentId: number): Promise<IntakeNotes['persons']> {
  const { rows } = await database.execute<{ all: string; onSeveral: string; halfway: string }>(sql`
    WITH seen AS (
      SELECT e.person_id, count(DISTINCT e.visitor_id) AS devices, bool_or(EXISTS (
        SELECT FROM page_view v WHERE v.site_id = e.site_id AND v.visitor_id = e.visitor_id
          AND v.person_id IS NULL AND v.occurred_at < e.occurred_at AND v.id <> e.view_id)) AS is_halfway
      FROM event e
      WHERE e.site_id = ${siteId} AND e.type = 'exposure' AND e.experiment_id = ${experimentId} AND e.person_id IS NOT NULL
      GROUP BY e.person_id)
    SELECT count(*) AS "all", count(*) FILTER (WHERE devices > 1) AS "onSeveral",
      count(*) FILTER (WHERE is_halfway) AS halfway FROM seen`)
  const [found] = rows
  return { all: Number(found!.all), onSeveral: Number(found!.onSeveral), halfway: Number(found!.halfway) }
}
