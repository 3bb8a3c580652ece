import { randomBytes } from 'node:crypto'
import { and, eq, isNull, sql } from 'drizzle-orm'
import type { InferType } from 'yup'
import { scriptLine, WAIT_STYLE_HASH } from '../../../shared/scriptLine'
import type { InstallationReport, newSiteSchema, sitePatchSchema, SiteView } from '../../../shared/site'
import type { Database, Queries } from '../../database/connect'
import { site } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from './compileSiteFile'
import { fetchPage } from './fetchPage'
import { inspectInstallation } from './inspectInstallation'

type SiteRow = typeof site.$inferSelect

export async function findSite(database: Queries, siteId: number): Promise<SiteRow> {
  const [found] = await database.select().from(site).where(eq(site.id, siteId))
  if (!found) throw new HttpProblem(404, 'This site does not exist.')
  return found
}

export function siteView(row: SiteRow, vetchOrigin: string): SiteView {
  const { id, name, address, key, timeZone, currency, asksConsent, firstReportAt } = row
  return {
    ...{ id, name, address, key, timeZone, currency, asksConsent },
    firstReportAt: firstReportAt?.toISOString() ?? null,
    scriptLine: scriptLine(vetchOrigin, key),
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

export async function updateSite(
  database: Database,
  siteId: number,
  personId: number,
  patch: InferType<typeof sitePatchSchema>,
): Promise<SiteRow> {
  return database.transaction(async (tx) => {
    const before = await findSite(tx, siteId)
    const { name = before.name, timeZone = before.timeZone, asksConsent = before.asksConsent } = patch
    const [after] = await tx.update(site).set({ name, timeZone, asksConsent }).where(eq(site.id, siteId)).returning()
    await compileSiteFile(tx, siteId)
    const picked = (row: SiteRow) => ({ name: row.name, timeZone: row.timeZone, asksConsent: row.asksConsent })
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'site',
      subjectId: siteId,
      action: 'changed',
      before: picked(before),
      after: picked(after!),
    })
    return after!
  })
}

/** Fetches a page of the site and looks for the script line in it. */
export async function checkInstallation(
  database: Queries,
  siteId: number,
  path: string,
  vetchOrigin: string,
  trustedOrigins: readonly string[],
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
        ...inspectInstallation(page.html, vetchOrigin, found.key),
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
