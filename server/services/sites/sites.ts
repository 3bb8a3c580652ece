import type { InstallationReport, RateView, SiteView } from '../../../shared/sites/replies'
import { randomBytes } from 'node:crypto'
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import type { InferType } from 'yup'
import { GUARD, scriptLine, waitStyle } from '../../../shared/delivery/scriptLine'
import type { newSiteSchema, sitePatchSchema } from '../../../shared/sites/site'
import type { Database, Queries } from '../../database/connect'
import { countsMoney } from '../../../core/measurement/keptAmounts'
import { PAST_DAYS } from '../../../core/measurement/visitorNumbers'
import { currencyRate, site } from '../../database/schema'
import { requestRefoldOfSite } from '../../jobs/backgroundJobs'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from './compileSiteFile'
import { fetchPage } from './fetchPage'
import { sourceHash } from './sourceHash'
import type { InspectedPage, LookedAtPage } from './inspectInstallation'

type SiteRow = typeof site.$inferSelect

export async function findSite(database: Queries, siteId: number): Promise<SiteRow> {
  const [found] = await database.select().from(site).where(eq(site.id, siteId))
  if (!found) throw new HttpProblem(404, 'This site does not exist.')
  return found
}

/** A site as its members see it, with its rates. */
export async function siteView(database: Queries, row: SiteRow, vetchOrigin: string): Promise<SiteView> {
  const { id, name, address, key, timeZone, currency, asksConsent, respectsDoNotTrack, allowsScripts, firstReportAt } =
    row
  const { hosts, largestAmount, parameters, attributes, eventDetails, adParameters, handingOn } = row
  const { ownNetworks, privateHosts, retentionDays, servedDays, ownPath, longestWait } = row
  return {
    id,
    name,
    address,
    hosts,
    key,
    timeZone,
    currency,
    asksConsent,
    respectsDoNotTrack,
    allowsScripts,
    largestAmount,
    parameters,
    attributes,
    eventDetails,
    adParameters,
    handingOn,
    ownNetworks,
    privateHosts,
    retentionDays,
    servedDays,
    ownPath,
    longestWait,
    rates: await readRates(database, id),
    firstReportAt: firstReportAt?.toISOString() ?? null,
    scriptLine: scriptLine(ownPath ? `${address}${ownPath}` : vetchOrigin, key, longestWait),
    styleHash: sourceHash(waitStyle(longestWait)),
    scriptHash: sourceHash(GUARD),
  }
}

/** Adds a site to an organisation, with a key of its own and an empty site file. */
export async function createSite(
  database: Database,
  organisationId: number,
  personId: number | null,
  input: InferType<typeof newSiteSchema>,
): Promise<SiteRow> {
  const address = new URL(input.address).origin
  if (input.timeZone !== undefined) await checkTimeZone(database, input.timeZone)
  return database.transaction(async (tx) => {
    const [same] = await tx
      .select({ name: site.name })
      .from(site)
      .where(and(eq(site.organisationId, organisationId), eq(site.address, address)))
    if (same)
      throw new HttpProblem(409, `${address} is here already, as ${same.name}.`, {
        address: `${address} is here already, as ${same.name}.`,
      })
    const key = randomBytes(8).toString('base64url').replace(/[-_]/g, 'x')
    const [made] = await tx
      .insert(site)
      .values({ organisationId, name: input.name, address, key, timeZone: input.timeZone ?? 'UTC' })
      .returning()
    await compileSiteFile(tx, made!.id)
    await recordChange(tx, {
      siteId: made!.id,
      personId,
      subject: 'site',
      subjectId: made!.id,
      action: 'added',
      after: { name: made!.name, address },
    })
    return made!
  })
}

const SETTINGS = [
  'name',
  'timeZone',
  'hosts',
  'asksConsent',
  'respectsDoNotTrack',
  'allowsScripts',
  'currency',
  'largestAmount',
  'parameters',
  'attributes',
  'eventDetails',
  'adParameters',
  'handingOn',
  'ownNetworks',
  'privateHosts',
  'retentionDays',
  'servedDays',
  'ownPath',
  'longestWait',
] as const

/** Changes a site's settings. What was measured so far is computed anew where they change its meaning. */
export async function updateSite(
  database: Database,
  queue: PgBoss,
  siteId: number,
  personId: number | null,
  patch: InferType<typeof sitePatchSchema>,
): Promise<SiteRow> {
  if (patch.timeZone !== undefined) await checkTimeZone(database, patch.timeZone)
  return database.transaction(async (tx) => {
    const [before] = await tx.select().from(site).where(eq(site.id, siteId)).for('no key update')
    if (!before) throw new HttpProblem(404, 'This site does not exist.')
    const { rates, ...settings } = patch
    const changes = Object.fromEntries(
      SETTINGS.filter((name) => settings[name] !== undefined).map((name) => [name, settings[name]]),
    )
    const [after] =
      Object.keys(changes).length > 0
        ? await tx.update(site).set(changes).where(eq(site.id, siteId)).returning()
        : [before]
    const oldRates = await readRates(tx, siteId)
    const hasOtherRates = rates !== undefined && !hasSameRates(oldRates, rates)
    if (hasOtherRates) await saveRates(tx, siteId, rates)
    const hasOtherMoney = hasOtherRates || after!.currency !== before.currency
    if (after!.currency !== before.currency) await checkAmountsAreKept(tx, before)
    await compileSiteFile(tx, siteId)
    const picked = (row: SiteRow) =>
      Object.fromEntries(Object.keys(changes).map((name) => [name, row[name as keyof SiteRow]]))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'site',
      subjectId: siteId,
      action: 'changed',
      before: { ...picked(before), ...(hasOtherRates ? { rates: oldRates } : {}) },
      after: { ...picked(after!), ...(hasOtherRates ? { rates } : {}) },
    })
    const title = 'Computing numbers by the new settings'
    if (after!.timeZone !== before.timeZone) await requestRefoldOfSite(tx, queue, siteId, title)
    else if (hasOtherMoney)
      await requestRefoldOfSite(tx, queue, siteId, title, (metrics) => metrics.some((each) => countsMoney(each)))
    return after!
  })
}

async function readRates(tx: Queries, siteId: number): Promise<RateView[]> {
  return tx
    .select({ currency: currencyRate.currency, from: currencyRate.from, rate: currencyRate.rate })
    .from(currencyRate)
    .where(eq(currencyRate.siteId, siteId))
    .orderBy(asc(currencyRate.currency), asc(currencyRate.from))
}

function hasSameRates(one: readonly RateView[], other: readonly RateView[]): boolean {
  const inOrder = (rates: readonly RateView[]) =>
    rates.map(({ currency, from, rate }) => `${currency} ${from} ${rate}`).sort()
  return JSON.stringify(inOrder(one)) === JSON.stringify(inOrder(other))
}

/** Numbers from before amounts were kept with them cannot be had in another currency once their events are gone. */
async function checkAmountsAreKept(tx: Queries, { id, currency, rawSince }: SiteRow): Promise<void> {
  if (!rawSince) return
  const { rows } = await tx.execute<{ name: string }>(sql`
    SELECT DISTINCT e.name FROM visitor_value v
    JOIN metric_version m ON m.site_id = v.site_id AND m.id = v.metric_version_id
    JOIN exposure x ON x.site_id = v.site_id AND x.visitor_id = v.visitor_id AND x.experiment_id = v.experiment_id
    JOIN experiment e ON e.site_id = v.site_id AND e.id = v.experiment_id
    WHERE v.site_id = ${id} AND v.amounts IS NULL AND (v.value <> 0 OR v.denominator <> 0 OR v.past <> 0)
      AND x.exposed_at < ${rawSince}::timestamptz + make_interval(days => ${PAST_DAYS}) AND m.kind <> 'conversion'
      AND (m.source->>'type' IN ('pageAmount', 'event') OR m.denominator->>'type' IN ('pageAmount', 'event'))
    ORDER BY 1 LIMIT 3`)
  if (rows.length === 0) return
  const names = rows.map(({ name }) => `“${name}”`).join(', ')
  const message = `The currency stays ${currency}: amounts of ${names} were summed up before they were kept, and their events have been deleted.`
  throw new HttpProblem(409, message, { currency: message })
}

async function saveRates(
  tx: Queries,
  siteId: number,
  rates: readonly { currency: string; from: string; rate: number }[],
): Promise<void> {
  await tx.delete(currencyRate).where(eq(currencyRate.siteId, siteId))
  if (rates.length > 0)
    await tx
      .insert(currencyRate)
      .values(rates.map(({ currency, from, rate }) => ({ siteId, currency, from, rate })))
      .onConflictDoNothing()
}

/** Programs and the database must mean the same by a time zone. */
async function checkTimeZone(database: Queries, timeZone: string): Promise<void> {
  const { rows } = await database.execute(sql`SELECT 1 FROM pg_timezone_names WHERE name = ${timeZone}`)
  if (rows.length > 0) return
  const message = `The database does not know the time zone ${timeZone}. Choose another of the same region.`
  throw new HttpProblem(422, message, { timeZone: message })
}

/**
 * Fetches a page of the site and looks for the script line in it.
 *
 * @param inspect - reads the page without holding up anybody
 */
export async function checkInstallation(
  database: Queries,
  siteId: number,
  path: string,
  vetchOrigin: string,
  trustedOrigins: readonly string[],
  inspect: (page: InspectedPage) => Promise<LookedAtPage>,
): Promise<InstallationReport> {
  const found = await findSite(database, siteId)
  const firstReportAt = found.firstReportAt?.toISOString() ?? null
  const address = new URL(path, found.address).href
  try {
    const page = await fetchPage(address, { origins: trustedOrigins, privateHosts: found.privateHosts })
    const { findings, links } = await inspect({
      html: page.html,
      address: page.address,
      base: found.ownPath ? `${found.address}${found.ownPath}` : vetchOrigin,
      key: found.key,
    })
    return {
      address: page.address,
      firstReportAt,
      findings: [{ check: 'reachable', passed: true, text: 'The page answers.' }, ...findings],
      links,
    }
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error
    return { address, firstReportAt, findings: [{ check: 'reachable', passed: false, text: error.message }], links: [] }
  }
}

/** Notes that a real visitor has reported, the first time one does. */
export async function noteFirstReport(database: Queries, siteId: number): Promise<void> {
  await database
    .update(site)
    .set({ firstReportAt: sql`now()` })
    .where(and(eq(site.id, siteId), isNull(site.firstReportAt)))
}
