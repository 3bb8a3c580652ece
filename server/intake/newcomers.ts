import type { Pool } from 'pg'

/** Visitors whom nobody knows that one network may bring to a site: at once, and in the long run a second. */
export interface NewcomerLimit {
  burst: number
  aSecond: number
}

/** A network that came for the first time that day may bring this part of it. */
const PART_WHILE_NEW = 1 / 6
const NEW_FOR = '1 hour'

const REFILLED = `
  least($2, b.left + extract(epoch FROM greatest(now() - b.at, interval '0')) * $3
    * CASE WHEN now() - b.first_at < interval '${NEW_FOR}' THEN ${PART_WHILE_NEW} ELSE 1 END)`
const TAKE = `
  INSERT INTO network_budget AS b (key, "left", at, first_at) VALUES ($1, $2 - 1, now(), now())
  ON CONFLICT (key) DO UPDATE SET "left" = ${REFILLED} - 1, at = now() WHERE ${REFILLED} >= 1`

/**
 * Whether another visitor whom nobody knows may come from a network; they are counted if so. All processes count
 * together, in the database: with each counting for itself, twice as many would come by two.
 *
 * @param key - names site and network
 */
export function newcomerBudget(pool: () => Pool, { burst, aSecond }: NewcomerLimit): (key: string) => Promise<boolean> {
  return async (key) => (await pool().query(TAKE, [key, burst, aSecond])).rowCount === 1
}
