import type { IdeaFigures, IdeaMetric, RefreshedFigures } from '../../../shared/hypotheses/replies'
import { and, eq, isNull, sql } from 'drizzle-orm'
import type { Reach } from '../../../core/evidence/reach'
import type { MetricKind } from '../../../core/statistics/estimate'
import { conversionMoments, sampleVariance } from '../../../core/statistics/moments'
import { dayAfter, siteDays } from '../../../core/time/siteDay'
import { isMoney } from '../../../shared/formats'
import type { Queries } from '../../database/connect'
import { hypothesis, ideaTraffic } from '../../database/schema'
import type { IdeaAsked } from '../evidence/answers'
import type { EvidenceThread } from '../evidence/askEvidence'
import { siteMetrics } from '../evidence/choices'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'

/** Days that figures look back on: whole weeks, up to yesterday. */
export const FIGURE_DAYS = 28
/** Figures that are computed in one call: a call takes seconds at most. */
const AT_ONCE = 25

interface Place {
  database: Queries
  evidence: Pick<EvidenceThread, 'ask'>
  siteId: number
}

/** The days that figures are of on a day: four weeks up to the day before it. */
export function figureDays(timeZone: string, now: Date): { from: string; to: string } {
  const to = dayAfter(siteDays(timeZone)(now.getTime()), -1)
  return { from: dayAfter(to, 1 - FIGURE_DAYS), to }
}

/** What visitors of pages and audiences did in the last four weeks, in the order of the ideas. */
export async function computeFigures(
  { database, evidence, siteId }: Place,
  ideas: readonly IdeaAsked[],
  now: Date,
): Promise<IdeaFigures[]> {
  if (ideas.length === 0) return []
  const { timeZone } = await findSite(database, siteId)
  const metrics = new Map((await siteMetrics(database, siteId)).map((each) => [each.id, each]))
  const days = figureDays(timeZone, now)
  const { reached } = await evidence.ask(siteId, 'reach', { ...days, ideas })
  return reached.map((reach, index) => ({ ...days, ...figuresOf(reach, metrics.get(ideas[index]!.metricId)!) }))
}

function figuresOf(reach: Reach, metric: IdeaMetric): Omit<IdeaFigures, 'from' | 'to'> {
  const { visitors, converters, sum, counted } = reach
  return {
    visitors,
    converters,
    ...spreadOf(reach, metric.kind),
    // An event without an amount counts as one: sums that differ from the count are amounts.
    problem: null,
    unitValue: isMoney(metric) ? 1 : converters > 0 && sum !== counted ? sum / converters : null,
  }
}

/** Mean and deviation of a visitor's value. */
export function spreadOf({ visitors, converters, sum, squares }: Reach, kind: MetricKind) {
  if (visitors === 0) return { mean: 0, deviation: 0 }
  if (kind === 'conversion') {
    const moments = conversionMoments(visitors, converters)
    return { mean: converters / visitors, deviation: visitors < 2 ? 0 : Math.sqrt(sampleVariance(moments)) }
  }
  const mean = sum / visitors
  const variance = visitors < 2 ? 0 : Math.max(0, (squares - visitors * mean ** 2) / (visitors - 1))
  return { mean, deviation: Math.sqrt(variance) }
}

/** Under what figures of an idea are kept. */
export function ideaKey({ pages, audience, metricId }: IdeaAsked): string {
  return JSON.stringify([pages, audience, metricId])
}

/** All figures of a site that are kept, by `ideaKey`. */
export async function readFigures(database: Queries, siteId: number): Promise<Map<string, IdeaFigures>> {
  const rows = await database.select().from(ideaTraffic).where(eq(ideaTraffic.siteId, siteId))
  return new Map(rows.map((row) => [ideaKey(row), row.figures]))
}

/** Ideas of a site's hypotheses whose figures are missing, or of other days than those that count now. */
async function staleIdeas(database: Queries, siteId: number, to: string): Promise<IdeaAsked[]> {
  const pages = sql<string>`coalesce(${hypothesis.pages}, '')`
  const audience = sql<string>`coalesce(${hypothesis.audience}, '')`
  const rows = await database
    .selectDistinctOn([audience, pages, hypothesis.metricId], { pages, audience, metricId: hypothesis.metricId })
    .from(hypothesis)
    .leftJoin(
      ideaTraffic,
      and(
        eq(ideaTraffic.siteId, siteId),
        eq(ideaTraffic.pages, pages),
        eq(ideaTraffic.audience, audience),
        eq(ideaTraffic.metricId, hypothesis.metricId),
      ),
    )
    .where(
      and(
        eq(hypothesis.siteId, siteId),
        isNull(hypothesis.deletedAt),
        sql`${hypothesis.metricId} IS NOT NULL`,
        sql`${ideaTraffic.figures}->>'to' IS DISTINCT FROM ${to}`,
      ),
    )
    .orderBy(audience, pages, hypothesis.metricId)
  return rows.flatMap(({ metricId, ...rest }) => (metricId === null ? [] : [{ ...rest, metricId }]))
}

/** How many ideas have figures that are missing or old. */
export async function countStale(database: Queries, siteId: number, now: Date): Promise<number> {
  const { timeZone } = await findSite(database, siteId)
  return (await staleIdeas(database, siteId, figureDays(timeZone, now).to)).length
}

/** The same where one of the ideas may ask for what is gone: it says so, and keeps no other from being computed. */
async function computeAll(place: Place, ideas: readonly IdeaAsked[], now: Date): Promise<IdeaFigures[]> {
  try {
    return await computeFigures(place, ideas, now)
  } catch (error) {
    if (!(error instanceof HttpProblem) || error.status >= 500) throw error
    if (ideas.length > 1) {
      const parts: IdeaFigures[] = []
      for (const idea of ideas) parts.push(...(await computeAll(place, [idea], now)))
      return parts
    }
    const { timeZone } = await findSite(place.database, place.siteId)
    const nothing = { visitors: 0, converters: 0, mean: 0, deviation: 0, unitValue: null }
    return [{ ...figureDays(timeZone, now), ...nothing, problem: error.message }]
  }
}

/** Computes some of the figures that are missing or old; called again until nothing is left. */
export async function refreshFigures(place: Place, now: Date): Promise<RefreshedFigures> {
  const { database, siteId } = place
  const { timeZone } = await findSite(database, siteId)
  const stale = await staleIdeas(database, siteId, figureDays(timeZone, now).to)
  const ideas = stale.slice(0, AT_ONCE)
  const figures = await computeAll(place, ideas, now)
  if (ideas.length > 0)
    await database
      .insert(ideaTraffic)
      .values(ideas.map((idea, index) => ({ ...idea, siteId, figures: figures[index]!, at: now })))
      .onConflictDoUpdate({
        target: [ideaTraffic.siteId, ideaTraffic.pages, ideaTraffic.audience, ideaTraffic.metricId],
        set: { figures: sql`excluded.figures`, at: now },
        setWhere: eq(ideaTraffic.siteId, siteId),
      })
  return { done: ideas.length, left: stale.length - ideas.length }
}
