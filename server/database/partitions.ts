import { addMonths, differenceInCalendarMonths } from 'date-fns'
import { sql } from 'drizzle-orm'
import type { Queries } from './connect'

const MONTHS_BACK = 3
const MONTHS_AHEAD = 2

/** Creates the monthly partitions of `event` around a day, where they are missing. */
export async function ensurePartitions(database: Queries, today: Date): Promise<void> {
  for (let offset = -MONTHS_BACK; offset <= MONTHS_AHEAD; offset++) {
    const first = new Date(Date.UTC(today.getUTCFullYear(), today.getUTCMonth() + offset, 1))
    const next = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 1))
    const name = `event_${first.toISOString().slice(0, 7).replace('-', '_')}`
    await database.execute(
      sql.raw(
        `CREATE TABLE IF NOT EXISTS ${name} PARTITION OF event FOR VALUES FROM ('${first.toISOString()}') TO ('${next.toISOString()}')`,
      ),
    )
  }
}

/** Whether events of a time go to a partition that `ensurePartitions` keeps. */
export function hasPartition(time: Date, today: Date): boolean {
  const offset = differenceInCalendarMonths(time, today)
  return time >= addMonths(today, -MONTHS_BACK + 1) && offset < MONTHS_AHEAD
}
