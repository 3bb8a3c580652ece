import { and, desc, eq, ilike, inArray, isNull, or, sql } from 'drizzle-orm'
import type { ExperimentState, ExperimentSummary } from '../../../shared/experiment'
import { pageOf, type Paged } from '../../../shared/paging'
import type { Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { experiment, experimentSummary } from '../../database/schema'
import type { StoredSummary } from '../results/summaries'

/** A row of the list, with what Today looks at beside it. */
export type SummaryRow = ExperimentSummary & Pick<StoredSummary, 'lastDays'>

interface Which {
  state?: ExperimentState
  search?: string
  after?: number
  limit: number
}

/** A page of the experiments of a site, the latest first. */
export async function listExperiments(
  database: Queries,
  siteId: number,
  { state, search, after, limit }: Which,
): Promise<Paged<ExperimentSummary>> {
  const rows = await readRows(database, siteId, state ? [state] : null, { search, after, limit: limit + 1 })
  const { items, next } = pageOf(rows, limit)
  return { items: items.map(withoutDays), next }
}

function withoutDays(row: SummaryRow): ExperimentSummary {
  const { lastDays: _, ...rest } = row
  return rest
}

/** Experiments of a site in some states, all of them. */
export function readSummaries(
  database: Queries,
  siteId: number,
  states: readonly ExperimentState[] | null,
): Promise<SummaryRow[]> {
  return readRows(database, siteId, states)
}

/** Experiments whose name or addresses hold a text, in whatever case. */
function found(search: string) {
  const pattern = `%${search.replace(/[\\%_]/g, '\\$&')}%`
  return or(ilike(experiment.name, pattern), sql`${experiment.pageRules}::text ILIKE ${pattern}`)
}

async function readRows(
  database: Queries,
  siteId: number,
  states: readonly ExperimentState[] | null,
  { search, after, limit }: { search?: string; after?: number; limit?: number } = {},
): Promise<SummaryRow[]> {
  const query = database
    .select({ own: experiment, summary: experimentSummary.content })
    .from(experiment)
    .leftJoin(
      experimentSummary,
      and(eq(experimentSummary.siteId, experiment.siteId), eq(experimentSummary.experimentId, experiment.id)),
    )
    .where(
      and(
        eq(experiment.siteId, siteId),
        isNull(experiment.deletedAt),
        states ? inArray(experiment.state, [...states]) : undefined,
        search ? found(search) : undefined,
        olderThan(experiment.id, after),
      ),
    )
    .orderBy(desc(experiment.id))
  const rows = await (limit === undefined ? query : query.limit(limit))
  return rows.map(({ own: { id, name, state, pageRules, plan, startedAt, endedAt }, summary }) => ({
    ...{ id, name, state },
    pages: pageRules.map((rule) => rule.value).join(', '),
    startedAt: startedAt?.toISOString() ?? null,
    endedAt: endedAt?.toISOString() ?? null,
    visitors: summary?.visitors ?? 0,
    verdict: summary?.verdict ?? null,
    smallestLift: plan.smallestLift,
    longestWeeks: plan.longestWeeks,
    best: summary?.best ?? null,
    lastDays: summary?.lastDays ?? [],
  }))
}
