import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../server/database/connect'
import { experiment, membership, organisation, person, site } from '../../server/database/schema'
import type { EventRow } from '../../server/intake/eventRow'
import { hashPassword } from '../../server/services/accounts/password'
import { createExperiment, updateExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { foldNewEvents } from '../../server/services/results/fold'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { createSite } from '../../server/services/sites/sites'
import { copyEvents } from './copyEvents'
import { DEMO_EXPERIMENTS } from './experiments'
import { simulateHistory } from './simulateHistory'

const DAY = 24 * 60 * 60 * 1000
const DAYS = 60
const SEED = 20260401
const ROWS_AT_A_TIME = 20_000

export const DEMO_PASSWORD = 'harbor-light-42'
export const DEMO_PEOPLE = [
  { name: 'Mara Quill', email: 'mara@kittiwake.example', role: 'owner' },
  { name: 'Tobin Hale', email: 'tobin@kittiwake.example', role: 'editor' },
  { name: 'Isla Venn', email: 'isla@kittiwake.example', role: 'viewer' },
] as const

export type DemoState = 'absent' | 'complete' | 'cut short' | 'other data'

/** Whether the demo data is there. Its last step is what tells a complete load from one that was cut short. */
export async function demoState(database: Database): Promise<DemoState> {
  const [demo] = await database
    .select({ firstReportAt: site.firstReportAt })
    .from(site)
    .where(eq(site.name, 'Kittiwake Crossings'))
    .limit(1)
  if (demo) return demo.firstReportAt ? 'complete' : 'cut short'
  const [owner] = await database.select({ email: person.email }).from(person).limit(1)
  if (!owner) return 'absent'
  return owner.email === DEMO_PEOPLE[0].email ? 'cut short' : 'other data'
}

/** Takes everything out of a database. */
export async function emptyDatabase(database: Database): Promise<void> {
  await database.execute(
    sql`TRUNCATE person, organisation, membership, site, site_file, change_log, experiment, variant, edit, metric, experiment_metric, event, exposure, visitor_value, exposure_count, statistic, rate_limit RESTART IDENTITY CASCADE`,
  )
  await database.execute(
    sql`UPDATE fold_cursor SET seq = (SELECT CASE WHEN is_called THEN last_value ELSE 0 END FROM event_seq)`,
  )
}

/**
 * Loads the demo: people, the site, its experiments, and 60 days of visitors.
 *
 * @param origin - origin of the demo site
 * @param progress - told how many of how many visitors are written
 */
export async function loadDemo(
  database: Database,
  origin: string,
  visitors: number,
  now: Date,
  progress: (done: number, of: number) => void,
): Promise<void> {
  const organisationId = await addPeople(database)
  const demo = await createSite(database, organisationId, null, {
    address: origin,
    name: 'Kittiwake Crossings',
    timeZone: 'Europe/Dublin',
  })
  const experiments = await addExperiments(database, demo.id, now)

  let rows: EventRow[] = []
  let done = 0
  for (const own of simulateHistory({
    siteId: demo.id,
    origin,
    experiments,
    until: now,
    days: DAYS,
    visitors,
    seed: SEED,
  })) {
    rows.push(...own)
    done++
    if (rows.length >= ROWS_AT_A_TIME || done === visitors) {
      await copyEvents(database.$client, rows)
      rows = []
      progress(done, visitors)
    }
  }
  await foldNewEvents(database.$client, 100_000)
  await database.execute(sql`ANALYZE`)
  await compileSiteFile(database, demo.id)
  await database
    .update(site)
    .set({ firstReportAt: new Date(now.getTime() - DAYS * DAY) })
    .where(eq(site.id, demo.id))
}

async function addPeople(database: Database): Promise<number> {
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  const [made] = await database.insert(organisation).values({ name: 'Kittiwake Crossings' }).returning()
  for (const { name, email, role } of DEMO_PEOPLE) {
    const [added] = await database.insert(person).values({ name, email, passwordHash }).returning()
    await database.insert(membership).values({ organisationId: made!.id, personId: added!.id, role })
  }
  return made!.id
}

async function addExperiments(database: Database, siteId: number, now: Date) {
  const [owner] = await database.select().from(person).where(eq(person.email, DEMO_PEOPLE[0].email))
  const running = []
  for (const { name, salt, startedDaysAgo, endedDaysAgo, content } of DEMO_EXPERIMENTS) {
    const draft = await createExperiment(database, siteId, owner!.id, name)
    await updateExperiment(
      database,
      { siteId, experimentId: draft.id, personId: owner!.id },
      { version: draft.version, ...content },
    )
    const ago = (days: number | null) => (days === null ? null : new Date(now.getTime() - days * DAY))
    const startedAt = ago(startedDaysAgo)
    const endedAt = ago(endedDaysAgo)
    const state = endedAt ? 'ended' : startedAt ? 'running' : 'draft'
    await database
      .update(experiment)
      .set({ salt, startedAt, endedAt, state, createdAt: startedAt ?? now })
      .where(eq(experiment.id, draft.id))
    const { id, pageRules, share, variants } = await findSheet(database, siteId, draft.id)
    if (startedAt)
      running.push({
        id,
        salt,
        share,
        weights: variants.map((each) => each.weight),
        pages: pageRules,
        edits: [],
        from: startedAt.getTime(),
        until: endedAt?.getTime() ?? Number.POSITIVE_INFINITY,
      })
  }
  return running
}
