import type { RolloutDay, RolloutView } from '../../../shared/rollouts/replies'
import { randomBytes } from 'node:crypto'
import { and, eq, sql } from 'drizzle-orm'
import { BUCKETS } from '../../../core/assignment/assignment'
import { dayAfter, daysFrom, siteDays } from '../../../core/time/siteDay'
import type { RolloutChange, RolloutInput } from '../../../shared/rollouts/rollout'
import type { Database, Queries } from '../../database/connect'
import { experiment, rollout } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { lockSheet, type Target } from '../experiments/sheet'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { rolloutsWhere, type LiveRollout } from './liveRollouts'
import { DAY } from '../../../core/time/units'

const WEEK = 7
const SHOWN_DAYS = 28
const GONE = 'This rollout does not exist on this site.'

export interface RolloutTarget {
  siteId: number
  rolloutId: number
  personId: number | null
}

/** Rollouts of a site, the latest first, with those who got them in the last seven days. */
export async function listRollouts(database: Queries, siteId: number, now: Date): Promise<RolloutView[]> {
  return viewsOf(database, siteId, await rolloutsWhere(database, siteId), now)
}

/** @throws HttpProblem 404 for one that is not the site's */
export async function findRollout(
  database: Queries,
  siteId: number,
  rolloutId: number,
  now: Date,
): Promise<RolloutView> {
  const found = await rolloutsWhere(database, siteId, eq(rollout.id, rolloutId))
  if (found.length === 0) throw new HttpProblem(404, GONE)
  return (await viewsOf(database, siteId, found, now))[0]!
}

async function viewsOf(
  database: Queries,
  siteId: number,
  rollouts: readonly LiveRollout[],
  now: Date,
): Promise<RolloutView[]> {
  const counts = await visitorsOf(database, siteId, now)
  return rollouts
    .map(({ row, from, person, variant, position, holdouts }): RolloutView => ({
      id: row.id,
      experiment: from.id,
      name: from.name,
      pageRules: from.pageRules,
      audience: from.audience,
      variant: { name: variant.name, position, edits: variant.edits.length },

      share: row.share,
      isForEverybody: row.isForEverybody,
      isOn: row.isOn,
      version: row.version,
      person,
      createdAt: row.createdAt.toISOString(),
      changedAt: row.changedAt.toISOString(),
      holdouts: holdouts.map(({ name }) => name),
      visitors: counts.get(row.id) ?? 0,
    }))
    .reverse()
}

/** Exposures to rollouts since a moment, of visitors who are in the numbers of reports. */
const exposuresTo = (siteId: number, from: Date) => sql`
  FROM event e
  JOIN rollout r ON r.site_id = ${siteId} AND r.id = e.experiment_id
  JOIN visitor v ON v.site_id = ${siteId} AND v.id = e.visitor_id AND v.left_out IS NULL
  WHERE e.site_id = ${siteId} AND e.type = 'exposure' AND e.occurred_at >= ${from.toISOString()}`

async function visitorsOf(database: Queries, siteId: number, now: Date): Promise<Map<number, number>> {
  const from = new Date(now.getTime() - WEEK * DAY)
  const { rows } = await database.execute<{ id: number; visitors: number }>(sql`
    SELECT r.id, count(DISTINCT e.visitor_id)::int AS visitors ${exposuresTo(siteId, from)} GROUP BY r.id`)
  return new Map(rows.map(({ id, visitors }) => [id, visitors]))
}

/** Visitors who got a rollout, for each of the last four weeks' days by the clock of the site. */
export async function rolloutDays(
  database: Queries,
  siteId: number,
  rolloutId: number,
  now: Date,
): Promise<RolloutDay[]> {
  await findRollout(database, siteId, rolloutId, now)
  const { timeZone } = await findSite(database, siteId)
  const today = siteDays(timeZone)(now.getTime())
  const first = dayAfter(today, 1 - SHOWN_DAYS)
  // A day more than is shown: wherever it lies, the first day is whole.
  const from = new Date(now.getTime() - (SHOWN_DAYS + 1) * DAY)
  const { rows } = await database.execute<{ day: string; visitors: number }>(sql`
    SELECT to_char(e.occurred_at AT TIME ZONE ${timeZone}, 'YYYY-MM-DD') AS day,
      count(DISTINCT e.visitor_id)::int AS visitors
    ${exposuresTo(siteId, from)} AND r.id = ${rolloutId} GROUP BY 1`)
  const byDay = new Map(rows.map(({ day, visitors }) => [day, visitors]))
  return daysFrom(first, today).map((day) => ({ day, visitors: byDay.get(day) ?? 0 }))
}

/**
 * Serves the variant that an ended experiment keeps.
 *
 * @throws HttpProblem 409 for an experiment that has not ended, keeps the original, or is rolled out already; 422 for a
 *   variant with a script where an owner has forbidden them
 */
export async function startRollout(
  database: Database,
  target: Target,
  input: RolloutInput,
  now: Date,
): Promise<RolloutView> {
  return database.transaction((tx) => startRolloutIn(tx, target, input, now))
}

/** The same, within what else is done at once. */
export async function startRolloutIn(
  tx: Queries,
  target: Target,
  { share, isForEverybody }: RolloutInput,
  now: Date,
): Promise<RolloutView> {
  const { siteId, experimentId, personId } = target
  const sheet = await lockSheet(tx, target)
  const position = sheet.variants.findIndex(({ id }) => id === sheet.decision?.variant)
  if (sheet.state !== 'ended') throw new HttpProblem(409, 'End this experiment first, and say what is kept.')
  if (position < 1) throw new HttpProblem(409, 'This experiment keeps the page as it is: there is nothing to roll out.')
  const bringsScript = sheet.variants[position]!.edits.some(({ kind, isOff }) => kind === 'script' && !isOff)
  if (bringsScript && !sheet.allowsScripts)
    throw new HttpProblem(422, 'An owner of the site has forbidden scripts in variants, and this one brings one.')
  const [made] = await tx
    .insert(rollout)
    .values({
      siteId,
      experimentId,
      variantId: sheet.variants[position]!.id,
      share,
      isForEverybody,

      salt: randomBytes(6).toString('base64url'),
      createdBy: personId,
      createdAt: now,
      changedAt: now,
    })
    .onConflictDoNothing()
    .returning({ id: rollout.id })
  if (!made) throw new HttpProblem(409, 'This experiment is rolled out already. Change its rollout.')
  await compileSiteFile(tx, siteId)
  await announceOf(tx, siteId, experimentId)
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'rollout',
    subjectId: made.id,
    action: 'started',
    after: { share, isForEverybody },
    words: `rolled out “${sheet.variants[position]!.name}” to ${audienceWords(share, isForEverybody || !sheet.audience)}`,
  })
  return findRollout(tx, siteId, made.id, now)
}

/**
 * Stops a rollout, serves it again, or changes to whom it goes.
 *
 * @throws HttpProblem 409 where somebody else has changed it since it was read
 */
export async function changeRollout(
  database: Database,
  { siteId, rolloutId, personId }: RolloutTarget,
  { version, ...wanted }: RolloutChange,
  now: Date,
): Promise<RolloutView> {
  return database.transaction(async (tx) => {
    const before = await findRollout(tx, siteId, rolloutId, now)
    const after = { ...before, ...definedOf(wanted) }
    const { share, isForEverybody, isOn } = after
    const changed = await tx
      .update(rollout)
      .set({ share, isForEverybody, isOn, version: version + 1, changedAt: now })
      .where(and(eq(rollout.siteId, siteId), eq(rollout.id, rolloutId), eq(rollout.version, version)))
      .returning({ id: rollout.id })
    if (changed.length === 0)
      throw new HttpProblem(409, 'Somebody else has changed this rollout. Look at it as it is now.')
    // The experiment's row before the site file, as whoever changes a sheet takes them.
    await announceOf(tx, siteId, before.experiment)
    await compileSiteFile(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'rollout',
      subjectId: rolloutId,
      action: 'changed',
      before: { share: before.share, isForEverybody: before.isForEverybody, isOn: before.isOn },
      after: { share, isForEverybody, isOn },
      words: changeInWords(before, after),
    })
    return findRollout(tx, siteId, rolloutId, now)
  })
}

/** Tells whoever has the sheet open that something about it is new. */
async function announceOf(tx: Queries, siteId: number, experimentId: number): Promise<void> {
  const [changed] = await tx
    .update(experiment)
    .set({ version: sql`${experiment.version} + 1` })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    .returning({ version: experiment.version })
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: changed!.version })
}

function definedOf<Fields extends object>(fields: Fields): Partial<Fields> {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as Partial<Fields>
}

type Reach = Pick<RolloutView, 'share' | 'isForEverybody' | 'isOn' | 'audience'>

function changeInWords(before: Reach, after: Reach): string {
  const isForAll = after.isForEverybody || !after.audience
  const isSameReach = before.share === after.share && before.isForEverybody === after.isForEverybody
  const reach = isSameReach ? [] : [`served to ${audienceWords(after.share, isForAll)}`]
  if (before.isOn === after.isOn) return reach[0] ?? 'left as it was'
  return [after.isOn ? 'served again' : 'stopped', ...reach].join(', ')
}

const audienceWords = (share: number, isForAll: boolean) =>
  `${(share / BUCKETS) * 100} % of ${isForAll ? 'all visitors' : 'the audience of the experiment'}`
