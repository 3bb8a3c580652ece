import type { HoldoutView } from '../../../shared/traffic/replies'
import { randomBytes } from 'node:crypto'
import { and, eq, gt, isNull, lte, sql } from 'drizzle-orm'
import { localMoment } from '../../../core/time/localMoment'
import type { HoldoutInput } from '../../../shared/traffic/traffic'
import type { Database, Queries } from '../../database/connect'
import { experiment, holdout } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { allHoldouts, concerns } from './heldOut'
import { readHoldout, type HoldoutPlace } from './readHoldout'

/** Holdouts of a site, the latest first, with what they keep their visitors from. */
export async function listHoldouts(database: Queries, siteId: number, now: Date): Promise<HoldoutView[]> {
  const rows = await allHoldouts(database, siteId)
  const started = await database
    .select({ id: experiment.id, name: experiment.name, state: experiment.state, startedAt: experiment.startedAt })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), isNull(experiment.deletedAt)))
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    share: row.share,
    startsAt: row.startsAt.toISOString(),
    endsAt: row.endsAt.toISOString(),
    isOpen: row.startsAt <= now && row.endsAt > now,
    closedAt: row.closedAt?.toISOString() ?? null,
    experiments: started
      .filter(({ startedAt }) => startedAt !== null && concerns(row, startedAt))
      .map(({ id, name, state }) => ({ experiment: id, name, state })),
  }))
}

/** The share of the visitors that holdouts leave to what starts at a moment: 1 without any. */
export async function leftByHoldouts(database: Queries, siteId: number, now: Date): Promise<number> {
  const open = await database
    .select({ share: holdout.share })
    .from(holdout)
    .where(
      and(eq(holdout.siteId, siteId), isNull(holdout.deletedAt), lte(holdout.startsAt, now), gt(holdout.endsAt, now)),
    )
  return open.reduce((left, { share }) => left * (1 - share / 10_000), 1)
}

/** A holdout from now until the end of a day, by the clock of the site. Its share is not changed any more. */
export async function createHoldout(
  database: Database,
  siteId: number,
  personId: number | null,
  { name, share, until }: HoldoutInput,
  now: Date,
): Promise<HoldoutView[]> {
  return database.transaction(async (tx) => {
    const { timeZone } = await findSite(tx, siteId)
    const endsAt = new Date(localMoment(`${until}T23:59`, timeZone).at)
    if (endsAt <= now) {
      const message = 'This day has passed. Choose a later one.'
      throw new HttpProblem(422, message, { until: message })
    }
    const salt = randomBytes(6).toString('base64url')
    const values = { siteId, name, share, salt, startsAt: now, endsAt, createdBy: personId }
    const [made] = await tx.insert(holdout).values(values).returning()
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'holdout',
      subjectId: made!.id,
      action: 'started',
      after: { name, share, until },
    })
    return listHoldouts(tx, siteId, now)
  })
}

/** Ends a holdout: nothing that starts from now on is kept from its visitors; what started before still is. */
export async function endHoldout(
  database: Database,
  siteId: number,
  personId: number | null,
  holdoutId: number,
  now: Date,
): Promise<HoldoutView[]> {
  return database.transaction(async (tx) => {
    const [ended] = await tx
      .update(holdout)
      .set({ endsAt: now })
      .where(
        and(eq(holdout.siteId, siteId), eq(holdout.id, holdoutId), isNull(holdout.deletedAt), gt(holdout.endsAt, now)),
      )
      .returning()
    if (!ended) throw new HttpProblem(409, 'This holdout has ended already.')
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'holdout',
      subjectId: holdoutId,
      action: 'ended',
    })
    return listHoldouts(tx, siteId, now)
  })
}

/**
 * Closes a holdout: from now on its visitors get everything that others get. What it showed is kept.
 *
 * @throws HttpProblem 404 for one that is not the site's, 409 for one that is closed already
 */
export async function closeHoldout(
  { database, evidence, siteId }: Omit<HoldoutPlace, 'database'> & { database: Database },
  personId: number | null,
  holdoutId: number,
  now: Date,
): Promise<HoldoutView[]> {
  // Outside of the transaction: visits are read for seconds.
  const reading = await readHoldout({ database, evidence, siteId }, holdoutId, now)
  return database.transaction(async (tx) => {
    const [closed] = await tx
      .update(holdout)
      .set({ closedAt: now, endsAt: sql`least(${holdout.endsAt}, ${now.toISOString()}::timestamptz)`, reading })
      .where(
        and(eq(holdout.siteId, siteId), eq(holdout.id, holdoutId), isNull(holdout.deletedAt), isNull(holdout.closedAt)),
      )
      .returning()
    if (!closed) throw new HttpProblem(409, 'This holdout is closed already.')
    await compileSiteFile(tx, siteId)
    await recordChange(tx, { siteId, personId, subject: 'holdout', subjectId: holdoutId, action: 'closed' })
    return listHoldouts(tx, siteId, now)
  })
}
