import { and, eq, sql } from 'drizzle-orm'
import { analyze, type MetricAnalysis } from '../../../core/analysis/analysis'
import { sumOfEffects } from '../../../core/analysis/sumOfEffects'
import { BUCKETS } from '../../../core/assignment/assignment'
import type { PartTally } from '../../../core/evidence/heldOut'
import type { MetricDefinition } from '../../../core/measurement/metric'
import { armShape } from '../../../core/statistics/shortfall'
import { periodStarts } from '../../../core/time/periods'
import { siteDays } from '../../../core/time/siteDay'
import { DAY } from '../../../core/time/units'
import type { HeldOutMetric, HoldoutReading } from '../../../shared/traffic/holdoutReading'
import type { Queries } from '../../database/connect'
import { holdout } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import type { EvidenceThread } from '../evidence/askEvidence'
import type { HeldOutAnswer } from '../evidence/heldOut'
import { listMetrics } from '../metrics/metricLibrary'
import { findSite } from '../sites/sites'
import { allHoldouts } from './heldOut'
import { keptThings, type MeasuredThing } from './keptThings'

const ALPHA = 0.05
/** Where nothing is known of the days before a holdout: what its intervals are tuned to, not what they hold for. */
const USUAL_VISITORS = 10_000
const [HELD_OUT, OTHERS] = ['held out', 'others']

export interface HoldoutPlace {
  database: Queries
  evidence: Pick<EvidenceThread, 'ask'>
  siteId: number
}

/**
 * What a holdout shows: those who are held out against all others, from its start on, whether they met anything of what
 * was begun or not. One that was closed shows what it showed then.
 *
 * @throws HttpProblem 404 for a holdout that is not the site's
 */
export async function readHoldout(
  { database, evidence, siteId }: HoldoutPlace,
  holdoutId: number,
  now: Date,
): Promise<HoldoutReading> {
  const row = (await allHoldouts(database, siteId)).find(({ id }) => id === holdoutId)
  if (!row) throw new HttpProblem(404, 'This holdout does not exist on this site.')
  if (row.closedAt) return keptReading(database, siteId, holdoutId)
  const { timeZone, currency } = await findSite(database, siteId)
  const metrics = await listMetrics(database, siteId)
  const dayOf = siteDays(timeZone)
  const months = periodStarts(dayOf(row.startsAt.getTime()), dayOf(now.getTime()), 'month')
  const answer = await evidence.ask(siteId, 'heldOut', {
    from: row.startsAt.getTime(),
    until: now.getTime(),
    salt: row.salt,
    share: row.share,
    months,
    metrics,
  })
  const things = await keptThings(database, siteId, row, now)
  const days = Math.max(1, (row.endsAt.getTime() - row.startsAt.getTime()) / DAY)
  const planned = (answer.visitorsADay ?? 0) * days || USUAL_VISITORS
  const directions = await saidDirections(database, siteId)
  const known = metrics.map((metric) => ({ ...metric, direction: directions.get(metric.id) ?? ('up' as const) }))
  const whole = analysisOf(known, answer.whole, row.share, planned)
  const ofMonths = answer.months.map((tally) => analysisOf(known, tally, row.share, planned))
  return {
    from: row.startsAt.toISOString(),
    until: now.toISOString(),
    visitors: answer.whole.visitors,
    allocation: {
      ...whole.allocation,
      observed: Object.values(whole.allocation.observed),
      expected: Object.values(whole.allocation.expected),
    },
    alpha: ALPHA,
    months: months.map((day, index) => ({ day, visitors: answer.months[index]!.visitors })),
    metrics: known.map(({ version: _, experiments: __, hypotheses: ___, ...metric }, index) => ({
      metric,
      ...effectOf(whole.metrics[index]!),
      months: ofMonths.map((month) => month.metrics[index]!.comparisons[0]!.lift),
      promised: promisedOf(metric.id, metric, things, whole.metrics[index]!, answer.whole.visitors[1]),
    })),
    things: things.map(({ metrics: _, ...thing }) => thing),
    currency,
  }
}

async function keptReading(database: Queries, siteId: number, holdoutId: number): Promise<HoldoutReading> {
  const [row] = await database
    .select({ reading: holdout.reading })
    .from(holdout)
    .where(and(eq(holdout.siteId, siteId), eq(holdout.id, holdoutId)))
  return row!.reading!
}

type Known = MetricDefinition & { name: string; direction: 'up' | 'down' }

function analysisOf(metrics: readonly Known[], tally: HeldOutAnswer['whole'], share: number, plannedVisitors: number) {
  return analyze({
    arms: [HELD_OUT!, OTHERS!],
    weights: [share, BUCKETS - share],
    visitors: tally.visitors,
    alpha: ALPHA,
    plannedVisitors,
    metrics: metrics.map(({ name, kind, direction }, index) => ({
      name,
      kind,
      direction,
      role: 'secondary',
      arms: tally.metrics[index]!.map(({ moments }) => moments),
      shapes: tally.metrics[index]!.map((part) => shapeOf(kind, part)),
      hasCovariate: false,
    })),
  })
}

function shapeOf(kind: MetricDefinition['kind'], { moments, active, thirds }: PartTally) {
  return armShape(kind, moments, active, thirds)
}

function effectOf({ arms, comparisons }: MetricAnalysis): Omit<HeldOutMetric, 'metric' | 'months' | 'promised'> {
  const { sequential, difference, shortfall } = comparisons[0]!
  return {
    arms: Object.values(arms).map(({ visitors, mean }) => ({ visitors, mean })),
    lift: sequential.lift,
    difference: difference.estimate,
    pValue: sequential.pValue,
    shortfall,
  }
}

/** What things promised of a metric: of a ratio nothing, since the visitors who got something do not say its weight. */
function promisedOf(
  id: string,
  { kind }: Pick<Known, 'kind'>,
  things: readonly MeasuredThing[],
  { arms }: MetricAnalysis,
  others: number,
): HeldOutMetric['promised'] {
  const measuring = things.flatMap(({ metrics }) =>
    metrics.filter((metric) => metric.id === id && metric.kind === kind),
  )
  const base = arms[HELD_OUT!]!.mean
  if (kind === 'ratio' || measuring.length === 0 || others === 0 || base === null) return null
  const effects = measuring.flatMap((metric) => metric.effects)
  const { difference, lift, interval } = sumOfEffects(effects, others, base, ALPHA)
  return { difference, lift, interval, things: measuring.length }
}

/** By the metric's id, what was said to be better on the latest sheet that it is on. */
async function saidDirections(database: Queries, siteId: number): Promise<Map<string, 'up' | 'down'>> {
  const { rows } = await database.execute<{ id: string; direction: 'up' | 'down' }>(sql`
    SELECT DISTINCT ON (v.metric_id) v.metric_id AS id, em.direction
    FROM experiment_metric em JOIN metric_version v ON v.site_id = em.site_id AND v.id = em.metric_version_id
    WHERE em.site_id = ${siteId} ORDER BY v.metric_id, em.experiment_id DESC`)
  return new Map(rows.map(({ id, direction }) => [id, direction]))
}
