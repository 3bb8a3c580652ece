import type { Pool, PoolClient } from 'pg'
import { inTransaction } from '../../database/inTransaction'
import { isDatabaseAway } from '../../database/isDatabaseAway'
import { foldPortion } from './foldPortion'
import * as queries from './queries'
import { SiteFault } from './siteFault'

const ROWS_AT_A_TIME = 20_000
/**
 * So many rows of a site may lie aside. More is no bad row but a fault of ours, which must not cost rows: the site
 * stands still until it is mended. `tests/integration/foldFaults.test.ts` holds it.
 */
const MOST_SET_ASIDE = 50

export interface FoldLimits {
  /** Rows that are folded in one transaction. */
  portion?: number
  /** For how long one site is folded before it is the next one's turn, in ms. */
  budget?: number
}

/**
 * Folds what is new on every site, the site that has waited longest first. Costs what is new. A site that cannot be
 * folded stops no other: what went wrong is thrown when all had their turn.
 *
 * @returns rows that were folded
 * @throws AggregateError of what went wrong on single sites
 */
export async function foldNews(pool: Pool, limits: FoldLimits = {}): Promise<number> {
  const upTo = await lastVisibleSeq(pool)
  const { rows } = await pool.query<{ id: number }>(queries.SITES_WITH_NEWS, [upTo])
  const failures: unknown[] = []
  let folded = 0
  for (const { id } of rows) {
    await foldSite(pool, id, upTo, limits).then(
      (count) => (folded += count),
      (error: unknown) => {
        // No other site can be folded either.
        if (isDatabaseAway(error)) throw error
        failures.push(error)
      },
    )
  }
  if (failures.length > 0) throw new AggregateError(failures, 'Not every site could be folded.')
  return folded
}

/**
 * Folds what is new on one site, portion by portion. Each is one transaction together with the cursor, so that
 * everything counts once, whatever breaks. Only one process folds a site at a time; others find nothing to do.
 *
 * @param upTo - number up to which everything can be seen
 * @returns rows that were folded
 */
export async function foldSite(
  pool: Pool,
  siteId: number,
  upTo: number,
  { portion = ROWS_AT_A_TIME, budget = Infinity }: FoldLimits = {},
): Promise<number> {
  const until = Date.now() + budget
  let folded = 0
  for (let size = portion; Date.now() < until;) {
    let rows: number | null
    try {
      rows = await inTransaction(pool, (client) => foldOnce(client, siteId, upTo, size))
    } catch (error) {
      if (!mayLieInRow(error)) throw error
      // What cannot be folded is found by halves, put aside, and stops nobody.
      if (size === 1) await setAside(pool, siteId, upTo, error)
      size = Math.max(1, Math.floor(size / 2))
      continue
    }
    if (rows === null) return folded
    folded += rows
    size = Math.min(portion, size * 2)
  }
  return folded
}

/** @returns rows that were folded, or null when there are none, or somebody else folds them */
async function foldOnce(client: PoolClient, siteId: number, upTo: number, size: number): Promise<number | null> {
  const lock = await client.query<{ taken: boolean }>(queries.TRY_FOLD_LOCK, [siteId])
  if (!lock.rows[0]?.taken) return null
  const next = await nextPortion(client, siteId, upTo, size)
  if (!next) return null
  const { experiments, asOf } = await foldPortion(client, siteId, { ...next, folded: next.from })
  await client.query(queries.MOVE_CURSOR, [siteId, next.to, asOf])
  await client.query(queries.NOTE_SUMMARIES_DUE, [siteId, [...experiments]])
  return size
}

async function nextPortion(
  client: PoolClient,
  siteId: number,
  upTo: number,
  size: number,
): Promise<{ from: number; to: number } | null> {
  const from = await readCursor(client, siteId)
  const end = await client.query<{ seq: string | null }>(queries.END_OF_PORTION, [siteId, from, upTo, size])
  const to = end.rows[0]?.seq
  return to ? { from, to: Number(to) } : null
}

async function readCursor(client: PoolClient, siteId: number): Promise<number> {
  const cursor = await client.query<{ seq: string }>(queries.READ_CURSOR, [siteId])
  return Number(cursor.rows[0]?.seq ?? 0)
}

/** Whether an error may come from what was to be folded: a value that cannot be computed with, or a rule that it breaks. */
function mayLieInRow(error: unknown): boolean {
  if (error instanceof SiteFault) return false
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  return code === '' ? !isDatabaseAway(error) : /^2[23]/.test(code)
}

/**
 * Passes over the one next row. Another error than before may have been a passing one; then there is a next time.
 *
 * @throws the error, where so many rows lie aside that the fault is ours
 */
async function setAside(pool: Pool, siteId: number, upTo: number, error: unknown): Promise<void> {
  const reason = error instanceof Error ? error.message.slice(0, 500) : String(error)
  await inTransaction(pool, async (client) => {
    await client.query(queries.TAKE_FOLD_LOCK, [siteId])
    const aside = await client.query<{ rows: string }>(queries.COUNT_SET_ASIDE, [siteId])
    if (Number(aside.rows[0]!.rows) >= MOST_SET_ASIDE) throw error
    const next = await nextPortion(client, siteId, upTo, 1)
    if (!next) return
    await client.query(queries.SET_ASIDE, [siteId, next.to, reason])
    await client.query(queries.MOVE_CURSOR, [siteId, next.to, 0])
  })
  console.error(`A row of site ${siteId} could not be folded and was set aside: ${reason}`)
}

/**
 * Folds rows that were set aside, each by itself: what kept them from it may be mended by now. What still cannot be
 * folded stays aside.
 *
 * @returns how many were folded, and how many stay aside
 */
export async function takeBackSetAside(pool: Pool, siteId: number): Promise<{ folded: number; left: number }> {
  const { rows } = await pool.query<{ seq: string }>(queries.ROWS_SET_ASIDE, [siteId])
  let folded = 0
  let left = 0
  for (const { seq } of rows)
    try {
      if (await takeBack(pool, siteId, Number(seq))) folded++
    } catch (error) {
      if (!mayLieInRow(error)) throw error
      left++
    }
  return { folded, left }
}

/** @returns whether the row was folded: not where somebody else has taken it back meanwhile */
async function takeBack(pool: Pool, siteId: number, row: number): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    await client.query(queries.TAKE_FOLD_LOCK, [siteId])
    const { rowCount } = await client.query(queries.TAKE_BACK, [siteId, row])
    if (rowCount === 0) return false
    const cursor = await readCursor(client, siteId)
    const { experiments } = await foldPortion(client, siteId, { from: row - 1, to: row, folded: cursor })
    await client.query(queries.NOTE_SUMMARIES_DUE, [siteId, [...experiments]])
    return true
  })
}

/**
 * Takes back what lies aside on any site: once after each start, which may be one of a mended version. A site that
 * cannot be folded stops no other; its rows stay aside.
 */
export async function takeBackEverywhere(pool: Pool): Promise<void> {
  const { rows } = await pool.query<{ id: number }>(queries.SITES_WITH_SET_ASIDE)
  for (const { id } of rows)
    try {
      const { folded, left } = await takeBackSetAside(pool, id)
      console.log(`Site ${id}: ${folded} rows that were set aside are counted now, ${left} stay aside.`)
    } catch (error) {
      if (isDatabaseAway(error)) throw error
      console.error(`Site ${id}: rows that were set aside cannot be counted yet.`, error)
    }
}

/** Numbers are handed out before their rows can be seen; once intake holds still, all up to here can be. */
export async function lastVisibleSeq(pool: Pool): Promise<number> {
  return inTransaction(pool, async (client) => {
    await client.query(queries.HOLD_INTAKE)
    return Number((await client.query<{ seq: string }>(queries.LAST_SEQ)).rows[0]?.seq ?? 0)
  })
}
