import { randomBytes } from 'node:crypto'
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import type { InferType } from 'yup'
import { scriptLine, WAIT_STYLE_HASH } from '../../../shared/scriptLine'
import type {
  InstallationFinding,
  InstallationReport,
  newSiteSchema,
  sitePatchSchema,
  SiteView,
} from '../../../shared/site'
import type { Database, Queries } from '../../database/connect'
import { currencyRate, site } from '../../database/schema'
import { requestRefoldOfSite } from '../../jobs/backgroundJobs'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from './compileSiteFile'
import { fetchPage } from './fetchPage'
import type { InspectedPage } from './inspectInstallation'

type SiteRow = typeof site.$inferSelect

export async function findSite(database: Queries, siteId: number): Promise<SiteRow> {
  const [found] = await database.select().from(site).where(eq(site.id, siteId))
  if (!found) throw new HttpProblem(404, 'This site does not exist.')
  return found
}

/** A site as its members see it, with its rates. */
export async function siteView(database: Queries, row: SiteRow, vetchOrigin: string): Promise<SiteView> {
  const { id, name, address, key, timeZone, currency, asksConsent, allowsScripts, firstReportAt } = row
  const { hosts, largestAmount, parameters, attributes, eventDetails, adParameters, handingOn } = row
  const { ownNetworks, retentionDays, ownPath } = row
  const rates = await database
    .select()
    .from(currencyRate)
    .where(eq(currencyRate.siteId, id))
    .orderBy(asc(currencyRate.currency), asc(currencyRate.from))
  return {
    ...{
      id,
      name,
      address,
      hosts,
      key,
      timeZone,
      currency,
      asksConsent,
      allowsScripts,
      largestAmount,
      parameters,
      attributes,
      eventDetails,
      adParameters,
      handingOn,
      ownNetworks,
      retentionDays,
      ownPath,
    },
    rates: rates.map((each) => ({ currency: each.currency, from: each.from, rate: each.rate })),
    firstReportAt: firstReportAt?.toISOString() ?? null,
    scriptLine: scriptLine(ownPath ? `${address}${ownPath}` : vetchOrigin, key),
    styleHash: WAIT_STYLE_HASH,
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
  'allowsScripts',
  'currency',
  'largestAmount',
  'parameters',
  'attributes',
  'eventDetails',
  'adParameters',
  'handingOn',
  'ownNetworks',
  'retentionDays',
  'ownPath',
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
    const [before] = await tx.select().from(site).where(eq(site.id, siteId)).for('update')
    if (!before) throw new HttpProblem(404, 'This site does not exist.')
    const { rates, ...settings } = patch
    const changes = Object.fromEntries(
      SETTINGS.filter((name) => settings[name] !== undefined).map((name) => [name, settings[name]]),
    )
    const [after] =
      Object.keys(changes).length > 0
        ? await tx.update(site).set(changes).where(eq(site.id, siteId)).returning()
        : [before]
    if (rates) await saveRates(tx, siteId, rates)
    await compileSiteFile(tx, siteId)
    const picked = (row: SiteRow) =>
      Object.fromEntries(Object.keys(changes).map((name) => [name, row[name as keyof SiteRow]]))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'site',
      subjectId: siteId,
      action: 'changed',
      before: picked(before),
      after: { ...picked(after!), ...(rates ? { rates } : {}) },
    })
    if (rates !== undefined || after!.currency !== before.currency || after!.timeZone !== before.timeZone)
      await requestRefoldOfSite(tx, queue, siteId, 'Computing numbers by the new settings')
    return after!
  })
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
  inspect: (page: InspectedPage) => Promise<InstallationFinding[]>,
): Promise<InstallationReport> {
  const found = await findSite(database, siteId)
  const firstReportAt = found.firstReportAt?.toISOString() ?? null
  const address = new URL(path, found.address).href
  try {
    const page = await fetchPage(address, trustedOrigins)
    return {
      address: page.address,
      firstReportAt,
      findings: [
        { check: 'reachable', passed: true, text: 'The page answers.' },
        ...(await inspect({
          html: page.html,
          base: found.ownPath ? `${found.address}${found.ownPath}` : vetchOrigin,
          key: found.key,
        })),
      ],
    }
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error
    return { address, firstReportAt, findings: [{ check: 'reachable', passed: false, text: error.message }] }
  }
}

/** Notes that a real visitor has reported, the first time one does. */
export async function noteFirstReport(database: Queries, siteId: number): Promise<void> {
  await database
    .update(site)
    .set({ firstReportAt: sql`now()` })
    .where(and(eq(site.id, siteId), isNull(site.firstReportAt)))
}
