import { murmurHash3 } from '../../../core/assignment/murmurHash3'
import { type AnySiteFileEntry, SITE_FILE_FORMAT, type SiteFile } from '../../../shared/delivery/siteFile'
import { askedOfVisitors } from '../../../shared/delivery/askedOfVisitors'
import { inServedOrder } from '../../../core/sheet/servedOrder'
import type { Queries } from '../../database/connect'
import { COMPILE_LOCK } from '../../database/locks'
import { experiment, site, siteFile } from '../../database/schema'
import { servedOrderOf } from '../rollouts/liveRollouts'
import { environmentsOf, isShownIn, running, shownIn } from './liveExperiments'
import { keptParameters, listenedAmounts, measuredSources } from './measuredByPages'
import { collectionEntries, driftEntries, experimentEntries, rolloutEntries, surveyEntries } from './siteFileEntries'
import { eq, sql } from 'drizzle-orm'

export type ExperimentRow = typeof experiment.$inferSelect
export type SiteRow = typeof site.$inferSelect

/**
 * Compiles what visitors' browsers decide from, anew, and stores it under the next version. Runs in the transaction of
 * the change that makes it necessary, and one after the other by site: each sees what the one before has changed.
 */
export async function compileSiteFile(tx: Queries, siteId: number): Promise<void> {
  await tx.execute(sql`SELECT pg_advisory_xact_lock(${COMPILE_LOCK}, ${siteId})`)
  const [owner] = await tx.select().from(site).where(eq(site.id, siteId))
  const live = owner!.environmentOf === null ? await running(tx, siteId) : await shownIn(tx, owner!)
  const environments = await environmentsOf(tx, siteId)
  const measured = await measuredSources(tx, owner!.environmentOf ?? siteId, live.measured)
  const experiments = await experimentEntries(tx, owner!.environmentOf ?? siteId, live, owner!)
  const rollouts = await rolloutEntries(tx, owner!.environmentOf ?? siteId, owner!)
  // What is tested changes the page as it is for everybody else: with what has been won before.
  const isServed = new Set(live.rows.filter(({ purpose }) => purpose === 'serve').map(({ id }) => id))
  const order = await servedOrderOf(tx, owner!.environmentOf ?? siteId)
  const entries = [
    ...inServedOrder([...rollouts, ...experiments.filter(({ id }) => isServed.has(id))], order),
    ...experiments.filter(({ id }) => !isServed.has(id)),
    ...collectionEntries(owner!),
    ...driftEntries(owner!, live.rows),
    ...(await surveyEntries(tx, siteId)),
  ]
  const content: Omit<SiteFile, 'version'> = {
    format: SITE_FILE_FORMAT,
    key: owner!.key,
    asksConsent: owner!.asksConsent,
    ...(owner!.respectsDoNotTrack ? { respectsDoNotTrack: true as const } : {}),
    currency: owner!.currency,
    parameters: keptParameters(
      [...owner!.parameters, ...Object.values(owner!.adParameters).filter((name) => name !== '')],
      entries.flatMap(({ pages }) => pages),
      measured,
      entries.flatMap(askedOfVisitors),
    ),
    ...(entries.some((entry) => askedOfVisitors(entry).length > 0) ? { timeZone: owner!.timeZone } : {}),
    ...(owner!.attributes.length > 0 ? { attributes: owner!.attributes } : {}),
    ...(owner!.eventDetails.length > 0 ? { details: owner!.eventDetails } : {}),
    ...(live.hasPersons ? { persons: true as const } : {}),
    ...(asksForAds(entries) ? { ads: owner!.adParameters } : {}),
    ...(owner!.handingOn ? { handingOn: owner!.handingOn } : {}),
    ...(environments.length > 0
      ? { environments: Object.fromEntries(environments.map((each) => [murmurHash3(each.address, 0), each.key])) }
      : {}),
    entries,
    amounts: listenedAmounts(measured),
  }
  await tx
    .insert(siteFile)
    .values({ siteId, version: 1, content: { ...content, version: 1 } })
    .onConflictDoUpdate({
      target: siteFile.siteId,
      set: {
        version: sql`${siteFile.version} + 1`,
        content: sql`jsonb_set(excluded.content, '{version}', to_jsonb(${siteFile.version} + 1))`,
        compiledAt: sql`now()`,
      },
      setWhere: eq(siteFile.siteId, siteId),
    })
  if (environments.length > 0) await compileEnvironments(tx, siteId)
}

/**
 * Compiles what environments show of an experiment that has changed, be it a draft; without one all of them, which
 * serve what is rolled out, too.
 */
export async function compileEnvironments(tx: Queries, siteId: number, experimentId?: number): Promise<void> {
  for (const { id } of await environmentsOf(tx, siteId)) {
    if (experimentId === undefined || (await isShownIn(tx, siteId, id, experimentId))) await compileSiteFile(tx, id)
  }
}

function asksForAds(entries: readonly AnySiteFileEntry[]): boolean {
  const tests = entries.flatMap(askedOfVisitors)
  return tests.some(({ fact }) => fact === 'adCampaign' || fact === 'adGroup' || fact === 'adKeyword')
}
