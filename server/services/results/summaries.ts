import { LRUCache } from 'lru-cache'
import type { ExperimentSheet, ExperimentSummary } from '../../../shared/experiments/replies'
import { and, eq, inArray, sql } from 'drizzle-orm'
import { asMeasured } from '../../../core/sheet/wordings'
import { siteDays } from '../../../core/time/siteDay'
import { standingVerdict } from '../../../core/verdict/reachedVerdict'
import type { Verdict } from '../../../core/verdict/verdict'
import type { Queries } from '../../database/connect'
import { experimentSummary } from '../../database/schema'
import { findSheets } from '../experiments/sheet'
import { noteCrowds } from './crowds'
import { saveLooks } from './looks'
import { readOutlook } from './readOutlook'
import { latestLooks, sharesOfLooks, takeDueLook } from './plannedLooks'
import { bestVariant, readResults, wholeDaysOf, type ReadResults } from './results'
import { readIntakeNotes, type IntakeNotes } from './intakeNotes'
import { keepVerdict } from './reachedVerdicts'
import { readStatistics, type ExperimentStatistics } from './readStatistics'

/** What lists and Today show of an experiment without computing anything. */
export interface StoredSummary {
  visitors: number
  /** What to go by. */
  verdict: Verdict | null
  /** What the numbers say since that was reached, where it is something else. */
  since?: Verdict | null
  best: ExperimentSummary['best']
  /** The chance to still end with Ship, where it is so small that the plan advises to stop. */
  littleChance?: number | null
  /** Visitors first exposed on each of the last days, the latest last. */
  lastDays: { day: string; visitors: number }[]
}

const LAST_DAYS = 8

/**
 * Computes and stores what lists show of experiments, and the looks of the day.
 *
 * @param now - moment that verdicts and looks are of, but for experiments that have ended before: those are of their end
 */
export async function refreshSummaries(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
  now: Date,
): Promise<void> {
  const sheets = (await findSheets(database, siteId, experimentIds))
    .filter(({ startedAt }) => startedAt !== null)
    .map(asMeasured)
  if (sheets.length === 0) return
  const statistics = await readStatistics(database, siteId, sheets, now)
  const rows = []
  for (const sheet of sheets) {
    const own = statistics.get(sheet.id)!
    const asOf = sheet.endedAt && Date.parse(sheet.endedAt) < now.getTime() ? new Date(sheet.endedAt) : now
    if (sheet.state === 'running') await noteCrowdsAtTimes(database, sheet, now)
    const notes = await readIntakeNotes(database, sheet)
    const results = await resultsWithLook(database, sheet, own, notes, asOf)
    const standing = standingVerdict(results.verdict, await keepVerdict(database, sheet, results, asOf))
    const outlook = async () =>
      readOutlook(sheet, results, standing.verdict, wholeDaysOf(sheet, own, asOf), await sharesOfLooks(database, sheet))
    const days = [...own.days].sort(([a], [b]) => (a < b ? -1 : 1)).slice(-LAST_DAYS)
    const content: StoredSummary = {
      visitors: results.visitors,
      verdict: standing.verdict,
      since: standing.since,
      best: bestVariant(sheet, results),
      littleChance: standing.verdict?.kind === 'go-on' ? await littleChanceOfDay(sheet, now, outlook) : null,
      lastDays: days.map(([day, visitors]) => ({ day, visitors })),
    }
    rows.push({ siteId, experimentId: sheet.id, content, at: asOf })
    await saveLooks(database, sheet, results, asOf)
  }
  await database
    .insert(experimentSummary)
    .values(rows)
    .onConflictDoUpdate({
      target: [experimentSummary.siteId, experimentSummary.experimentId],
      set: { content: sql`excluded.content`, at: sql`excluded.at` },
      setWhere: eq(experimentSummary.siteId, siteId),
    })
}

/** What the numbers say, after the look of the plan that was due. */
async function resultsWithLook(
  database: Queries,
  sheet: ExperimentSheet,
  statistics: ExperimentStatistics,
  notes: IntakeNotes,
  asOf: Date,
): Promise<ReadResults> {
  const looks = await latestLooks(database, sheet)
  const results = readResults(sheet, statistics, notes, asOf, looks)
  if (!(await takeDueLook(database, sheet, results, looks, asOf))) return results
  return readResults(sheet, statistics, notes, asOf, await latestLooks(database, sheet))
}

/** While visitors come summaries are brought up to date each second; crowds are not looked for as often. */
const CROWDS_EVERY = 60_000
/** Nor for more than a twentieth of the time, where that takes long. */
const TIMES_AS_LONG = 20
const lookedAt = new LRUCache<string, true>({ max: 10_000, ttl: CROWDS_EVERY })

async function noteCrowdsAtTimes(database: Queries, sheet: ExperimentSheet, now: Date): Promise<void> {
  const key = `${sheet.siteId} ${sheet.id}`
  if (lookedAt.get(key)) return
  lookedAt.set(key, true)
  const start = performance.now()
  await noteCrowds(database, sheet, now)
  lookedAt.set(key, true, { ttl: Math.max(CROWDS_EVERY, TIMES_AS_LONG * (performance.now() - start)) })
}

/** What each experiment's chance came to on a day: it takes some milliseconds, and summaries are made each second. */
const chances = new LRUCache<string, { chance: number | null }>({ max: 10_000 })

async function littleChanceOfDay(
  sheet: ExperimentSheet,
  now: Date,
  read: () => Promise<ReturnType<typeof readOutlook>>,
): Promise<number | null> {
  if (sheet.state !== 'running' || !sheet.plan.leastChance) return null
  const key = `${sheet.siteId} ${sheet.id} ${sheet.version} ${siteDays(sheet.timeZone)(now.getTime())}`
  const known = chances.get(key)
  if (known) return known.chance
  const outlook = await read()
  const chance = outlook?.isLittle ? Math.max(...outlook.variants.map(({ predictive }) => predictive)) : null
  chances.set(key, { chance })
  return chance
}

/** Stored summaries by experiment. */
export async function storedSummaries(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<Map<number, StoredSummary>> {
  if (experimentIds.length === 0) return new Map()
  const rows = await database
    .select()
    .from(experimentSummary)
    .where(and(eq(experimentSummary.siteId, siteId), inArray(experimentSummary.experimentId, [...experimentIds])))
  return new Map(rows.map(({ experimentId, content }) => [experimentId, content]))
}
