import { spawn } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { countRows } from '../../cli/backup'
import { startTemporaryCluster } from '../../cli/stack/temporaryStack'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'
import { openQueue } from '../../server/jobs/queue'
import { startedExperiment } from '../startedExperiment'
import { primaryMetric } from '../metrics'
import { createTeam } from './people'

/** The last step of the version that data come from. */
const BEFORE = '0034_do_not_track'
const MIGRATIONS = 'server/database/migrations'
let cluster: Awaited<ReturnType<typeof startTemporaryCluster>>
let database: Database
const earlier = mkdtempSync(join(tmpdir(), 'vetch-migrations-'))

beforeAll(async () => {
  cluster = await startTemporaryCluster()
  database = connect(cluster.cluster.url, 4)
  cpSync(MIGRATIONS, earlier, { recursive: true })
  const journal = JSON.parse(readFileSync(join(MIGRATIONS, 'meta/_journal.json'), 'utf8'))
  const last = journal.entries.findIndex(({ tag }: { tag: string }) => tag === BEFORE)
  journal.entries = journal.entries.slice(0, last + 1)
  writeFileSync(join(earlier, 'meta/_journal.json'), JSON.stringify(journal))
  await migrate(database, earlier)
})
afterAll(async () => {
  await database.$client.end()
  cluster.remove()
  rmSync(earlier, { recursive: true, force: true })
})

const version = async () => {
  const { rows } = await database.execute(sql`SELECT count(*)::int AS steps FROM drizzle.__drizzle_migrations`)
  return rows[0]!.steps
}

/** Brings the database up to date as the start does, in a process of its own. */
function upgrade() {
  const code = `
    import { connect } from './server/database/connect.ts'
    import { migrate } from './server/database/migrate.ts'
    const database = connect(process.env.UPGRADED, 2)
    await migrate(database)
    await database.$client.end()`
  return spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', code], {
    env: { ...process.env, UPGRADED: cluster.cluster.url },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
}

test('an upgrade that is killed in the middle leaves everything as it was, and is done whole the next time', async () => {
  // Services of today make what the earlier version would have: what came later is there only meanwhile.
  await database.execute(sql`ALTER TABLE site ADD COLUMN private_hosts text[] NOT NULL DEFAULT '{}',
    ADD COLUMN served_days integer NOT NULL DEFAULT 90, ADD COLUMN served_order integer[] NOT NULL DEFAULT '{}'`)
  await database.execute(sql`ALTER TABLE experiment ADD COLUMN split_settlement jsonb, ADD COLUMN expectation jsonb,
    ADD COLUMN purpose text NOT NULL DEFAULT 'test', ADD COLUMN served_from integer`)
  await database.execute(sql`ALTER TABLE variant ADD COLUMN audience jsonb`)
  await database.execute(sql`ALTER TABLE holdout ADD COLUMN closed_at timestamptz`)
  await database.execute(sql`
    CREATE TABLE allocation_period (site_id integer, experiment_id integer, period smallint, since timestamptz,
      weights integer[], chances float8[])`)
  await database.execute(sql`ALTER TABLE exclusion ADD COLUMN segment jsonb`)
  const { site } = await createTeam(database)
  const experimentId = await startedExperiment(
    database,
    site.id,
    Date.now() - 3_600_000,
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
  await database.execute(
    sql`ALTER TABLE site DROP COLUMN private_hosts, DROP COLUMN served_days, DROP COLUMN served_order`,
  )
  await database.execute(
    sql`ALTER TABLE experiment DROP COLUMN split_settlement, DROP COLUMN expectation, DROP COLUMN purpose, DROP COLUMN served_from`,
  )
  await database.execute(sql`ALTER TABLE variant DROP COLUMN audience`)
  await database.execute(sql`ALTER TABLE holdout DROP COLUMN closed_at`)
  await database.execute(sql`DROP TABLE allocation_period`)
  await database.execute(sql`ALTER TABLE exclusion DROP COLUMN segment`)
  await database.execute(sql`
    INSERT INTO exclusion (site_id, experiment_id, kind, network, visitor_ids, reason)
    VALUES (${site.id}, ${experimentId}, 'network', 'hash', ARRAY['a', 'b'], 'Made up.')`)
  await database.execute(sql`
    INSERT INTO crowd (site_id, experiment_id, day, network, arms, of_day)
    VALUES (${site.id}, ${experimentId}, '2026-11-20', 'hash', '[]', 100)`)
  const [rows, steps] = [await countRows(database.$client), await version()]

  // Something else holds the table that a late step changes: the upgrade stands in the middle of its work.
  const holder = await database.$client.connect()
  await holder.query('BEGIN; LOCK TABLE crowd IN ACCESS SHARE MODE')
  const broken = upgrade()
  const gone = new Promise((ended) => broken.once('exit', ended))
  const isWaiting = async () =>
    (await database.execute(sql`SELECT FROM pg_locks WHERE NOT granted AND relation = 'crowd'::regclass`)).rows.length
  await expect.poll(isWaiting, { timeout: 60_000 }).toBeGreaterThan(0)
  broken.kill('SIGKILL')
  await gone
  await holder.query('ROLLBACK')
  holder.release()
  await expect.poll(isWaiting, { timeout: 60_000 }).toBe(0)
  expect(await version()).toBe(steps)
  expect(await countRows(database.$client)).toEqual(rows)

  const again = upgrade()
  expect(await new Promise((ended) => again.once('exit', ended))).toBe(0)
  await (await openQueue(cluster.cluster.url, 'worker')).stop({ graceful: false })
  const now = await countRows(database.$client)
  expect(await version()).toBeGreaterThan(Number(steps))
  for (const [name, count] of Object.entries(rows))
    if (!name.startsWith('drizzle.')) expect([name, now[name]]).toEqual([name, count])
  const kept = await database.execute(sql`SELECT kind, crowd, visitor_ids FROM exclusion`)
  expect(kept.rows).toEqual([
    { kind: 'crowd', crowd: { day: '2026-11-20', kind: 'network', value: 'hash' }, visitor_ids: ['a', 'b'] },
  ])
  // The migrations of today say what the tables of today are: nothing was done twice, nothing left out.
  await migrate(database)
  expect(await version()).toBe(JSON.parse(readFileSync(join(MIGRATIONS, 'meta/_journal.json'), 'utf8')).entries.length)
})
