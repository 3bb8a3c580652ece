import { sql } from 'drizzle-orm'
import { firstIdAt } from '../../core/identity/timeOrderedId'
import type { Database, Queries } from './connect'

const MONTHS_BACK = 3
const MONTHS_AHEAD = 2
const PARTITIONED = ['page_view', 'event'] as const

type Partitioned = (typeof PARTITIONED)[number]

/** A month's partition, with the range of ids that belong to it. */
interface Month {
  name: string
  first: string
  next: string
}

/**
 * Creates the monthly partitions around a day, where they are missing. What a wrong clock has sent ahead of them, into
 * the partition for everything else, moves in.
 */
export async function ensurePartitions(database: Database, today: Date): Promise<void> {
  for (const table of PARTITIONED) {
    const { rows } = await database.execute<{ name: string }>(
      sql`SELECT c.relname AS name FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = ${table}::regclass`,
    )
    const known = new Set(rows.map(({ name }) => name))
    for (let offset = -MONTHS_BACK; offset <= MONTHS_AHEAD; offset++) {
      const month = monthOf(table, today, offset)
      if (!known.has(month.name)) await database.transaction((tx) => addPartition(tx, table, month))
    }
  }
}

function monthOf(table: Partitioned, today: Date, offset: number): Month {
  const start = (months: number) => Date.UTC(today.getUTCFullYear(), today.getUTCMonth() + months, 1)
  const label = new Date(start(offset)).toISOString().slice(0, 7).replace('-', '_')
  return { name: `${table}_${label}`, first: firstIdAt(start(offset)), next: firstIdAt(start(offset + 1)) }
}

async function addPartition(tx: Queries, table: Partitioned, { name, first, next }: Month): Promise<void> {
  const run = (statement: string) => tx.execute(sql.raw(statement))
  await run(`LOCK TABLE ${table} IN ACCESS EXCLUSIVE MODE`)
  const { rows } = await tx.execute(sql`SELECT to_regclass(${name}) AS found`)
  if (rows[0]?.found) return
  await run(`CREATE TABLE ${name} (LIKE ${table} INCLUDING DEFAULTS)`)
  await run(
    `WITH moved AS (DELETE FROM ${table}_astray WHERE id >= '${first}' AND id < '${next}' RETURNING *) INSERT INTO ${name} SELECT * FROM moved`,
  )
  await run(`ALTER TABLE ${table} ATTACH PARTITION ${name} FOR VALUES FROM ('${first}') TO ('${next}')`)
}

/**
 * Drops the partitions of months before a moment in which nothing is left. A clock that was wrong may have put rows
 * there that are younger than their ids say: their partition stays until they are old.
 */
export async function dropEmptyPartitions(database: Database, before: Date): Promise<string[]> {
  const dropped: string[] = []
  for (const table of PARTITIONED) {
    const { rows } = await database.execute<{ name: string }>(
      sql`SELECT c.relname AS name FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = ${table}::regclass ORDER BY 1`,
    )
    for (const { name } of rows) {
      const [year, month] = name
        .slice(table.length + 1)
        .split('_')
        .map(Number)
      if (!year || !month || Date.UTC(year, month, 1) > before.getTime()) continue
      if (await dropIfEmpty(database, table, name)) dropped.push(name)
    }
  }
  return dropped
}

async function dropIfEmpty(database: Database, table: Partitioned, name: string): Promise<boolean> {
  return database.transaction(async (tx) => {
    await tx.execute(sql.raw(`LOCK TABLE ${table} IN ACCESS EXCLUSIVE MODE`))
    const { rows } = await tx.execute<{ some: boolean }>(sql.raw(`SELECT EXISTS (SELECT FROM ${name}) AS some`))
    if (rows[0]!.some) return false
    await tx.execute(sql.raw(`DROP TABLE ${name}`))
    return true
  })
}
