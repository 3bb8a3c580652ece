import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm'
import { orderEdits } from '../../../core/edits/edit'
import type { SiteFile, SiteFileExperiment, SiteFileListeners } from '../../../shared/siteFile'
import type { Queries } from '../../database/connect'
import { edit, experiment, experimentMetric, metric, site, siteFile, variant } from '../../database/schema'

/**
 * Compiles what visitors' browsers decide from, anew, and stores it under the next version.
 * Runs in the transaction of the change that makes it necessary.
 */
export async function compileSiteFile(database: Queries, siteId: number): Promise<void> {
  const [owner] = await database.select().from(site).where(eq(site.id, siteId))
  const running = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.state, 'running'), isNull(experiment.deletedAt)))
    .orderBy(asc(experiment.id))
  const experiments: SiteFileExperiment[] = []
  for (const row of running) experiments.push(await siteFileExperiment(database, row))
  const content: Omit<SiteFile, 'version'> = {
    key: owner!.key,
    asksConsent: owner!.asksConsent,
    experiments,
    listen: await listeners(database, siteId),
  }
  await database
    .insert(siteFile)
    .values({ siteId, version: 1, content: { version: 1, ...content } })
    .onConflictDoUpdate({
      target: siteFile.siteId,
      set: {
        version: sql`${siteFile.version} + 1`,
        content: sql`jsonb_set(excluded.content, '{version}', to_jsonb(${siteFile.version} + 1))`,
        compiledAt: sql`now()`,
      },
    })
}

async function siteFileExperiment(database: Queries, row: typeof experiment.$inferSelect): Promise<SiteFileExperiment> {
  const variants = await database
    .select()
    .from(variant)
    .where(eq(variant.experimentId, row.id))
    .orderBy(asc(variant.position))
  const edits = await database.select().from(edit).where(eq(edit.experimentId, row.id)).orderBy(asc(edit.position))
  return {
    id: row.id,
    salt: row.salt,
    share: row.share,
    weights: variants.map(({ weight }) => weight),
    pages: row.pageRules,
    edits: variants.map(({ position }) =>
      orderEdits(edits.filter((each) => each.variantPosition === position).map((each) => each.content)),
    ),
  }
}

/** Paused experiments are measured on: their visitors still convert. */
async function listeners(database: Queries, siteId: number): Promise<SiteFileListeners> {
  const measured = await database
    .selectDistinctOn([metric.id], { source: metric.source, denominator: metric.denominator })
    .from(metric)
    .innerJoin(experimentMetric, eq(experimentMetric.metricId, metric.id))
    .innerJoin(experiment, eq(experiment.id, experimentMetric.experimentId))
    .where(
      and(eq(metric.siteId, siteId), isNull(experiment.deletedAt), inArray(experiment.state, ['running', 'paused'])),
    )
  const listen: SiteFileListeners = { clicks: [], submits: [], amounts: [] }
  for (const source of measured.flatMap(({ source, denominator }) =>
    denominator ? [source, denominator] : [source],
  )) {
    if (source.type === 'click' && !listen.clicks.includes(source.selector)) listen.clicks.push(source.selector)
    if (source.type === 'submit' && !listen.submits.includes(source.selector)) listen.submits.push(source.selector)
    const isNew =
      source.type === 'pageAmount' &&
      !listen.amounts.some(
        (each) => JSON.stringify(each) === JSON.stringify({ page: source.page, selector: source.selector }),
      )
    if (source.type === 'pageAmount' && isNew) listen.amounts.push({ page: source.page, selector: source.selector })
  }
  return listen
}
