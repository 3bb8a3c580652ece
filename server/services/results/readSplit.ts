import { sql, type SQL } from 'drizzle-orm'
import { splitByTrait, type Trait, type TraitCount } from '../../../core/traffic/splitByTrait'
import { splitCauses } from '../../../core/traffic/splitCauses'
import { crowdText } from '../../../core/traffic/crowd'
import { DAY } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { SplitView } from '../../../shared/experiments/resultsReplies'
import type { Queries } from '../../database/connect'
import { groupBy } from '../groupBy'
import { HttpProblem } from '../HttpProblem'
import { readCrowds } from './crowds'

/** Visitors who are looked at: of more, a part is drawn by their ids. */
const MOST_LOOKED = 200_000
/** Values of a trait that are told apart; all others are one. */
const MOST_VALUES = 20

/**
 * Visitors by variant and what they were at their first exposure, with where the split departs from the weights, and
 * what the data says of the usual causes.
 */
export async function readSplit(database: Queries, sheet: ExperimentSheet): Promise<SplitView> {
  const weights = sheet.variants.map(({ weight }) => weight)
  if (weights.some((weight) => weight === 0))
    throw new HttpProblem(409, 'A variant has the weight 0: there is no split to compare with.')
  const visitors = await countedVisitors(database, sheet)
  const periods = await periodsOf(database, sheet)
  const seen = seenVisitors(sheet, Math.ceil(visitors / MOST_LOOKED))
  const counts = await countsByTrait(database, sheet, seen, periods)
  const arms = await armsOf(database, sheet, seen)
  const traits = splitByTrait(counts, weights)
  const crowds = (await readCrowds(database, sheet.siteId, sheet.id)).map((crowd) => crowdText(crowd, null))
  return {
    arms: arms.map(({ name }) => name),
    visitors,
    looked: arms.reduce((sum, arm) => sum + arm.visitors, 0),
    traits,
    periods,
    causes: splitCauses({ traits, arms, crowds }),
  }
}

async function countedVisitors(database: Queries, { siteId, id }: ExperimentSheet): Promise<number> {
  const { rows } = await database.execute<{ visitors: number }>(sql`
    SELECT count(*)::int AS visitors FROM exposure
    WHERE site_id = ${siteId} AND experiment_id = ${id} AND left_out IS NULL`)
  return rows[0]!.visitors
}

/** The start, and every moment since at which something changed about who takes part. */
async function periodsOf(database: Queries, sheet: ExperimentSheet): Promise<SplitView['periods']> {
  const { siteId, id, startedAt, endedAt } = sheet
  if (startedAt === null) return []
  const { rows } = await database.execute<{ at: Date; words: string }>(sql`
    SELECT at, coalesce(words, action) AS words FROM change_log
    WHERE site_id = ${siteId} AND subject = 'experiment' AND subject_id = ${id}
      AND at > ${startedAt} AND at < ${endedAt ?? new Date().toISOString()}
      AND (action IN ('paused', 'resumed') OR change->'to' ? 'share' OR after ? 'share')
    UNION ALL
    SELECT since, 'the page changed' FROM drift_check
    WHERE site_id = ${siteId} AND experiment_id = ${id} AND since > ${startedAt}
    ORDER BY 1`)
  return [
    { from: startedAt, words: 'the start' },
    ...rows.map(({ at, words }) => ({ from: new Date(at).toISOString(), words })),
  ]
}

const pathOf = (address: SQL) => sql`substring(${address} from '^[a-z]+://[^/]+([^?#]*)')`

/**
 * Whoever is counted, with the view of the first exposure.
 *
 * @param oneIn - of how many visitors one is taken
 */
function seenVisitors({ siteId, id, startedAt, endedAt }: ExperimentSheet, oneIn: number): SQL {
  const from = new Date(Date.parse(startedAt ?? new Date().toISOString()) - DAY).toISOString()
  const until = endedAt ?? new Date().toISOString()
  const drawn = oneIn > 1 ? sql` AND hashtext(visitor_id) % ${oneIn}::int = 0` : sql``
  return sql`
    WITH counted AS MATERIALIZED (
      SELECT variant, exposed_at, day, segments, view_id, event_id FROM exposure
      WHERE site_id = ${siteId} AND experiment_id = ${id} AND left_out IS NULL${drawn}
    ), seen AS MATERIALIZED (
      SELECT c.*, v.occurred_at AS opened_at, v.browser, v.browser_version, ${pathOf(sql`v.address`)} AS page,
        ${pathOf(sql`s.entry_address`)} AS entry
      FROM counted c
      LEFT JOIN page_view v ON v.site_id = ${siteId} AND v.id = c.view_id
        AND v.occurred_at >= ${from} AND v.occurred_at <= ${until}
      LEFT JOIN session s ON s.site_id = v.site_id AND s.visitor_id = v.visitor_id AND s.id = v.session_id
    )`
}

async function countsByTrait(
  database: Queries,
  { timeZone, variants }: ExperimentSheet,
  seen: SQL,
  periods: SplitView['periods'],
): Promise<TraitCount[]> {
  const starts = sql`ARRAY[${sql.join(
    periods.map(({ from }) => sql`${from}::timestamptz`),
    sql`, `,
  )}]::timestamptz[]`
  const { rows } = await database.execute<{ trait: Trait; value: string; variant: number; visitors: number }>(sql`
    ${seen}, by_value AS (
      SELECT t.trait, coalesce(t.value, 'unknown') AS value, variant, count(*)::int AS visitors
      FROM seen CROSS JOIN LATERAL (VALUES
        ('period', greatest(width_bucket(exposed_at, ${starts}), 1)::text),
        ('day', day::text),
        ('hour', to_char(exposed_at AT TIME ZONE ${timeZone}, 'HH24')),
        ('device', segments->>'device'),
        ('system', segments->>'system'),
        ('browser', segments->>'browser'),
        ('browserVersion', browser || coalesce(' ' || browser_version, '')),
        ('source', segments->>'source'),
        ('country', segments->>'country'),
        ('visitor', segments->>'visitor'),
        ('entry', entry),
        ('page', page)
      ) t (trait, value)
      GROUP BY 1, 2, 3
    ), ranked AS (
      SELECT *, dense_rank() OVER (PARTITION BY trait ORDER BY total DESC, value) AS rank FROM (
        SELECT *, sum(visitors) OVER (PARTITION BY trait, value) AS total FROM by_value
      ) totals
    )
    SELECT trait, CASE WHEN rank <= ${MOST_VALUES} OR trait IN ('period', 'day', 'hour') THEN value ELSE '' END AS value,
      variant, sum(visitors)::int AS visitors
    FROM ranked GROUP BY 1, 2, 3`)
  const byValue = groupBy(rows, ({ trait, value }) => `${trait} ${value}`)
  return [...byValue.values()].map((own) => ({
    trait: own[0]!.trait,
    value: own[0]!.trait === 'period' ? periods[Number(own[0]!.value) - 1]!.from : own[0]!.value,
    visitors: variants.map((_, arm) => own.find(({ variant }) => variant === arm)?.visitors ?? 0),
  }))
}

async function armsOf(database: Queries, sheet: ExperimentSheet, seen: SQL) {
  const { siteId, startedAt, endedAt } = sheet
  const until = endedAt ?? new Date().toISOString()
  const { rows } = await database.execute<
    Record<'variant' | 'visitors' | 'withErrors', number> & { delay: number | null }
  >(
    sql`
    ${seen}, failed AS MATERIALIZED (
      SELECT DISTINCT view_id FROM event WHERE site_id = ${siteId} AND type = 'error'
        AND occurred_at >= ${startedAt} AND occurred_at <= ${until}
    )
    SELECT seen.variant, count(*)::int AS visitors, count(failed.view_id)::int AS "withErrors",
      percentile_cont(0.5) WITHIN GROUP (
        ORDER BY (date_part('epoch', e.occurred_at) - date_part('epoch', seen.opened_at)) * 1000) AS delay
    FROM seen
    LEFT JOIN failed ON failed.view_id = seen.view_id
    LEFT JOIN event e ON e.site_id = ${siteId} AND e.id = seen.event_id AND e.type = 'exposure'
      AND e.occurred_at >= ${startedAt} AND e.occurred_at <= ${until}
    GROUP BY 1`,
  )
  return sheet.variants.map(({ name, weight, edits }, position) => {
    const own = rows.find(({ variant }) => variant === position)
    return {
      name,
      weight,
      visitors: own?.visitors ?? 0,
      redirects: edits.some(({ kind }) => kind === 'redirect'),
      withErrors: own?.withErrors ?? 0,
      delay: own?.delay ?? null,
    }
  })
}
