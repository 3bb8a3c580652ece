import type { LinkedExperiment } from '../../../shared/hypotheses/replies'
import { and, desc, eq, inArray, isNull, type SQL } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { experiment, experimentSummary, variant } from '../../database/schema'

/** An experiment with how it stands, and the hypothesis that it was made from. */
export type Linked = LinkedExperiment & { hypothesisId: number | null }

/** Experiments of a site of which something holds, the latest first. */
async function linked(database: Queries, siteId: number, condition: SQL): Promise<Linked[]> {
  const rows = await database
    .select({ own: experiment, summary: experimentSummary.content })
    .from(experiment)
    .leftJoin(
      experimentSummary,
      and(eq(experimentSummary.siteId, experiment.siteId), eq(experimentSummary.experimentId, experiment.id)),
    )
    .where(and(eq(experiment.siteId, siteId), isNull(experiment.deletedAt), condition))
    .orderBy(desc(experiment.id))
  const names = await keptNames(
    database,
    siteId,
    rows.map(({ own }) => own.decision?.variant).filter((each) => typeof each === 'string'),
  )
  return rows.map(({ own: { id, name, purpose, state, plan, decision, hypothesisId }, summary }) => ({
    id,
    name,
    purpose,
    state,
    hypothesisId,
    verdict: summary?.verdict?.title ?? null,

    lift: summary?.best?.lift ?? null,
    interval: summary?.best?.interval ?? null,
    smallestLift: plan.smallestLift,
    kept: decision?.variant ? (names.get(decision.variant) ?? null) : null,
  }))
}

async function keptNames(database: Queries, siteId: number, ids: string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map()
  const rows = await database
    .select({ id: variant.id, name: variant.name })
    .from(variant)
    .where(and(eq(variant.siteId, siteId), inArray(variant.id, ids)))
  return new Map(rows.map(({ id, name }) => [id, name]))
}

/** By their ids, in that order. */
export async function experimentsByIds(database: Queries, siteId: number, ids: number[]): Promise<LinkedExperiment[]> {
  if (ids.length === 0) return []
  const found = new Map((await linked(database, siteId, inArray(experiment.id, ids))).map((each) => [each.id, each]))
  return ids.flatMap((id) => found.get(id) ?? []).map(withoutHypothesis)
}

/** Of hypotheses, by their ids; the latest first. */
export async function experimentsOf(
  database: Queries,
  siteId: number,
  hypothesisIds: number[],
): Promise<Map<number, LinkedExperiment[]>> {
  const found = new Map<number, LinkedExperiment[]>(hypothesisIds.map((id) => [id, []]))
  if (hypothesisIds.length === 0) return found
  for (const each of await linked(database, siteId, inArray(experiment.hypothesisId, hypothesisIds)))
    found.get(each.hypothesisId!)!.push(withoutHypothesis(each))
  return found
}

/** The hypothesis that an experiment was made from; null for none. */
export async function hypothesisOf(database: Queries, siteId: number, experimentId: number): Promise<number | null> {
  const [found] = await linked(database, siteId, eq(experiment.id, experimentId))
  return found?.hypothesisId ?? null
}

function withoutHypothesis({ hypothesisId: _, ...rest }: Linked): LinkedExperiment {
  return rest
}
