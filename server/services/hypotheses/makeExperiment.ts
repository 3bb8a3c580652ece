import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq } from 'drizzle-orm'
import type { Purpose } from '../../../core/sheet/content'
import { DEFAULT_PLAN, planOfNew } from '../../../core/sheet/defaultPlan'
import { audienceOfSegment } from '../../../core/targeting/audienceOfSegment'
import { readPage, readSegment } from '../../../shared/evidence/filter'
import type { Database } from '../../database/connect'
import { experiment } from '../../database/schema'
import { siteMetrics } from '../evidence/choices'
import { fillSheet, type SheetParts } from '../experiments/changeSheet'
import { createExperiment } from '../experiments/experiments'
import { findHypothesis } from './hypotheses'
import type { Target } from './lockHypothesis'

const LONGEST_NAME = 120

/**
 * A draft that tests a hypothesis, or serves what it proposes: its statement, pages and metric, and the likely lift as the
 * smallest worth having.
 */
export async function makeExperiment(
  database: Database,
  target: Target,
  purpose: Purpose = 'test',
): Promise<ExperimentSheet> {
  const { siteId, hypothesisId, personId } = target
  const idea = await findHypothesis(database, siteId, hypothesisId, personId)
  const metric = (await siteMetrics(database, siteId)).find(({ id }) => id === idea.metric)
  const rule = idea.pages === null ? null : readPage(idea.pages)
  const name = idea.title.slice(0, LONGEST_NAME)
  const { id: experimentId } = await createExperiment(database, siteId, personId, name, purpose)
  await database
    .update(experiment)
    .set({ hypothesisId })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  const parts: SheetParts = { hypothesis: idea.statement ?? idea.assembled }
  // All pages are those whose address begins with a slash.
  parts.pageRules = [rule ?? { match: 'begins', value: '/' }]
  parts.audience = audienceOfSegment((idea.audience && readSegment(idea.audience)) || [])
  if (metric) {
    const { id, kind, source } = metric
    const { direction } = idea
    parts.metrics = [
      {
        id,
        name: metric.name,
        kind,
        source,
        denominator: null,
        cap: null,
        windowDays: null,
        direction,
        role: 'primary',
        limit: null,
      },
    ]
  }
  if (idea.likely !== null && idea.likely > 0)
    parts.plan = {
      ...planOfNew(purpose),
      smallestLift: idea.likely,
      ...(purpose === 'test'
        ? { longestWeeks: Math.max(DEFAULT_PLAN.longestWeeks, Math.min(26, idea.assessment?.cost?.weeks ?? 0)) }
        : {}),
    }
  return fillSheet(database, { siteId, experimentId, personId }, parts)
}
