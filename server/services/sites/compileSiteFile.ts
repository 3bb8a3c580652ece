import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm'
import { firstBuckets } from '../../../core/assignment/bucketSpace'
import { murmurHash3 } from '../../../core/assignment/murmurHash3'
import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import type { MetricSource } from '../../../core/measurement/metric'
import { CAMPAIGN_PARAMETERS, parametersIn } from '../../../core/targeting/address'
import type { SheetPageRule } from '../../../core/sheet/content'
import { testsIn, type FactTest } from '../../../core/targeting/condition'
import type { PageRule } from '../../../core/targeting/pageRule'
import type { GroupPlace } from '../../../core/targeting/whyNot'
import { EVERYWHERE } from '../../../shared/collection/collection'
import { DRIFT_SALT, DRIFT_SHARE } from '../../../shared/intake/drift'
import {
  BEHAVIOR_SALT,
  RECORDING_SALT,
  SITE_FILE_FORMAT,
  type AnySiteFileEntry,
  type ListenedAmount,
  type SiteFile,
} from '../../../shared/delivery/siteFile'
import type { Queries } from '../../database/connect'
import { COMPILE_LOCK } from '../../database/locks'
import { environmentShare, experiment, experimentMetric, metricVersion, site, siteFile } from '../../database/schema'
import { audienceInliner } from '../audiences/savedAudiences'
import { variantsOf } from '../experiments/variants'
import { liveRollouts } from '../rollouts/liveRollouts'
import { runningSurveys } from '../surveys/runningSurveys'
import { groupSalts, listGroups } from '../traffic/groups'
import { holdoutsOf } from '../traffic/heldOut'

type ExperimentRow = typeof experiment.$inferSelect
type SiteRow = typeof site.$inferSelect

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
  const experiments = await experimentEntries(tx, owner!.environmentOf ?? siteId, live.rows, owner!)
  const rollouts = await rolloutEntries(tx, owner!.environmentOf ?? siteId, owner!)
  // What is tested changes the page as it is for everybody else: with what has been won before.
  const entries = [
    ...rollouts,
    ...experiments,
    ...collectionEntries(owner!),
    ...driftEntries(owner!, live.rows),
    ...(await surveyEntries(tx, siteId)),
  ]
  const content: Omit<SiteFile, 'version'> = {
    format: SITE_FILE_FORMAT,
    key: owner!.key,
    asksConsent: owner!.asksConsent,
    currency: owner!.currency,
    parameters: keptParameters(
      [...owner!.parameters, ...Object.values(owner!.adParameters).filter((name) => name !== '')],
      entries.flatMap(({ pages }) => pages),
      measured,
      entries.flatMap(({ audience }) => (audience ? testsIn(audience) : [])),
    ),
    ...(entries.some(({ audience }) => audience) ? { timeZone: owner!.timeZone } : {}),
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

/** What visitors get at the moment, and what still measures. */
interface Live {
  rows: ExperimentRow[]
  /** Experiments whose metrics are listened for: paused ones too, as their visitors still convert. */
  measured: number[]
  /** Whether anybody counts as one on every device. */
  hasPersons: boolean
}

async function running(tx: Queries, siteId: number): Promise<Live> {
  const rows = await tx
    .select()
    .from(experiment)
    .where(
      and(
        eq(experiment.siteId, siteId),
        inArray(experiment.state, ['running', 'paused']),
        isNull(experiment.deletedAt),
      ),
    )
    .orderBy(asc(experiment.id))
  return {
    rows: rows.filter(({ state }) => state === 'running'),
    measured: rows.map(({ id }) => id),
    ...hasPersons(rows),
  }
}

/** What an environment shows: drafts as they are now, and what runs, each with a share of its own. */
async function shownIn(tx: Queries, { id, environmentOf }: SiteRow): Promise<Live> {
  const found = await tx
    .select({ row: experiment, share: environmentShare.share })
    .from(environmentShare)
    .innerJoin(experiment, eq(experiment.id, environmentShare.experimentId))
    .where(
      and(
        eq(environmentShare.siteId, environmentOf!),
        eq(environmentShare.environmentId, id),
        inArray(experiment.state, ['draft', 'running', 'paused']),
        isNull(experiment.deletedAt),
      ),
    )
    .orderBy(asc(experiment.id))
  // Holdouts and groups share out the visitors of the site itself.
  const rows = found.map(({ row, share }) => ({
    ...row,

    share,
    startedAt: null,
    buckets: null,
    terms: { ...row.terms, group: null },
  }))
  return { rows, measured: rows.map((row) => row.id), ...hasPersons(rows) }
}

function hasPersons(rows: readonly ExperimentRow[]): Pick<Live, 'hasPersons'> {
  return { hasPersons: rows.some(({ terms }) => terms.unit === 'person') }
}

function environmentsOf(tx: Queries, siteId: number): Promise<SiteRow[]> {
  return tx.select().from(site).where(eq(site.environmentOf, siteId)).orderBy(asc(site.id))
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

async function isShownIn(tx: Queries, siteId: number, environmentId: number, experimentId: number): Promise<boolean> {
  const shares = await tx
    .select({ share: environmentShare.share })
    .from(environmentShare)
    .where(
      and(
        eq(environmentShare.siteId, siteId),
        eq(environmentShare.environmentId, environmentId),
        eq(environmentShare.experimentId, experimentId),
      ),
    )
  return shares.length > 0
}

async function experimentEntries(
  tx: Queries,
  siteId: number,
  rows: readonly ExperimentRow[],
  { handingOn }: SiteRow,
): Promise<AnySiteFileEntry[]> {
  const isNamed = handingOn !== null
  const variants = await variantsOf(
    tx,
    siteId,
    rows.map(({ id }) => id),
  )
  const inline = await audienceInliner(tx, siteId)
  const placeOf = await groupPlaces(tx, siteId)
  const heldOutOf = await holdoutsOf(tx, siteId)
  return inOrder(rows).map((row) => {
    const { id, name, salt, share, pageRules, audience, audienceVersions, terms, startedAt } = row
    const own = variants.get(id) ?? []
    const holdouts = startedAt ? heldOutOf(startedAt) : []
    return {
      kind: 'experiment',
      id,
      salt,
      share,
      pages: pageRules.map(withoutId),
      audience: audience && inline(audience, audienceVersions),
      group: placeOf(row),
      ...(holdouts.length > 0 ? { holdouts: holdouts.map((each) => ({ salt: each.salt, share: each.share })) } : {}),
      ...(terms.activation ? { activation: terms.activation } : {}),
      ...(terms.unit === 'person' ? { unit: 'person' as const } : {}),
      ...(terms.leaves ? { leaves: true as const } : {}),
      ...(isNamed ? { names: [name, ...own.map((each) => each.name)] } : {}),
      weights: own.map(({ weight }) => weight),
      edits: own.map(({ edits }) => orderEdits(edits).map(deliveredEdit)),
    }
  })
}

/** What has been won is served as an experiment with a single variant is: those outside of its share see the original. */
async function rolloutEntries(tx: Queries, siteId: number, { handingOn }: SiteRow): Promise<AnySiteFileEntry[]> {
  const inline = await audienceInliner(tx, siteId)
  return (await liveRollouts(tx, siteId)).map(({ row, from, variant, holdouts }) => {
    const { audience, audienceVersions, terms } = from
    return {
      kind: 'experiment',
      id: row.id,
      salt: row.salt,
      share: row.share,
      pages: from.pageRules.map(withoutId),
      audience: row.isForEverybody ? null : audience && inline(audience, audienceVersions),
      group: null,
      ...(holdouts.length > 0 ? { holdouts: holdouts.map(({ salt, share }) => ({ salt, share })) } : {}),
      ...(terms.activation ? { activation: terms.activation } : {}),
      ...(terms.leaves ? { leaves: true as const } : {}),
      ...(handingOn === null ? {} : { names: [from.name, variant.name] as [string, string] }),

      weights: [1],
      edits: [orderEdits(variant.edits).map(deliveredEdit)],
    }
  })
}

/** Behavior and recordings, where the site asks for them. */
function collectionEntries({ id, collection: { behavior, recording } }: typeof site.$inferSelect): AnySiteFileEntry[] {
  const { share, pages, masksText } = recording
  const rest = { id, audience: null }
  return [
    ...(behavior.share > 0 ? [{ kind: 'behavior' as const, ...behavior, salt: BEHAVIOR_SALT, ...rest }] : []),
    ...(share > 0 ? [{ kind: 'recording' as const, share, pages, masksText, salt: RECORDING_SALT, ...rest }] : []),
  ]
}

/** Browsers of few visitors look for the elements that what runs changes: nobody else sees the page as it was built. */
function driftEntries({ id, environmentOf }: SiteRow, rows: readonly ExperimentRow[]): AnySiteFileEntry[] {
  if (environmentOf !== null || rows.length === 0) return []
  return [{ kind: 'drift', id, salt: DRIFT_SALT, share: DRIFT_SHARE, pages: [...EVERYWHERE], audience: null }]
}

async function surveyEntries(tx: Queries, siteId: number): Promise<AnySiteFileEntry[]> {
  return (await runningSurveys(tx, siteId)).map(({ id, salt, share, pages }) => ({
    kind: 'survey',
    id,
    salt,
    share,
    pages,
    audience: null,
  }))
}

/** Those that take turns by their ranks: whoever is asked first gets the visitor. */
function inOrder(rows: readonly ExperimentRow[]): ExperimentRow[] {
  return rows.toSorted((one, other) => one.terms.rank - other.terms.rank || one.id - other.id)
}

/** For an experiment its place in its group; null for one that stands alone. */
async function groupPlaces(tx: Queries, siteId: number): Promise<(row: ExperimentRow) => GroupPlace | null> {
  const groups = new Map((await listGroups(tx, siteId)).map((group) => [group.id, group]))
  const salts = await groupSalts(tx, siteId)
  return ({ terms, buckets, share }) => {
    const group = groups.get(terms.group ?? 0)
    if (!group) return null
    if (group.kind === 'parts') return { salt: salts.get(group.id)!, ranges: firstBuckets(buckets ?? [], share) }
    return { members: group.members.filter(({ state }) => state !== 'draft').map((member) => member.experiment) }
  }
}

function asksForAds(entries: readonly AnySiteFileEntry[]): boolean {
  const tests = entries.flatMap(({ audience }) => (audience ? testsIn(audience) : []))
  return tests.some(({ fact }) => fact === 'adCampaign' || fact === 'adGroup' || fact === 'adKeyword')
}

function withoutId({ id: _, ...rule }: SheetPageRule): PageRule {
  return rule
}

/** What the metrics of experiments count. */
async function measuredSources(tx: Queries, siteId: number, experiments: readonly number[]): Promise<MetricSource[]> {
  if (experiments.length === 0) return []
  const rows = await tx
    .selectDistinctOn([metricVersion.id], { source: metricVersion.source, denominator: metricVersion.denominator })
    .from(metricVersion)
    .innerJoin(experimentMetric, eq(experimentMetric.metricVersionId, metricVersion.id))
    .where(and(eq(metricVersion.siteId, siteId), inArray(experimentMetric.experimentId, [...experiments])))
  return rows.flatMap(({ source, denominator }) => (denominator ? [source, denominator] : [source]))
}

/** Amounts stand on the page and are read where a metric asks for them; everything else is reported in any case. */
function listenedAmounts(sources: readonly MetricSource[]): ListenedAmount[] {
  const amounts = new Map<string, ListenedAmount>()
  for (const source of sources) {
    if (source.type !== 'pageAmount') continue
    const { page, selector, reference = null } = source
    amounts.set(JSON.stringify([page, selector, reference]), { page, selector, reference })
  }
  return [...amounts.values()]
}

/** Query parameters that may be kept: those of campaigns, those that the site lists, and those that a rule compares. */
function keptParameters(
  own: readonly string[],
  rules: readonly PageRule[],
  sources: readonly MetricSource[],
  tests: readonly FactTest[],
): string[] {
  const pages = sources.flatMap((source) => ('page' in source && source.page ? [source.page] : []))
  const named = [...rules, ...pages].flatMap(({ value, parameter }) => [
    ...parametersIn(value),
    ...(parameter ? [parameter] : []),
  ])
  const asked = tests.flatMap(({ fact, name }) => (fact === 'parameter' && name ? [name] : []))
  return [...new Set([...CAMPAIGN_PARAMETERS, ...own, ...named, ...asked])]
}
