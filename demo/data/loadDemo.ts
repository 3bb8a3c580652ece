import { and, asc, desc, eq, sql } from 'drizzle-orm'
import type { Database } from '../../server/database/connect'
import {
  allocationPeriod,
  changeLog,
  experiment,
  membership,
  organisation,
  person,
  site,
} from '../../server/database/schema'
import { hashPassword } from '../../server/services/accounts/password'
import { EVERYWHERE } from '../../shared/collection/collection'
import { drawThingId } from '../../shared/thingId'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { recordChange } from '../../server/services/changes'
import { dayAfter, siteDays } from '../../core/time/siteDay'
import { addDayNote } from '../../server/services/history/dayNotes'
import { createFunnel } from '../../server/services/evidence/funnels'
import { createExperiment } from '../../server/services/experiments/experiments'
import { measureEverything } from '../../server/services/experiments/measureEverything'
import { lookAtTraffic } from '../../server/services/experiments/lookAtTraffic'
import { findSheet, type Target } from '../../server/services/experiments/sheet'
import { foldAndSummarize } from '../../server/services/results/foldAndSummarize'
import { watchSite } from '../../server/services/watch/watchSite'
import { refreshSummaries } from '../../server/services/results/summaries'
import { liveRollouts } from '../../server/services/rollouts/liveRollouts'
import { startRollout } from '../../server/services/rollouts/rollouts'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { findIntakeSite } from '../../server/services/sites/siteFiles'
import { openPlaces } from '../../server/intake/place'
import { writeChunk } from '../../server/intake/recordings/writeChunk'
import { createSite } from '../../server/services/sites/sites'
import { runningSurveys } from '../../server/services/surveys/runningSurveys'
import { holdoutsOf } from '../../server/services/traffic/heldOut'
import { beginPeriods, moveSplits } from '../../server/services/traffic/movingSplits'
import { createSurvey, setSurveyState } from '../../server/services/surveys/surveys'
import { recordedArrivals } from '../recordings/recordedVisits'
import { addFindings } from './addFindings'
import { addHypotheses } from './addHypotheses'
import { addNotifications } from './addNotifications'
import { addReviews } from './addReviews'
import { addSharing } from './addSharing'
import { copyArrivals, copyText } from './copyArrivals'
import { DEMO_DAYS, DEMO_SITES } from './demoSites'
import type { DemoExperiment } from './experiments'
import { simulatedDays, type MovedSplit, type PreparedSite } from './simulatedDays'
import type { PastExperiment } from './simulateHistory'
import { DAY } from '../../core/time/units'

const TIME_ZONE = 'Europe/Dublin'
/** When experiments and surveys start and end, in UTC: whatever the hour of the load, they meet the same visitors. */
const START_HOUR = 8
const ANALYZED_AFTER = new Set([1, 3, 7, 14, 27, 29, 35, 45, 60])

export const DEMO_PASSWORD = 'harbor-light-42'
export const DEMO_PEOPLE = [
  { name: 'Mara Quill', email: 'mara@kittiwake.example', role: 'owner' },
  { name: 'Tobin Hale', email: 'tobin@kittiwake.example', role: 'editor' },
  { name: 'Isla Venn', email: 'isla@kittiwake.example', role: 'viewer' },
] as const

/** What is said of experiments once their visitors have come. */
type Reviewed = Parameters<typeof addReviews>[2][number]
type DemoSite = PreparedSite & { reviewed: Reviewed[] }

export type DemoState = 'absent' | 'complete' | 'cut short' | 'other data'

/** The demo's sites, in their order. They are the first that were made, whatever they are called by now. */
export async function findDemoSites(database: Database): Promise<{ id: number; key: string; isLoaded: boolean }[]> {
  const rows = await database
    .select({ id: site.id, key: site.key, firstReportAt: site.firstReportAt })
    .from(site)
    .orderBy(asc(site.id))
    .limit(DEMO_SITES.length)
  return rows.map(({ id, key, firstReportAt }) => ({ id, key, isLoaded: firstReportAt !== null }))
}

/** Whether the demo data is there. Its last step is what tells a complete load from one that was cut short. */
export async function demoState(database: Database): Promise<DemoState> {
  const [owner] = await database.select({ email: person.email }).from(person).orderBy(asc(person.id)).limit(1)
  if (!owner) return 'absent'
  if (owner.email !== DEMO_PEOPLE[0].email) return 'other data'
  const sites = await findDemoSites(database)
  return sites.length > 0 && sites.every(({ isLoaded }) => isLoaded) ? 'complete' : 'cut short'
}

/** Takes everything out of a database. */
export async function emptyDatabase(database: Database): Promise<void> {
  const { rows } = await database.execute<{ names: string }>(sql`
    SELECT string_agg(format('%I', c.relname), ', ') AS names FROM pg_class c
    JOIN pg_namespace n ON n.oid = c.relnamespace
    WHERE n.nspname = 'public' AND c.relkind IN ('r', 'p') AND NOT c.relispartition`)
  await database.execute(sql.raw(`TRUNCATE ${rows[0]!.names} RESTART IDENTITY CASCADE`))
}

/**
 * Loads the demo: people, sites, experiments, and twelve weeks of visitors. Each day is folded before the next one
 * comes, so that looks and verdicts have the history that they would have had.
 *
 * @param origins - where the sites answer, in their order
 * @param progress - told how many of how many days are written
 */
export async function loadDemo(
  database: Database,
  origins: readonly string[],
  now: Date,
  progress: (done: number, of: number) => void,
): Promise<void> {
  const organisationId = await addPeople(database)
  const sites: DemoSite[] = []
  for (const [index, origin] of origins.entries())
    sites.push(await prepareSite(database, organisationId, index, origin, now))
  let done = 0
  const moved = () => movedSplits(database)
  for await (const { text, lastMoment } of simulatedDays({ sites, until: now }, moved)) {
    for (const { intake, experiments } of sites) await fitAdjusted(database, intake.id, experiments, lastMoment)
    await copyArrivals(database.$client, text)
    const asOf = new Date(Math.min(now.getTime(), lastMoment))
    await foldAndSummarize(database, asOf)
    await moveSplits(database, asOf)
    for (const { intake } of sites) await watchSite(database, intake.id, asOf, null)
    // Tables that grow this fast are planned for by how large they were. Those of events are found by their numbers.
    if (ANALYZED_AFTER.has(done))
      await database.execute(sql`ANALYZE visitor, exposure, visitor_value, exposure_count, statistic`)
    progress(Math.min(++done, DEMO_DAYS), DEMO_DAYS)
  }
  if (sites[0]) await addRecordings(database, sites[0], now)
  await database.execute(sql`ANALYZE`)
  for (const { index, intake, experiments, survey, reviewed } of sites) {
    await addReviews(database, intake.id, reviewed)
    const findings = DEMO_SITES[index]!.findings(survey?.id ?? null)
    if (findings.length > 0) await addFindings(database, { id: intake.id, timeZone: TIME_ZONE }, findings, now)
    if (DEMO_SITES[index]!.hypotheses.length > 0)
      await addHypotheses(database, intake.id, DEMO_SITES[index]!.hypotheses, now)
    if (index === 0) await addNotifications(database, intake.id, now)
    await refreshSummaries(
      database,
      intake.id,
      experiments.map(({ id }) => id),
      now,
    )
    await compileSiteFile(database, intake.id)
    await database
      .update(site)
      .set({ firstReportAt: new Date(now.getTime() - DEMO_DAYS * DAY) })
      .where(eq(site.id, intake.id))
  }
}

async function movedSplits(database: Database): Promise<MovedSplit[]> {
  const rows = await database
    .selectDistinctOn([allocationPeriod.experimentId])
    .from(allocationPeriod)
    .orderBy(asc(allocationPeriod.experimentId), desc(allocationPeriod.period))
  return rows.map(({ experimentId: id, period, weights }) => ({ experiment: id, period, weights }))
}

/** Fits what plans adjust by on the day of their start, to the visitors of the weeks before: as a start would have. */
async function fitAdjusted(
  database: Database,
  siteId: number,
  experiments: readonly PastExperiment[],
  lastMoment: number,
): Promise<void> {
  for (const { id, from } of experiments) {
    if (from > lastMoment) continue
    const sheet = await findSheet(database, siteId, id)
    if (sheet.plan.adjustedBy !== 'past' || sheet.expectation) continue
    const { forecast } = await lookAtTraffic(database, sheet, new Date(from))
    await database
      .update(experiment)
      .set({ expectation: forecast.expectation })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, id)))
  }
}

/** Visits that were really made in a browser, among those that are simulated. */
async function addRecordings(database: Database, { intake, survey }: PreparedSite, now: Date): Promise<void> {
  const findPlace = await openPlaces({ country: '', city: '', hasMadeUp: true })
  const { arrivals, chunks } = recordedArrivals(intake, findPlace, now, survey?.id ?? null)
  await copyArrivals(database.$client, copyText(arrivals))
  for (const chunk of chunks) await writeChunk(database.$client, chunk)
  await foldAndSummarize(database, now)
}

async function prepareSite(
  database: Database,
  organisationId: number,
  index: number,
  origin: string,
  now: Date,
): Promise<DemoSite> {
  const demo = DEMO_SITES[index]!
  const { id, key } = await createSite(database, organisationId, null, {
    address: origin,
    name: demo.name,
    timeZone: TIME_ZONE,
  })
  const behavior = { share: demo.behaviorShare, pages: [...EVERYWHERE] }
  const recording = { share: demo.behaviorShare, pages: [...EVERYWHERE], masksText: false, days: 90, megabytes: 500 }
  await database
    .update(site)
    .set({ collection: { behavior, recording }, eventDetails: demo.eventDetails })
    .where(eq(site.id, id))
  for (const { name, plan } of demo.funnels) await createFunnel(database, id, null, { name, plan })
  const [mara] = await database.select().from(person).where(eq(person.email, DEMO_PEOPLE[0].email))
  const today = siteDays(TIME_ZONE)(now.getTime())
  for (const { daysAgo, words } of demo.notes)
    await addDayNote(database, { siteId: id, personId: mara!.id }, { day: dayAfter(today, -daysAgo), words })
  const { past: experiments, reviewed } = await addExperiments(database, id, demo.experiments, now, index === 0)
  const rollouts = await addRollouts(database, id, demo.experiments, now)
  const survey = await addSurvey(database, id, demo.survey, now)
  await compileSiteFile(database, id)
  return { index, origin, intake: (await findIntakeSite(database, key))!, experiments, rollouts, survey, reviewed }
}

/** Serves what ended experiments have won where the demo says so. */
async function addRollouts(
  database: Database,
  siteId: number,
  experiments: readonly DemoExperiment[],
  now: Date,
): Promise<PreparedSite['rollouts']> {
  const [owner] = await database.select().from(person).where(eq(person.email, DEMO_PEOPLE[0].email))
  for (const { salt, rolledOut } of experiments) {
    if (!rolledOut) continue
    const [own] = await database
      .select({ id: experiment.id })
      .from(experiment)
      .where(and(eq(experiment.siteId, siteId), eq(experiment.salt, salt)))
    const target = { siteId, experimentId: own!.id, personId: owner!.id }
    const at = morningBefore(now, rolledOut.daysAgo)
    const { id } = await startRollout(database, target, { share: rolledOut.share, isForEverybody: false }, at)
    const ofRollout = and(eq(changeLog.siteId, siteId), eq(changeLog.subject, 'rollout'), eq(changeLog.subjectId, id))
    await database.update(changeLog).set({ at }).where(ofRollout)
  }
  return (await liveRollouts(database, siteId)).map(({ row, from, holdouts }) => ({
    id: row.id,
    salt: row.salt,
    share: row.share,
    weights: [1],
    pages: from.pageRules,
    holdouts: holdouts.map(({ salt, share }) => ({ salt, share })),
    from: row.createdAt.getTime(),
    until: Number.POSITIVE_INFINITY,
  }))
}

async function addSurvey(
  database: Database,
  siteId: number,
  asked: (typeof DEMO_SITES)[number]['survey'],
  now: Date,
): Promise<PreparedSite['survey']> {
  if (!asked) return null
  const { name, content, startedDaysAgo } = asked
  const { id } = await createSurvey(database, siteId, null, { name, content })
  const startedAt = morningBefore(now, startedDaysAgo)
  await setSurveyState(database, { siteId, surveyId: id, personId: null }, 'running', startedAt)
  const [running] = await runningSurveys(database, siteId)
  return { ...running!, from: startedAt.getTime() }
}

function morningBefore(now: Date, days: number): Date {
  return new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth(), now.getUTCDate() - days, START_HOUR))
}

async function addPeople(database: Database): Promise<number> {
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  const [made] = await database.insert(organisation).values({ name: 'Kittiwake Crossings' }).returning()
  for (const { name, email, role } of DEMO_PEOPLE) {
    const [added] = await database.insert(person).values({ name, email, passwordHash }).returning()
    await database.insert(membership).values({ organisationId: made!.id, personId: added!.id, role })
  }
  return made!.id
}

/** The history says who started and ended it, as if it had been done then: whoever starts one is told of it. */
async function noteMoves(database: Database, target: Target, startedAt: Date, endedAt: Date | null): Promise<void> {
  const { siteId, experimentId, personId } = target
  const move = { siteId, personId, subject: 'experiment', subjectId: experimentId }
  await recordChange(database, { ...move, action: 'started', at: startedAt })
  if (endedAt) await recordChange(database, { ...move, action: 'ended', at: endedAt })
}

async function addExperiments(
  database: Database,
  siteId: number,
  experiments: readonly DemoExperiment[],
  now: Date,
  isWithSharing: boolean,
): Promise<{ past: PastExperiment[]; reviewed: Reviewed[] }> {
  const [owner] = await database.select().from(person).where(eq(person.email, DEMO_PEOPLE[0].email))
  const past: PastExperiment[] = []
  const sharing = isWithSharing ? await addSharing(database, siteId, owner!.id, now) : null
  const heldOutOf = await holdoutsOf(database, siteId)
  const metricIds = new Map<string, string>()
  const idOf = (metric: string) => {
    if (!metricIds.has(metric)) metricIds.set(metric, drawThingId())
    return metricIds.get(metric)!
  }
  const reviewed: Reviewed[] = []
  const served: number[] = []
  for (const { name, purpose, salt, startedDaysAgo, endedDaysAgo, decision, content, review } of experiments) {
    const draft = await createExperiment(database, siteId, owner!.id, name, purpose)
    const target = { siteId, experimentId: draft.id, personId: owner!.id }
    // The same metric of several experiments is one metric of the site.
    const metrics = content.metrics?.map((each) => ({ ...each, id: idOf(each.name) }))
    await fillSheet(database, target, { ...content, ...(metrics ? { metrics } : {}), ...sharing?.partsOf(name) })
    const startedAt = startedDaysAgo === null ? null : morningBefore(now, startedDaysAgo)
    const endedAt = endedDaysAgo === null ? null : morningBefore(now, endedDaysAgo)
    const state = endedAt ? 'ended' : startedAt ? 'running' : 'draft'
    await database
      .update(experiment)
      .set({ salt, startedAt, endedAt, state, createdAt: startedAt ?? now })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, draft.id)))
    if (purpose === 'serve' && startedAt) served.push(draft.id)
    const { id, pageRules, audience, share, variants } = await findSheet(database, siteId, draft.id)
    reviewed.push({ id, review })
    if (decision) {
      const variant = decision.position === null ? null : variants[decision.position]!.id
      const kept = { variant, reason: decision.reason, person: owner!.name }
      await database
        .update(experiment)
        .set({ decision: kept })
        .where(and(eq(experiment.siteId, siteId), eq(experiment.id, id)))
    }
    if (!startedAt) continue
    const isMoving = content.plan?.split === 'moving'
    if (isMoving) await beginPeriods(database, await findSheet(database, siteId, id), startedAt)
    await noteMoves(database, target, startedAt, endedAt)
    await refreshSummaries(database, siteId, [id], startedAt)
    past.push({
      id,
      salt,
      share,
      pages: pageRules,
      // Saved audiences are asked by browsers; what is simulated knows of visitors only what they are.
      audience: purpose === 'serve' ? audience : null,
      group: state === 'running' && sharing ? await sharing.placeOf(id, name) : null,
      holdouts: heldOutOf(startedAt).map(({ salt: own, share: ofAll }) => ({ salt: own, share: ofAll })),
      weights: variants.map((each) => each.weight),
      ...(isMoving ? { period: 0 } : {}),
      from: startedAt.getTime(),
      until: endedAt?.getTime() ?? Number.POSITIVE_INFINITY,
    })
  }
  // Once all metrics of the site are there, as they were when it was started.
  for (const id of served) await measureEverything(database, { siteId, id })
  return { past, reviewed }
}
