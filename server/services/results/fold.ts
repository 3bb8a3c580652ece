import type { Pool, PoolClient } from 'pg'
import { inTransaction } from '../../database/inTransaction'
import { isDatabaseAway } from '../../database/isDatabaseAway'
import { foldPortion } from './foldPortion'
import * as plans from './plans'

const ROWS_AT_A_TIME = 20_000
/** More than this in one go is no bad row but a fault of ours, which must not cost rows. */
const MOST_SET_ASIDE = 50

/** What a fold has changed on a site. */
export interface SiteFold {
  siteId: number
  rows: number
  experiments: Set<number>
  /** Time of the latest thing that was folded, in ms since 1970. */
  asOf: number
}

/**
 * Folds what is new on every site. Costs what is new. A site that cannot be folded stops no other.
 *
 * @returns what has changed, by site
 */
export async function foldNews(pool: Pool, portion = ROWS_AT_A_TIME): Promise<SiteFold[]> {
  const upTo = await lastVisibleSeq(pool)
  const { rows } = await pool.query<{ id: number }>(plans.SITES_WITH_NEWS, [upTo])
  const folds: SiteFold[] = []
  for (const { id } of rows) folds.push(await foldSite(pool, id, upTo, portion))
  return folds
}

/**
 * Folds what is new on one site, portion by portion. Each is one transaction together with the cursor, so that
 * everything counts once, whatever breaks. Only one process folds a site at a time; others find nothing to do.
 *
 * @param upTo - number up to which everything can be seen
 */
export async function foldSite(pool: Pool, siteId: number, upTo: number, portion = ROWS_AT_A_TIME): Promise<SiteFold> {
  const fold: SiteFold = { siteId, rows: 0, experiments: new Set(), asOf: 0 }
  let aside = 0
  for (let size = portion; ;) {
    let step: { to: number; rows: number } | null
    try {
      step = await inTransaction(pool, (client) => foldOnce(client, fold, upTo, size))
    } catch (error) {
      if (!mayLieInRow(error)) throw error
      // What cannot be folded is found by halves, put aside, and stops nobody.
      if (size === 1 && ++aside > MOST_SET_ASIDE) throw error
      if (size === 1) await setAside(pool, siteId, upTo, error)
      size = Math.max(1, Math.floor(size / 2))
      continue
    }
    if (!step) return fold
    fold.rows += step.rows
    size = Math.min(portion, size * 2)
  }
}

async function foldOnce(
  client: PoolClient,
  fold: SiteFold,
  upTo: number,
  size: number,
): Promise<{ to: number; rows: number } | null> {
  const lock = await client.query<{ taken: boolean }>(plans.TRY_FOLD_LOCK, [fold.siteId])
  if (!lock.rows[0]?.taken) return null
  const next = await nextPortion(client, fold.siteId, upTo, size)
  if (!next) return null
  const { experiments, asOf } = await foldPortion(client, fold.siteId, next.from, next.to)
  await client.query(plans.MOVE_CURSOR, [fold.siteId, next.to, asOf])
  for (const each of experiments) fold.experiments.add(each)
  fold.asOf = Math.max(fold.asOf, asOf)
  return { to: next.to, rows: size }
}

async function nextPortion(
  client: PoolClient,
  siteId: number,
  upTo: number,
  size: number,
): Promise<{ from: number; to: number } | null> {
  const cursor = await client.query<{ seq: string }>(plans.READ_CURSOR, [siteId])
  const from = Number(cursor.rows[0]?.seq ?? 0)
  const end = await client.query<{ seq: string | null }>(plans.END_OF_PORTION, [siteId, from, upTo, size])
  const to = end.rows[0]?.seq
  return to ? { from, to: Number(to) } : null
}

/** Whether an error may come from what was to be folded: a value that cannot be computed with, or a rule that it breaks. */
function mayLieInRow(error: unknown): boolean {
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  return code === '' ? !isDatabaseAway(error) : /^2[23]/.test(code)
}

/** Passes over the one next row. Another error than before may have been a passing one; then there is a next time. */
async function setAside(pool: Pool, siteId: number, upTo: number, error: unknown): Promise<void> {
  const reason = error instanceof Error ? error.message.slice(0, 500) : String(error)
  await inTransaction(pool, async (client) => {
    await client.query(plans.TAKE_FOLD_LOCK, [siteId])
    const next = await nextPortion(client, siteId, upTo, 1)
    if (!next) return
    await client.query(plans.SET_ASIDE, [siteId, next.to, reason])
    await client.query(plans.MOVE_CURSOR, [siteId, next.to, 0])
  })
  console.error(`A row of site ${siteId} could not be folded and was set aside: ${reason}`)
}

/** Numbers are handed out before their rows can be seen; once intake holds still, all up to here can be. */
export async function lastVisibleSeq(pool: Pool): Promise<number> {
  return inTransaction(pool, async (client) => {
    await client.query(plans.HOLD_INTAKE)
    return Number((await client.query<{ seq: string }>(plans.LAST_SEQ)).rows[0]?.seq ?? 0)
  })
}
