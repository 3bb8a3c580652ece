import { sql } from 'drizzle-orm'
import { DEFAULT_TIMES } from '../../../core/notifications/letterTime'

/** When a person (`letter_times t`) wants letters about a site (`site s`), as columns of `LetterTimes`. */
export const TIMES = sql`coalesce(t.time_zone, s.time_zone) AS "timeZone",
  coalesce(t.quiet_from, ${DEFAULT_TIMES.quietFrom})::int AS "quietFrom",
  coalesce(t.quiet_until, ${DEFAULT_TIMES.quietUntil})::int AS "quietUntil",
  coalesce(t.morning_at, ${DEFAULT_TIMES.morningAt})::int AS "morningAt"`
