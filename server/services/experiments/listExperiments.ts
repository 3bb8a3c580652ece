import type { Purpose } from '../../../core/sheet/content'
import { pageRulesInWords } from '../../../core/targeting/pageWords'
import type { ExperimentSummary } from '../../../shared/experiments/replies'
import { and, asc, desc, eq, ilike, inArray, isNull, or, sql, type SQL } from 'drizzle-orm'
import type { ExperimentSort } from '../../../shared/experiments/experimentList'
import type { ExperimentState } from '../../../shared/experiments/experiment'
import { pageOf, type Paged } from '../../../shared/api/paging'
import type { Queries } from '../../database/connect'
import { containing } from '../../database/containing'
import { experiment, experimentSummary } from '../../database/schema'
import type { StoredSummary } from '../results/summaries'

/** A row of the list, with what Today looks at beside it. */
export type SummaryRow = ExperimentSummary & Pick<StoredSummary, 'lastDays' | 'littleChance'> & { purpose: Purpose }

interface Which {
  state?: ExperimentState
  purpose?: Purpose
  search?: string
  sort?: ExperimentSort | `-${ExperimentSort}`
  after?: number
  limit: number
}

/** A page of the experiments or personalizations of a site, the latest first unless it is sorted otherwise. */
export async function listExperiments(
  database: Queries,
  siteId: number,
  { state, purpose = 'test', search, sort, after, limit }: Which,
): Promise<Paged<ExperimentSummary>> {
  const rows = await readRows(database, siteId, state ? [state] : null, {
    purpose,
    search,
    sort,
    after,
    limit: limit + 1,
  })
  const { items, next } = pageOf(rows, limit)
  return { items: items.map(withoutDays), next }
}

/** As lists show it. */
export function withoutDays(row: SummaryRow): ExperimentSummary {
  const { lastDays: _days, littleChance: _chance, purpose: _purpose, ...rest } = row
  return rest
}

/** Experiments and personalizations of a site in some states, all of them, or those of one purpose. */
export function readSummaries(
  database: Queries,
  siteId: number,
  states: readonly ExperimentState[] | null,
  purpose?: Purpose,
): Promise<SummaryRow[]> {
  return readRows(database, siteId, states, { purpose })
}

/** Experiments whose name or addresses hold a text, in whatever case. */
function found(search: string) {
  const pattern = containing(search)
  return or(ilike(experiment.name, pattern), sql`${experiment.pageRules}::text ILIKE ${pattern}`)
}

/** What rows are sorted by; nothing is null, so that pages follow each other. */
const SORTS: Record<ExperimentSort | 'latest', SQL> = {
  latest: sql`0`,
  name: sql`lower(${experiment.name})`,
  state: sql`${experiment.state}::text`,
  started: sql`coalesce(${experiment.startedAt}, 'infinity'::timestamptz)`,
  visitors: sql`coalesce((${experimentSummary.content}->>'visitors')::float8, 0)`,
  lift: sql`coalesce((${experimentSummary.content}->'best'->>'lift')::float8, '-infinity'::float8)`,
}

/** Rows after one of them, in an order; the latest come first among equals. */
function follows(siteId: number, by: SQL, isDown: boolean, after: number | undefined): SQL | undefined {
  if (after === undefined) return undefined
  const reference = sql`(SELECT ${by} FROM ${experiment} LEFT JOIN ${experimentSummary}
    ON ${experimentSummary.siteId} = ${experiment.siteId} AND ${experimentSummary.experimentId} = ${experiment.id}
    WHERE ${experiment.siteId} = ${siteId} AND ${experiment.id} = ${after})`
  const beyond = isDown ? sql`${by} < ${reference}` : sql`${by} > ${reference}`
  return sql`(${beyond} OR (${by} = ${reference} AND ${experiment.id} < ${after}))`
}

async function readRows(
  database: Queries,
  siteId: number,
  states: readonly ExperimentState[] | null,
  { purpose, search, sort, after, limit }: Omit<Which, 'state' | 'limit'> & { limit?: number } = {},
): Promise<SummaryRow[]> {
  const isDown = sort?.startsWith('-') ?? false
  const by = SORTS[sort ? (sort.replace(/^-/, '') as ExperimentSort) : 'latest']
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
        purpose ? eq(experiment.purpose, purpose) : undefined,
        search ? found(search) : undefined,
        follows(siteId, by, isDown, after),
      ),
    )
    .orderBy(...(sort ? [isDown ? desc(by) : asc(by)] : []), desc(experiment.id))
  const rows = await (limit === undefined ? query : query.limit(limit))
  return rows.map(
    ({ own: { id, name, purpose: isFor, servedFrom, state, pageRules, plan, startedAt, endedAt }, summary }) => ({
      id,
      name,
      purpose: isFor,
      servedFrom,
      state,
      pages: pageRulesInWords(pageRules),
      startedAt: startedAt?.toISOString() ?? null,
      endedAt: endedAt?.toISOString() ?? null,
      visitors: summary?.visitors ?? 0,
      verdict: summary?.verdict ?? null,
      smallestLift: plan.smallestLift,
      longestWeeks: plan.longestWeeks,
      best: summary?.best ?? null,
      lastDays: summary?.lastDays ?? [],
      littleChance: summary?.littleChance ?? null,
    }),
  )
}
