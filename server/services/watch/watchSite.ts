import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import { union } from 'drizzle-orm/pg-core'
import { DAY, HOUR } from '../../../core/time/units'
import { experimentFindings } from '../../../core/watch/experiment'
import type { SelfPause } from '../../../core/verdict/verdict'
import type { WatchCheck, WatchFinding } from '../../../core/watch/finding'
import { rolloutFindings } from '../../../core/watch/rollout'
import { siteFindings, type WatchedSite } from '../../../core/watch/site'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Database, Queries } from '../../database/connect'
import { experiment, refusal, rollout } from '../../database/schema'
import { driftOf, pauseBecause } from '../experiments/driftCheck'
import { asMeasured } from '../../../core/sheet/wordings'
import { findSheets } from '../experiments/sheet'
import { longestWait } from '../health'
import { readStatistics } from '../results/readStatistics'
import { storedSummaries, type StoredSummary } from '../results/summaries'
import { driftOfRollouts } from '../rollouts/rolloutCheck'
import { isFirstAlarm, settleAlarms, type FoundOf } from './alarms'
import {
  forgetOldHours,
  noteArrivals,
  noteShown,
  noteSums,
  noteVisits,
  readArrivals,
  readShown,
  readSums,
  readVisits,
} from './watchedHours'

/** Sites on which something runs or is served. */
export async function watchedSites(database: Queries): Promise<number[]> {
  const running = database
    .select({ siteId: experiment.siteId })
    .from(experiment)
    .where(and(inArray(experiment.state, ['running', 'paused']), isNull(experiment.deletedAt)))
  const rows = await union(
    running,
    database.select({ siteId: rollout.siteId }).from(rollout).where(eq(rollout.isOn, true)),
  )
  return rows.map(({ siteId }) => siteId)
}

/**
 * Looks at a site, at each of its running experiments and at each of its rollouts, and opens and closes alarms by what it
 * finds.
 *
 * @param disk - of the machine; null where it cannot be asked
 */
export async function watchSite(
  database: Database,
  siteId: number,
  now: Date,
  disk: WatchedSite['disk'],
): Promise<void> {
  const rows = await database
    .select({ id: experiment.id })
    .from(experiment)
    .where(
      and(
        eq(experiment.siteId, siteId),
        inArray(experiment.state, ['running', 'paused']),
        isNull(experiment.deletedAt),
      ),
    )
  const sheets = (
    await findSheets(
      database,
      siteId,
      rows.map(({ id }) => id),
    )
  ).map(asMeasured)
  await noteVisits(database, siteId, now)
  await noteArrivals(database, siteId, now)
  await noteSums(
    database,
    siteId,
    sheets.map(({ id }) => id),
    now,
  )
  const ofSite = siteFindings(await watchedSite(database, siteId, now, disk))
  // What is not counted yet would look like what is missing.
  const isLate = ofSite.some(({ check }) => check === 'delay')
  const found = isLate ? new Map<number, WatchFinding[]>() : await ofExperiments(database, siteId, sheets, now)
  await settleAlarms(
    database,
    siteId,
    [
      { subject: { experimentId: null, rolloutId: null }, findings: ofSite },
      ...[...found].map(([experimentId, findings]) => ({ subject: { experimentId, rolloutId: null }, findings })),
      ...(isLate ? [] : await ofRollouts(database, siteId, now)),
    ],
    now,
    isLate,
  )
  for (const sheet of sheets) await pauseForFindings(database, sheet, found.get(sheet.id) ?? [])
  await forgetOldHours(database, siteId, now)
}

/** Pauses what its plan says must not go on like this: once for a cause, since whoever resumes it has seen that. */
async function pauseForFindings(
  database: Database,
  { siteId, id, state, plan }: ExperimentSheet,
  findings: readonly WatchFinding[],
): Promise<void> {
  if (state !== 'running') return
  const causes = CAUSES_OF_PAUSE[plan.pausesFor ?? 'target']
  const finding = findings.find(({ check }) => causes.includes(check))
  if (finding && (await isFirstAlarm(database, { siteId, id }, finding.check)))
    await pauseBecause(database, { siteId, experimentId: id }, finding.text)
}

const CAUSES_OF_PAUSE: Record<SelfPause, readonly WatchCheck[]> = {
  // The look at the pages pauses for it.
  target: [],
  harm: ['guardrail'],
  split: ['split'],
  both: ['guardrail', 'split'],
}

async function watchedSite(
  database: Queries,
  siteId: number,
  now: Date,
  disk: WatchedSite['disk'],
): Promise<WatchedSite> {
  const { today, before } = await readRefused(database, siteId, now)
  return {
    visits: await readVisits(database, siteId, now),
    delay: await longestWait(database, siteId),
    refused: { today: today.refused, before: before.refused },
    taken: { today: today.taken, before: before.taken },
    arrivals: await readArrivals(database, siteId, now),
    disk,
  }
}

/** By the days of the server: refusals are counted by them. */
async function readRefused(database: Queries, siteId: number, now: Date) {
  const day = now.toISOString().slice(0, 10)
  const first = new Date(now.getTime() - 7 * DAY).toISOString().slice(0, 10)
  const { rows } = await database.execute<{ isToday: boolean; refused: string; taken: string }>(sql`
    SELECT day = ${day}::date AS "isToday", sum(refused) AS refused, sum(taken) AS taken FROM (
      SELECT day, sum(events) AS refused, 0 AS taken FROM ${refusal}
      WHERE site_id = ${siteId} AND day >= ${first}::date GROUP BY 1
      UNION ALL
      SELECT (started_at AT TIME ZONE 'UTC')::date, 0, sum(views) FROM session
      WHERE site_id = ${siteId} AND started_at >= ${first}::date GROUP BY 1) each
    WHERE day <= ${day}::date GROUP BY 1`)
  const of = (isToday: boolean) => {
    const row = rows.find((each) => each.isToday === isToday)
    return { refused: Number(row?.refused ?? 0), taken: Number(row?.taken ?? 0) }
  }
  return { today: of(true), before: of(false) }
}

async function ofExperiments(
  database: Queries,
  siteId: number,
  sheets: readonly ExperimentSheet[],
  now: Date,
): Promise<Map<number, WatchFinding[]>> {
  const ids = sheets.map(({ id }) => id)
  const drift = await driftOf(database, siteId, ids)
  const summaries = await storedSummaries(database, siteId, ids)
  const erring = await erringVisitors(database, siteId, ids, now)
  const sums = await readSums(database, siteId, ids, now)
  const found = new Map<number, WatchFinding[]>()
  const moving = sheets.filter(({ periods }) => periods.length > 0)
  const statistics = await readStatistics(database, siteId, moving, now)
  for (const sheet of sheets) {
    const shares = sheet.periods.at(-1)?.shares
    const counted =
      sheet.state === 'running' && sheet.variants.length > 1
        ? experimentFindings({
            arms: sheet.variants.map(({ name, weight }, arm) => ({ name, weight: shares?.[arm] ?? weight })),
            periods: statistics.get(sheet.id)?.periods,
            metrics: sheet.metrics.map(({ versionId, name }) => ({ id: String(versionId), name })),
            ...sums.get(sheet.id)!,
            erring: sheet.variants.map((_, position) => erring.get(`${sheet.id} ${position}`) ?? 0),
          })
        : []
    found.set(sheet.id, [
      ...counted,
      ...guardrailFindings(summaries.get(sheet.id)),
      ...(sheet.state === 'running' ? pageFindings(drift.get(sheet.id) ?? []) : []),
    ])
  }
  return found
}

async function ofRollouts(database: Queries, siteId: number, now: Date): Promise<FoundOf[]> {
  const rows = await database
    .select({ id: rollout.id, changedAt: rollout.changedAt })
    .from(rollout)
    .where(and(eq(rollout.siteId, siteId), eq(rollout.isOn, true)))
  const ids = rows.map(({ id }) => id)
  await noteShown(database, siteId, ids, now)
  const sums = await readShown(database, siteId, new Map(rows.map(({ id, changedAt }) => [id, changedAt])), now)
  const drift = await driftOfRollouts(database, siteId, ids)
  return ids.map((id) => ({
    subject: { experimentId: null, rolloutId: id },
    findings: [...rolloutFindings(sums.get(id)!), ...pageFindings(drift.get(id) ?? [])],
  }))
}

function guardrailFindings(summary: StoredSummary | undefined): WatchFinding[] {
  const { verdict } = summary ?? {}
  if (verdict?.kind !== 'harm') return []
  return [{ check: 'guardrail', cause: 'harm', text: `${verdict.title}. ${verdict.reasons.join(' ')}` }]
}

function pageFindings(drift: readonly string[]): WatchFinding[] {
  return drift.map((text) => ({ check: 'page', cause: text.slice(0, 500), text }))
}

/** Visitors of the last day whose page had a script error after their exposure, by experiment and variant. */
async function erringVisitors(
  database: Queries,
  siteId: number,
  ids: readonly number[],
  now: Date,
): Promise<Map<string, number>> {
  if (ids.length === 0) return new Map()
  const { rows } = await database.execute<{ experiment: number; variant: number; visitors: string }>(sql`
    SELECT x.experiment_id AS experiment, x.variant, count(DISTINCT x.visitor_id) AS visitors
    FROM event e JOIN exposure x ON x.site_id = e.site_id AND x.visitor_id = e.visitor_id
    WHERE e.site_id = ${siteId} AND e.type = 'error' AND e.occurred_at >= ${new Date(now.getTime() - 24 * HOUR)}
      AND e.occurred_at >= x.exposed_at AND x.experiment_id = ANY(${sql.param([...ids])}::int[]) AND x.left_out IS NULL
    GROUP BY 1, 2`)
  return new Map(rows.map(({ experiment: id, variant, visitors }) => [`${id} ${variant}`, Number(visitors)]))
}
