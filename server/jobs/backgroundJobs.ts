import { and, desc, eq, inArray, isNull, lt, or, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import { pageOf, type Paged, type PageQuery } from '../../shared/paging'
import type { JobView } from '../../shared/site'
import type { Queries } from '../database/connect'
import { olderThan } from '../database/olderThan'
import { backgroundJob, experiment } from '../database/schema'
import { HttpProblem } from '../services/HttpProblem'
import { PICTURES, REFOLD, type PicturesJob, type RefoldJob } from './queue'

/** Asks for an experiment's numbers to be computed anew, if the transaction comes to its end. */
export async function requestRefold(
  tx: Queries,
  queue: PgBoss,
  siteId: number,
  experimentId: number,
  title: string,
): Promise<number> {
  const [made] = await tx
    .insert(backgroundJob)
    .values({ siteId, experimentId, title })
    .returning({ id: backgroundJob.id })
  const job: RefoldJob = { siteId, experimentId, jobId: made!.id }
  await queue.send(REFOLD, job, {
    db: within(tx),
    retryLimit: 20,
    retryDelay: 5,
    expireInHours: 12,
  })
  return made!.id
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

/** Asks for the numbers of everything that a site has started. */
export async function requestRefoldOfSite(tx: Queries, queue: PgBoss, siteId: number, title: string): Promise<void> {
  const started = await tx
    .select({ id: experiment.id, name: experiment.name })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), sql`${experiment.startedAt} IS NOT NULL`, isNull(experiment.deletedAt)))
  for (const { id, name } of started) await requestRefold(tx, queue, siteId, id, `${title}: ${name}`)
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
    ...{ id, kind, title, state, progress, experimentId, problem },
    createdAt: createdAt.toISOString(),
  }))
  return pageOf(items, limit)
}

/** Cancels a job that has not ended; it stops before its next portion. */
export async function cancelJob(database: Queries, siteId: number, jobId: number): Promise<void> {
  const canceled = await database
    .update(backgroundJob)
    .set({ state: 'canceled', finishedAt: sql`now()` })
    .where(
      and(
        eq(backgroundJob.siteId, siteId),
        eq(backgroundJob.id, jobId),
        inArray(backgroundJob.state, ['waiting', 'running']),
      ),
    )
    .returning({ id: backgroundJob.id })
  if (canceled.length === 0) throw new HttpProblem(404, 'This job does not exist, or it has ended.')
}

/**
 * Notes how far a job is.
 *
 * @returns whether it is to go on: not once it was canceled
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
        or(inArray(backgroundJob.state, ['waiting', 'running', 'failed'])),
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

/** Forgets jobs that ended long ago. */
export async function dropOldJobs(database: Queries, before: Date): Promise<void> {
  await database.delete(backgroundJob).where(lt(backgroundJob.finishedAt, before))
}
