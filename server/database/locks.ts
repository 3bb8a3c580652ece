import { sql } from 'drizzle-orm'

/**
 * Every transaction that adds events holds this lock shared. Whoever holds it alone, if only for a moment,
 * knows that all events with a lower `seq` can be seen.
 */
export const INTAKE_LOCK = 7101
/** Held by the one process that folds events. */
export const FOLD_LOCK = 7102

export const shareIntakeLock = sql`SELECT pg_advisory_xact_lock_shared(${sql.raw(String(INTAKE_LOCK))})`
export const takeIntakeLock = sql`SELECT pg_advisory_xact_lock(${sql.raw(String(INTAKE_LOCK))})`
