import { migrate as applyMigrations } from 'drizzle-orm/node-postgres/migrator'
import type { Database } from './connect'
import { ensurePartitions } from './partitions'

/** Brings the database's tables up to date. */
export async function migrate(database: Database, folder = 'server/database/migrations'): Promise<void> {
  await applyMigrations(database, { migrationsFolder: folder })
  await ensurePartitions(database, new Date())
}
