import type { JobView } from '../../shared/sites/replies'
import { and, desc, eq, inArray, lt, ne, or, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import { pageOf, type Paged, type PageQuery } from '../../shared/api/paging'
import type { Database, Queries } from '../database/connect'
import { olderThan } from '../database/olderThan'
import { backgroundJob, experiment, experimentMetric, metricVersion } from '../database/schema'
import type { MetricDefinition } from '../../core/measurement/metric'
import { HttpProblem } from '../services/HttpProblem'
import { groupBy } from '../services/groupBy'
import { REFOLDS_LEFT_OPEN } from '../services/results/queries'
import { PICTURES, REFOLD, type PicturesJob, type RefoldJob } from './queue'

/**
 * Asks for an experiment's numbers to be brought in line with what was changed, if the transaction comes to its end.
 *
 * @param added - versions of metrics that are to be measured for the first time
 */
export async function requestRefold(
  tx: Queries,
  queue: Pick<PgBoss, 'send'>,
  siteId: number,
  experimentId: number,
  title: string,
  added: readonly number[] = [],
): Promise<number> {
  const [made] = await tx
    .insert(backgroundJob)
    .values({ siteId, experimentId, title, added: [...added] })
    .returning({ id: backgroundJob.id })
  const job: RefoldJob = { siteId, experimentId, jobId: made!.id }
  await queue.send(REFOLD, job, {
    db: within(tx),
    retryLimit: 100,
    retryDelay: 5,
    retryBackoff: true,
    expireInHours: 12,
  })
  return made!.id
}

/** Experiments whose numbers were not brought in line to the end: asks for it again. */
export async function resumeRefolds(database: Database, queue: Pick<PgBoss, 'send'>): Promise<void> {
  const { rows } = await database.execute<{ site: number; experiment: number; title: string; added: number[] }>(
    sql.raw(REFOLDS_LEFT_OPEN),
  )
  for (const { site, experiment: id, title, added } of rows)
    await database.transaction((tx) => requestRefold(tx, queue, site, id, title, added))
}

/** Asks for pictures of an experiment's variants, some seconds from now. */
export async function requestPictures(
  tx: Queries,
  queue: PgBoss,
  asked: Omit<PicturesJob, 'jobId'>,
  title: string,
  afterSeconds: number,
): Promise<void> {
  const { siteId, experimentId } = asked
  const [made] = await tx
    .insert(backgroundJob)
    .values({ siteId, experimentId, kind: 'pictures', title })
    .returning({ id: backgroundJob.id })
  const job: PicturesJob = { ...asked, jobId: made!.id }
  await queue.send(PICTURES, job, {
    db: within(tx),
    startAfter: new Date(Date.now() + afterSeconds * 1000),
    retryLimit: 2,
    retryDelay: 5,
    expireInHours: 1,
  })
}

/** Lets the queue write in a transaction: a job is asked for together with what makes it necessary, or not at all. */
function within(tx: Queries): PgBoss.Db {
  return {
    executeSql(text, values: unknown[]) {
      const parts = text.split(/\$(\d+)/).map((part, index) => {
        return index % 2 === 0 ? sql.raw(part) : sql`${sql.param(values[Number(part) - 1])}`
      })
      return tx.execute(sql.join(parts))
    },
  }
}

/**
 * Asks for the numbers of everything that a site has started.
 *
 * @param isConcerned - of those, which experiments by their metrics
 */
export async function requestRefoldOfSite(
  tx: Queries,
  queue: Pick<PgBoss, 'send'>,
  siteId: number,
  title: string,
  isConcerned: (metrics: readonly MetricDefinition[]) => boolean = () => true,
): Promise<void> {
  const started = await tx
    .select({ id: experiment.id, name: experiment.name, metric: metricVersion })
    .from(experiment)
    .leftJoin(
      experimentMetric,
      and(eq(experimentMetric.siteId, experiment.siteId), eq(experimentMetric.experimentId, experiment.id)),
    )
    .leftJoin(metricVersion, eq(metricVersion.id, experimentMetric.metricVersionId))
    .where(and(eq(experiment.siteId, siteId), sql`${experiment.startedAt} IS NOT NULL`))
  for (const [id, rows] of groupBy(started, (row) => row.id)) {
    const metrics = rows.flatMap(({ metric }) => (metric ? [metric] : []))
    if (isConcerned(metrics)) await requestRefold(tx, queue, siteId, id, `${title}: ${rows[0]!.name}`)
  }
}

/** A page of a site's jobs, the latest first. */
export async function listJobs(
  database: Queries,
  siteId: number,
  { after, limit }: PageQuery,
): Promise<Paged<JobView>> {
  const rows = await database
    .select()
    .from(backgroundJob)
    .where(and(eq(backgroundJob.siteId, siteId), olderThan(backgroundJob.id, after)))
    .orderBy(desc(backgroundJob.id))
    .limit(limit + 1)
  const items = rows.map(({ id, kind, title, state, progress, experimentId, problem, createdAt }) => ({
    id,
    kind,
    title,
    state,
    progress,
    experimentId,
    problem,
    createdAt: createdAt.toISOString(),
  }))
  return pageOf(items, limit)
}

/**
 * Cancels a job that has not ended; it stops before its next portion.
 *
 * @throws HttpProblem 409 for numbers that are being computed: half of them would be old and half new
 */
export async function cancelJob(database: Queries, siteId: number, jobId: number): Promise<void> {
  const own = and(eq(backgroundJob.siteId, siteId), eq(backgroundJob.id, jobId))
  const isOpen = inArray(backgroundJob.state, ['waiting', 'running'])
  const [found] = await database.select({ kind: backgroundJob.kind }).from(backgroundJob).where(and(own, isOpen))
  if (!found) throw new HttpProblem(404, 'This job does not exist, or it has ended.')
  if (found.kind === 'refold')
    throw new HttpProblem(
      409,
      'Numbers are always computed to the end. To get the earlier ones back, take back what has changed them.',
    )
  await database
    .update(backgroundJob)
    .set({ state: 'canceled', finishedAt: sql`now()` })
    .where(and(own, isOpen))
}

/**
 * Notes how far a job is.
 *
 * @returns whether it is to go on: not once it has ended, nor once it was canceled
 */
export async function noteProgress(
  database: Queries,
  { siteId, jobId }: Pick<RefoldJob, 'siteId' | 'jobId'>,
  progress: number,
): Promise<boolean> {
  const noted = await database
    .update(backgroundJob)
    .set({ state: 'running', progress })
    .where(
      and(
        eq(backgroundJob.siteId, siteId),
        eq(backgroundJob.id, jobId),
        inArray(backgroundJob.state, ['waiting', 'running', 'failed']),
      ),
    )
    .returning({ id: backgroundJob.id })
  return noted.length > 0
}

export async function noteEnd(
  database: Queries,
  { siteId, jobId }: Pick<RefoldJob, 'siteId' | 'jobId'>,
  state: 'done' | 'failed',
  problem: string | null = null,
): Promise<void> {
  await database
    .update(backgroundJob)
    .set({ state, problem, finishedAt: sql`now()`, ...(state === 'done' ? { progress: 1 } : {}) })
    .where(and(eq(backgroundJob.siteId, siteId), eq(backgroundJob.id, jobId)))
}

/** Forgets jobs that came to their end long ago. Numbers that were not brought in line are not forgotten. */
export async function dropOldJobs(database: Queries, before: Date): Promise<void> {
  const isForgotten = or(ne(backgroundJob.kind, 'refold'), eq(backgroundJob.state, 'done'))
  await database.delete(backgroundJob).where(and(lt(backgroundJob.finishedAt, before), isForgotten))
}
