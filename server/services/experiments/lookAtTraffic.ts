import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import {
  rolloutFindings,
  type RunningBeside,
  trafficFindings,
  unkeptDetailFindings,
} from '../../../core/preflight/trafficFindings'
import { variantFindings } from '../../../core/preflight/variantFindings'
import { apartFindings, heldBackFindings, leftByTests } from '../../../core/sheet/heldBack'
import { measuredVariants, wholeAudience } from '../../../core/sheet/wordings'
import { planFindings, readPlan } from '../../../core/sheet/planReading'
import { BUCKETS } from '../../../core/assignment/assignment'
import { matchesPage } from '../../../core/targeting/pageRule'
import type { Database } from '../../database/connect'
import { audienceNames } from '../audiences/audienceSize'
import { audienceInliner } from '../audiences/savedAudiences'
import { liveRollouts } from '../rollouts/liveRollouts'
import { findSite } from '../sites/sites'
import { leftByHoldouts } from '../traffic/holdouts'
import { sharingFindings } from '../traffic/sharingFindings'
import { forecastOf, lookedBackTo, type SeenAddress, seenAddresses } from './forecast'
import { editedThings } from './editedThings'
import { audienceFindings } from './replayAudience'
import { approvalFindings } from './review'
import { listSheets } from './sheet'
import { sql } from 'drizzle-orm'

/** Where the traffic of the last four weeks is read. */
export interface PastTraffic {
  seenAddresses: typeof seenAddresses
  forecastOf: typeof forecastOf
}

/** Looks at the traffic of a sheet, here or in a thread. */
export type LookAtTraffic = (sheet: ExperimentSheet, now: Date) => ReturnType<typeof lookAtTraffic>

/** What the traffic of the last four weeks says of a sheet, and what its plan comes to with it. */
export async function lookAtTraffic(
  database: Database,
  sheet: ExperimentSheet,
  now: Date,
  past: PastTraffic = { seenAddresses, forecastOf },
) {
  const { siteId, purpose, plan, variants, share, metrics, pageRules } = sheet
  const conditions = wholeAudience(sheet)
  const { address, attributes, eventDetails } = await findSite(database, siteId)
  const audience = conditions && (await audienceInliner(database, siteId))(conditions, null)
  const all = await past.seenAddresses(database, siteId, now)
  const seen = all.filter(({ address }) => matchesPage(pageRules, address))
  const {
    forecast: everybody,
    counted,
    replayed,
  } = await past.forecastOf(database, siteId, addressesOf(seen), { metrics, audience, kept: attributes }, now)
  const left = await leftByHoldouts(database, siteId, now)
  const running = await listSheets(database, siteId, ['running'])
  // Where a test opens gradually, what counts is where that leads.
  const apart = (await listSheets(database, siteId, ['running', 'paused']))
    .filter(({ id }) => sheet.terms.apartFrom?.includes(id))
    .map(({ name, ramp, share: taken }) => ({ name, share: (ramp?.final ?? taken) / BUCKETS }))
  const forecast = { ...everybody, visitors: Math.round(everybody.visitors * left * leftByTests(apart)) }
  const beside = await runningBeside(database, sheet, running, all, seen, now)
  const weights = measuredVariants(sheet).map(({ weight }) => weight)
  const reading = readPlan({ plan, kind: metrics[0]?.kind ?? 'conversion', weights, share }, forecast)
  const names = { audiences: conditions ? await audienceNames(database, siteId) : {} }
  const findings: PreflightFinding[] = [
    ...variantFindings(editedThings(sheet), pageRules, address),
    ...(conditions && replayed ? audienceFindings(conditions, replayed, names, attributes) : []),
    ...(await sharingFindings(database, sheet, left)),
    ...(pageRules.length > 0 && !(replayed && forecast.visitors === 0)
      ? trafficFindings(forecast.visitors, counted, variants, beside, purpose)
      : []),
    ...unkeptDetailFindings(metrics, eventDetails),
    ...rolloutFindings(variants, await servedHere(database, sheet, running, seen)),
    ...(purpose === 'serve'
      ? [...apartFindings(apart), ...heldBackFindings(plan, variants, reading)]
      : planFindings(plan, reading).map((each) => ({ ...each, section: 'decided' as const }))),
    ...(await approvalFindings(database, sheet)),
  ]
  return { forecast, seen, all, counted, reading, findings, audience }
}

/** What is served on the pages of a draft: what experiments kept, and personalizations. */
async function servedHere(
  database: Database,
  sheet: ExperimentSheet,
  running: readonly ExperimentSheet[],
  seen: readonly SeenAddress[],
) {
  const winners = (await liveRollouts(database, sheet.siteId)).map(({ from, variant }) => ({
    name: from.name,
    pageRules: from.pageRules,
    edits: variant.edits,
  }))
  const personalizations = running
    .filter(({ id, purpose }) => purpose === 'serve' && id !== sheet.id)
    .map(({ name, pageRules, variants }) => ({ name, pageRules, edits: variants.flatMap(({ edits }) => edits) }))
  return [...winners, ...personalizations].filter(({ pageRules }) => sharesPage(pageRules, sheet.pageRules, seen))
}

async function runningBeside(
  database: Database,
  sheet: ExperimentSheet,
  running: readonly ExperimentSheet[],
  all: readonly SeenAddress[],
  seen: readonly SeenAddress[],
  now: Date,
): Promise<RunningBeside[]> {
  const isBeside = ({ id, purpose, terms }: ExperimentSheet) =>
    id !== sheet.id &&
    purpose === 'test' &&
    !sheet.terms.apartFrom?.includes(id) &&
    (terms.group === null || terms.group !== sheet.terms.group)
  const others = running.filter(isBeside)
  return Promise.all(
    others.map(async ({ name, variants, pageRules }) => ({
      name,
      variants,
      sharesPage: sharesPage(pageRules, sheet.pageRules, seen),
      sharedVisitors: await sharedVisitors(
        database,
        sheet.siteId,
        addressesOf(seen),
        addressesOf(all.filter(({ address }) => matchesPage(pageRules, address))),
        now,
      ),
    })),
  )
}

/** Whether some page is matched by both: one that was visited, or one that both name. */
function sharesPage(
  theirs: ExperimentSheet['pageRules'],
  mine: ExperimentSheet['pageRules'],
  seenOfMine: readonly SeenAddress[],
): boolean {
  return (
    seenOfMine.some(({ address }) => matchesPage(theirs, address)) ||
    theirs.some((rule) => mine.some(({ match, value }) => match === rule.match && value === rule.value))
  )
}

async function sharedVisitors(
  database: Database,
  siteId: number,
  mine: readonly string[],
  theirs: readonly string[],
  now: Date,
): Promise<number> {
  if (mine.length === 0 || theirs.length === 0) return 0
  const visitorsOf = (addresses: readonly string[]) => sql`
    SELECT visitor_id FROM page_view
    WHERE site_id = ${siteId} AND occurred_at >= ${lookedBackTo(now)} AND NOT is_robot AND NOT is_team
      AND address = ANY(${sql.param(addresses)}::text[])`
  const { rows } = await database.execute<{ visitors: number }>(
    sql`SELECT count(*)::int AS visitors FROM (${visitorsOf(mine)} INTERSECT ${visitorsOf(theirs)}) AS shared`,
  )
  return rows[0]!.visitors
}

export function addressesOf(seen: readonly SeenAddress[]): string[] {
  return seen.map(({ address }) => address)
}
