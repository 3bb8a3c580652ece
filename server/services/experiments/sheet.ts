import type { ExperimentSheet, MetricView, RampView } from '../../../shared/experiments/replies'
import { and, asc, desc, eq, inArray, isNull } from 'drizzle-orm'
import { combinedVariants } from '../../../core/factors/combinations'
import { preflight } from '../../../core/preflight/preflight'
import { asMeasured } from '../../../core/sheet/wordings'
import type { Queries } from '../../database/connect'
import { experiment, experimentMetric, metric, metricVersion, site } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { periodsOf, type PeriodRow } from '../traffic/periods'
import { factorsOf, variantsOf } from './variants'
import { DAY } from '../../../core/time/units'

type ExperimentRow = typeof experiment.$inferSelect

/** Who does it, and to which experiment. */
export interface Target {
  siteId: number
  experimentId: number
  personId: number | null
}

/** Sheets of a site in some state, the latest first. */
export async function listSheets(
  database: Queries,
  siteId: number,
  states: readonly ExperimentSheet['state'][],
): Promise<ExperimentSheet[]> {
  const rows = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.state, [...states]), isNull(experiment.deletedAt)))
    .orderBy(desc(experiment.id))
  return readSheets(database, siteId, rows)
}

/** Sheets of experiments by their ids. */
export async function findSheets(
  database: Queries,
  siteId: number,
  ids: readonly number[],
): Promise<ExperimentSheet[]> {
  if (ids.length === 0) return []
  const rows = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.id, [...ids]), isNull(experiment.deletedAt)))
  return readSheets(database, siteId, rows)
}

/** One sheet, or a refusal when the site has no such experiment. */
export async function findSheet(database: Queries, siteId: number, experimentId: number): Promise<ExperimentSheet> {
  const [sheet] = await findSheets(database, siteId, [experimentId])
  if (!sheet) throw new HttpProblem(404, 'This experiment does not exist on this site. It may have been deleted.')
  return sheet
}

/** One sheet with its variants as they are measured; see `measuredVariants`. */
export async function findMeasuredSheet(
  database: Queries,
  siteId: number,
  experimentId: number,
): Promise<ExperimentSheet> {
  return asMeasured(await findSheet(database, siteId, experimentId))
}

/**
 * The sheet of an experiment of which parts of the visitors are to be compared. Where the split moved they cannot be: a
 * part would mix visitors who were drawn by different weights.
 *
 * @throws HttpProblem 409 for a split that moved
 */
export async function findSheetToPart(
  database: Queries,
  siteId: number,
  experimentId: number,
): Promise<ExperimentSheet> {
  const sheet = await findMeasuredSheet(database, siteId, experimentId)
  if (sheet.periods.length > 0)
    throw new HttpProblem(409, 'The split of this experiment moved, so parts of its visitors are not compared.')
  return sheet
}

/** Holds the experiment's row until the transaction ends, so that two changes come one after the other. */
export async function lockSheet(
  tx: Queries,
  { siteId, experimentId }: Pick<Target, 'siteId' | 'experimentId'>,
): Promise<ExperimentSheet> {
  await tx
    .select({ id: experiment.id })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    .for('no key update')
  return findSheet(tx, siteId, experimentId)
}

async function readSheets(database: Queries, siteId: number, rows: ExperimentRow[]): Promise<ExperimentSheet[]> {
  if (rows.length === 0) return []
  const ids = rows.map((row) => row.id)
  const [owner] = await database.select().from(site).where(eq(site.id, siteId))
  const variants = await variantsOf(database, siteId, ids)
  const allFactors = await factorsOf(database, siteId, ids)
  const metrics = await metricsOf(database, siteId, ids)
  const periods = await periodsOf(database, siteId, ids)
  return rows.map((row) => {
    const factors = allFactors.get(row.id) ?? []
    const combinationsOff = row.combinationsOff.map((off) => ({ id: off }))
    const ownVariants =
      factors.length > 0 ? combinedVariants({ factors, combinationsOff }) : (variants.get(row.id) ?? [])
    const ownMetrics = metrics.get(row.id) ?? []
    const { id, name, purpose, hypothesis, state, version, pageRules, audience, share, terms, plan, expectation } = row
    return {
      id,
      siteId,
      name,
      purpose,
      hypothesis,
      state,
      version,
      pageRules,
      audience,
      share,
      terms,
      plan,
      expectation,
      periods: (periods.get(id) ?? []).map(periodView),
      currency: owner!.currency,
      timeZone: owner!.timeZone,
      allowsScripts: owner!.allowsScripts,

      factors,
      combinationsOff,
      variants: ownVariants,
      metrics: ownMetrics,
      createdAt: row.createdAt.toISOString(),
      startedAt: row.startedAt?.toISOString() ?? null,
      endedAt: row.endedAt?.toISOString() ?? null,
      decision: row.decision,
      splitSettlement: row.splitSettlement,
      schedule: {
        start: row.startsAt?.toISOString() ?? null,
        end: row.endsAt?.toISOString() ?? null,
        problem: row.scheduleProblem,
      },
      ramp: rampOf(row),
      preflight:
        state === 'draft'
          ? preflight({
              purpose,
              siteAddress: owner!.address,
              pageRules,
              audience,
              share,
              terms,
              variants: ownVariants,
              metrics: ownMetrics,
              plan,

              factors,
              combinationsOff,
              isInstalled: owner!.firstReportAt !== null,
              allowsScripts: owner!.allowsScripts,
            })
          : [],
    }
  })
}

function periodView({ since, weights, chances }: PeriodRow): ExperimentSheet['periods'][number] {
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  return { since: since.toISOString(), shares: weights.map((weight) => weight / all), chances }
}

function rampOf({ terms, rampStep, rampSince, rampFinal, rampProblem }: ExperimentRow): RampView | null {
  if (rampStep === null || !rampSince || rampFinal === null) return null
  const until = new Date(rampSince.getTime() + (terms.ramp[rampStep]?.days ?? 0) * DAY)
  return { step: rampStep, until: until.toISOString(), final: rampFinal, problem: rampProblem }
}

async function metricsOf(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<Map<number, MetricView[]>> {
  const rows = await database
    .select({
      experimentId: experimentMetric.experimentId,
      view: {
        id: metric.id,
        versionId: metricVersion.id,
        name: metric.name,
        kind: metricVersion.kind,
        source: metricVersion.source,
        denominator: metricVersion.denominator,
        cap: metricVersion.cap,
        windowDays: metricVersion.windowDays,
        direction: experimentMetric.direction,
        role: experimentMetric.role,
        limit: experimentMetric.harmLimit,
      },
    })
    .from(experimentMetric)
    .innerJoin(metricVersion, eq(metricVersion.id, experimentMetric.metricVersionId))
    .innerJoin(metric, eq(metric.id, metricVersion.metricId))
    .where(and(eq(experimentMetric.siteId, siteId), inArray(experimentMetric.experimentId, [...experimentIds])))
    .orderBy(asc(experimentMetric.position))
  const found = new Map<number, MetricView[]>()
  for (const { experimentId, view } of rows) found.set(experimentId, [...(found.get(experimentId) ?? []), view])
  return found
}
