import type { MetricEntry, MetricFigures, MetricFiguresView } from '../../../shared/metrics/replies'
import { and, asc, desc, eq, inArray, isNull, sql } from 'drizzle-orm'
import { learningCost } from '../../../core/hypotheses/learningCost'
import type { Reach } from '../../../core/evidence/reach'
import type { MetricDefinition } from '../../../core/measurement/metric'
import type { Queries } from '../../database/connect'
import { experiment, experimentMetric, hypothesis, metric, metricVersion } from '../../database/schema'
import type { EvidenceThread } from '../evidence/askEvidence'
import { FIGURE_DAYS, figureDays, spreadOf } from '../hypotheses/ideaFigures'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'

export interface FiguresPlace {
  database: Queries
  evidence: Pick<EvidenceThread, 'ask'>
  siteId: number
}

/** The metrics of a site by name, each with its latest definition and who uses it. */
export async function listMetrics(database: Queries, siteId: number): Promise<MetricEntry[]> {
  const rows = await database
    .selectDistinctOn([metric.id], {
      id: metric.id,
      name: metric.name,
      version: metricVersion.version,

      kind: metricVersion.kind,
      source: metricVersion.source,
      denominator: metricVersion.denominator,
      cap: metricVersion.cap,
      windowDays: metricVersion.windowDays,
    })
    .from(metric)
    .innerJoin(metricVersion, and(eq(metricVersion.metricId, metric.id), eq(metricVersion.siteId, siteId)))
    .where(eq(metric.siteId, siteId))
    .orderBy(asc(metric.id), desc(metricVersion.version))
  const ids = rows.map(({ id }) => id)
  const [experiments, hypotheses] = [
    await experimentsWith(database, siteId, ids),
    await hypothesesWith(database, siteId, ids),
  ]
  return rows
    .map((row) => ({
      ...row,
      experiments: experiments.filter(({ metricId }) => metricId === row.id).map(withoutMetric),
      hypotheses: hypotheses.filter(({ metricId }) => metricId === row.id).map(withoutMetric),
    }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'))
}

function withoutMetric<Row extends { metricId: string | null }>({ metricId: _, ...row }: Row): Omit<Row, 'metricId'> {
  return row
}

async function experimentsWith(database: Queries, siteId: number, ids: readonly string[]) {
  if (ids.length === 0) return []
  return database
    .selectDistinctOn([experiment.id, metricVersion.metricId], {
      metricId: metricVersion.metricId,
      id: experiment.id,

      name: experiment.name,
      state: experiment.state,
    })
    .from(experimentMetric)
    .innerJoin(metricVersion, eq(metricVersion.id, experimentMetric.metricVersionId))
    .innerJoin(experiment, eq(experiment.id, experimentMetric.experimentId))
    .where(
      and(eq(experimentMetric.siteId, siteId), inArray(metricVersion.metricId, [...ids]), isNull(experiment.deletedAt)),
    )
    .orderBy(desc(experiment.id), metricVersion.metricId)
}

async function hypothesesWith(database: Queries, siteId: number, ids: readonly string[]) {
  if (ids.length === 0) return []
  return database
    .select({ metricId: hypothesis.metricId, id: hypothesis.id, title: hypothesis.title })
    .from(hypothesis)
    .where(and(eq(hypothesis.siteId, siteId), inArray(hypothesis.metricId, [...ids]), isNull(hypothesis.deletedAt)))
    .orderBy(desc(hypothesis.id))
}

/** What each metric of a site came to in the last four whole weeks. */
export async function metricFigures(place: FiguresPlace, now: Date): Promise<MetricFiguresView> {
  const entries = await listMetrics(place.database, place.siteId)
  const { figures, ...days } = await figuresOf(place, entries, now)
  return { ...days, figures: Object.fromEntries(entries.map(({ id }, index) => [id, figures[index]!])) }
}

/** What definitions came to, in their order. */
export async function figuresOf(
  { database, evidence, siteId }: FiguresPlace,
  definitions: readonly MetricDefinition[],
  now: Date,
): Promise<Omit<MetricFiguresView, 'figures'> & { figures: MetricFigures[] }> {
  const { timeZone, currency } = await findSite(database, siteId)
  const days = figureDays(timeZone, now)
  const asked = definitions.flatMap(({ source, denominator, cap = null }) =>
    denominator
      ? [
          { source, cap, other: denominator },
          { source: denominator, cap: null },
        ]
      : [{ source, cap }],
  )
  const { reached } = await evidence.ask(siteId, 'counted', { ...days, asked })
  const left = [...reached]
  const figures = definitions.map((each) => {
    const [own, divisor] = [left.shift()!, each.denominator ? left.shift()! : null]
    return figuresFrom(each, own, divisor)
  })
  return { ...days, timeZone, currency, figures }
}

function figuresFrom({ kind }: MetricDefinition, reach: Reach, divisor: Reach | null): MetricFigures {
  const { visitors, converters } = reach
  if (divisor?.sum === 0) return { visitors, converters, value: null, visibleLift: null }
  const { mean, deviation } = divisor ? ratioSpread(reach, divisor) : spreadOf(reach, kind)
  const traffic = { days: FIGURE_DAYS, visitors, mean, deviation }
  return {
    visitors,
    converters,
    value: visitors === 0 ? null : mean,
    visibleLift: learningCost(traffic, kind === 'ratio' ? 'mean' : kind, 0, 'up').visibleLift,
  }
}

/**
 * A ratio of sums as the mean of one value a visitor, by the delta method: (x − R·y) / ȳ spreads as the ratio does
 * (Deng, Knoblich, Lu 2018, section 3.1).
 */
function ratioSpread({ visitors, sum, squares, products }: Reach, divisor: Reach) {
  const mean = sum / divisor.sum
  const spread = squares - 2 * mean * products + mean ** 2 * divisor.squares
  const deviation = Math.sqrt(Math.max(0, spread) / visitors) / (divisor.sum / visitors)
  return { mean, deviation }
}

/** Gives a metric another name, wherever it is used. */
export async function renameMetric(database: Queries, siteId: number, id: string, name: string): Promise<void> {
  const [other] = await database
    .select({ id: metric.id })
    .from(metric)
    .where(and(eq(metric.siteId, siteId), sql`lower(${metric.name}) = lower(${name})`, sql`${metric.id} <> ${id}`))
  if (other)
    throw new HttpProblem(422, 'Another metric has this name. Choose another one.', {
      name: 'Another metric has this name.',
    })
  const renamed = await database
    .update(metric)
    .set({ name })
    .where(and(eq(metric.siteId, siteId), eq(metric.id, id)))
    .returning({ id: metric.id })
  if (renamed.length === 0) throw new HttpProblem(404, 'This metric does not exist any more.')
}
