import { createHash } from 'node:crypto'
import { and, asc, desc, eq, gt, gte, lte, sql } from 'drizzle-orm'
import { DAY } from '../../../core/time/units'
import type { KeptStyleSheet } from '../../../shared/recordings/replies'
import type { Database, Queries } from '../../database/connect'
import { keptStyleSheet, recording } from '../../database/schema'
import { pathsOf } from '../experiments/testedPages'
import { seenAddresses } from '../experiments/forecast'
import { HttpProblem } from '../HttpProblem'
import { fetchGuarded } from '../sites/fetchGuarded'
import { fetchPage } from '../sites/fetchPage'
import { linkedStyleSheets } from '../sites/linkedStyleSheets'
import { siteReach, type Reach } from '../sites/reach'
import { findSite } from '../sites/sites'

const LARGEST = 1024 * 1024
const MOST_PAGES = 10
const MOST_SHEETS = 20
/** Copies of a site: a sheet that says something else each time, or has another address, must not fill the disk. */
const MOST_COPIES = 100
const WANTED = { userAgent: 'Vetch recordings', accept: 'text/css', most: LARGEST }

/** Sites whose visitors were recorded lately. */
export async function recordedLately(database: Queries, now: Date): Promise<number[]> {
  const rows = await database
    .select({ id: recording.siteId })
    .from(recording)
    .where(gt(recording.receivedAt, new Date(now.getTime() - DAY)))
    .groupBy(recording.siteId)
  return rows.map(({ id }) => id)
}

/**
 * Keeps copies of the style sheets of other hosts that the most visited pages link to, for recordings to be shown with:
 * no browser lets a recorder read them, and later they may say something else. Only what the site's own pages name is
 * fetched, never what a recording names.
 */
export async function keepStyleSheets(
  database: Database,
  siteId: number,
  now: Date,
  trustedOrigins: readonly string[],
): Promise<void> {
  const site = await findSite(database, siteId)
  const reach = await siteReach(database, siteId, trustedOrigins)
  const paths = pathsOf(await seenAddresses(database, siteId, now)).slice(0, MOST_PAGES)
  const named = new Set<string>()
  for (const path of paths) for (const each of await sheetsOf(new URL(path, site.address).href, reach)) named.add(each)
  for (const address of [...named].slice(0, MOST_SHEETS)) {
    const content = await readSheet(address, reach)
    if (content !== null) await keep(database, { siteId, address, content }, now)
  }
  await dropOldest(database, siteId)
}

/** What cannot be reached now may be the next time. */
async function sheetsOf(page: string, reach: Reach): Promise<string[]> {
  try {
    const { html, address } = await fetchPage(page, reach)
    return linkedStyleSheets(html, address)
  } catch (error) {
    if (error instanceof HttpProblem) return []
    throw error
  }
}

async function readSheet(address: string, reach: Reach): Promise<string | null> {
  try {
    const { status, body } = await fetchGuarded(address, reach, WANTED)
    // The database keeps no text with such a character, and no style sheet needs it.
    return status === 200 ? body.toString('utf8').replaceAll('\0', '') : null
  } catch (error) {
    if (error instanceof HttpProblem) return null
    throw error
  }
}

async function keep(
  database: Queries,
  { siteId, address, content }: { siteId: number; address: string; content: string },
  now: Date,
): Promise<void> {
  const digest = createHash('sha256').update(content).digest('hex')
  await database
    .insert(keptStyleSheet)
    .values({ siteId, address, digest, content, firstAt: now, lastAt: now })
    .onConflictDoUpdate({
      target: [keptStyleSheet.siteId, keptStyleSheet.address, keptStyleSheet.digest],
      set: { lastAt: now },
    })
}

async function dropOldest(database: Queries, siteId: number): Promise<void> {
  await database.execute(sql`
    DELETE FROM kept_style_sheet k USING (
      SELECT address, digest, row_number() OVER (ORDER BY last_at DESC, first_at DESC, address, digest) AS place
      FROM kept_style_sheet WHERE site_id = ${siteId}
    ) kept
    WHERE k.site_id = ${siteId} AND k.address = kept.address AND k.digest = kept.digest AND kept.place > ${MOST_COPIES}`)
}

/**
 * The copy of a style sheet that is nearest to a moment: the last that was found by then, or else the first after it.
 *
 * @throws HttpProblem 404 where there is none
 */
export async function readKeptStyleSheet(
  database: Queries,
  siteId: number,
  address: string,
  moment: Date,
): Promise<KeptStyleSheet> {
  const ofAddress = and(eq(keptStyleSheet.siteId, siteId), eq(keptStyleSheet.address, address))
  const columns = { content: keptStyleSheet.content, keptAt: keptStyleSheet.firstAt }
  const [before] = await database
    .select(columns)
    .from(keptStyleSheet)
    .where(and(ofAddress, lte(keptStyleSheet.firstAt, moment)))
    .orderBy(desc(keptStyleSheet.firstAt))
    .limit(1)
  const [found = null] = before
    ? [before]
    : await database
        .select(columns)
        .from(keptStyleSheet)
        .where(and(ofAddress, gte(keptStyleSheet.firstAt, moment)))
        .orderBy(asc(keptStyleSheet.firstAt))
        .limit(1)
  if (!found) throw new HttpProblem(404, 'Vetch has no copy of this style sheet.')
  return { content: found.content, keptAt: found.keptAt.toISOString() }
}
