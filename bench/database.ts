import { readFileSync } from 'node:fs'
import { setTimeout as wait } from 'node:timers/promises'
import { eq, sql } from 'drizzle-orm'
import { Pool } from 'undici'
import { startTemporaryStack, type TemporaryStack } from '../cli/stack/temporaryStack'
import { timeOrderedId } from '../core/identity/timeOrderedId'
import { copyArrivals, copyText } from '../demo/data/copyArrivals'
import { experiment, organisation, site as siteTable } from '../server/database/schema'
import type { Arrival } from '../server/intake/writeArrivals'
import { createExperiment } from '../server/services/experiments/experiments'
import { listExperiments } from '../server/services/experiments/listExperiments'
import { findSheet } from '../server/services/experiments/sheet'
import { foldNews } from '../server/services/results/fold'
import { foldAndSummarize } from '../server/services/results/foldAndSummarize'
import { experimentResults } from '../server/services/results/results'
import { refreshSummaries } from '../server/services/results/summaries'
import { compileSiteFile } from '../server/services/sites/compileSiteFile'
import { createSite } from '../server/services/sites/sites'
import { today } from '../server/services/today'
import { watchSite } from '../server/services/watch/watchSite'
import { arrivalOf, type Happening } from '../tests/arrivals'
import { PLAN, primaryMetric } from '../tests/metrics'
import { startedExperiment } from '../tests/startedExperiment'
import { medianMilliseconds, percentile, rounded, sized, type Measurement } from './measurement'
import { DAY } from '../core/time/units'

const BATCH = 20
const CONNECTIONS = 48
const INTAKE_EVENTS = sized(120_000, 6000)
const FOLD_ROWS = sized(100_000, 2000)
const BUSY_EVENTS = sized(1_000_000, 40_000)
const EXPERIMENTS = sized(200, 5)
const VISITORS_A_COPY = 4000
const FIRST_EVENTS = sized(10_000, 100)
const PORTION = 20_000
const QUIET_ASKED = sized(1000, 150)
const WARM_UP = 100
const ASK_EVERY = 2

interface Prepared {
  stack: TemporaryStack
  site: { id: number; key: string; address: string }
  experimentId: number
}

async function prepare(): Promise<Prepared> {
  // Each visitor comes from a network of their own: what one network may send is bounded.
  process.env.NUXT_TRUSTED_PROXIES ??= '127.0.0.1'
  const stack = await startTemporaryStack([], false)
  const [owner] = await stack.database.insert(organisation).values({ name: 'Bench' }).returning()
  const site = await createSite(stack.database, owner!.id, null, { address: 'https://bench.example', name: 'Bench' })
  const experimentId = await startedExperiment(
    stack.database,
    site.id,
    Date.now() - 20 * DAY,
    primaryMetric('Booked', 'mean', { type: 'event', name: 'order' }),
  )
  return { stack, site, experimentId }
}

let made = 0

/** Visitors with an exposure in a page view, two more views, and for one in five an order: four and a half rows each. */
function visitorEvents({ site, experimentId }: Prepared, visitors: number): Arrival[] {
  const base = Date.now() - 14 * DAY
  return Array.from({ length: visitors }, (_, index) => {
    const visitor = `bench-${++made}-visitor`
    const at = (minutes: number) => base + (index % 14) * DAY + minutes * 60_000
    const happenings: Happening[] = [
      { visitor, at: at(0), type: 'exposure', experiment: experimentId, variant: index % 2 },
      { visitor, at: at(1) },
      { visitor, at: at(2) },
      ...(index % 5 < 2
        ? [{ visitor, at: at(3), type: 'custom', name: 'order', amount: 20 + (index % 50) } as const]
        : []),
    ]
    return arrivalOf(site, happenings)
  })
}

const rowsOf = (arrivals: readonly Arrival[]) =>
  arrivals.reduce((sum, { views, events }) => sum + views.length + events.length, 0)

async function copyAll({ stack }: Prepared, arrivals: readonly Arrival[]): Promise<void> {
  for (let start = 0; start < arrivals.length; start += VISITORS_A_COPY)
    await copyArrivals(stack.database.$client, copyText(arrivals.slice(start, start + VISITORS_A_COPY)))
}

/** Acknowledged events a second over HTTP, against COPY of rows that say the same. */
async function measureIntake(prepared: Prepared): Promise<Measurement> {
  const { stack, site } = prepared
  const bodies = Array.from({ length: INTAKE_EVENTS / BATCH }, (_, batch) => intakeBody(site, batch))
  const pool = new Pool(stack.url, { connections: CONNECTIONS })
  let acknowledged = 0
  const send = async ({ body, from }: Sent) => {
    const headers = {
      'x-forwarded-for': from,
      'content-type': 'text/plain;charset=UTF-8',
      origin: site.address,
      'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
    }
    const reply = await pool.request({ method: 'POST', path: '/collect', body, headers })
    acknowledged += ((await reply.body.json()) as { accepted: number }).accepted
  }
  for (const sent of bodies.splice(0, 200)) await send(sent)
  acknowledged = 0
  const start = performance.now()
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async () => {
      for (let sent = bodies.pop(); sent !== undefined; sent = bodies.pop()) await send(sent)
    }),
  )
  const perSecond = acknowledged / ((performance.now() - start) / 1000)
  await pool.close()

  const arrivals = Array.from({ length: INTAKE_EVENTS / BATCH }, (_, batch) => sameRows(site, batch))
  const copyStart = performance.now()
  await copyAll(prepared, arrivals)
  const copied = rowsOf(arrivals) / ((performance.now() - copyStart) / 1000)
  return {
    name: 'intake',
    value: Math.round(perSecond),
    unit: 'acknowledged views and events/s in batches of 20',
    reference: {
      what: 'COPY of such rows into the same indexed tables, rows/s',
      value: Math.round(copied),
      ratio: rounded(perSecond / copied),
    },
    aim: 'ratio at least 0.25',
  }
}

/** The rows that intake makes of a body. */
function sameRows(site: { id: number; address: string }, batch: number): Arrival {
  const at = Date.now() - 1000
  const click: Clicked = {
    at,
    type: 'click',
    element: CLICKED,
    label: 'Book',
    place: [100, 400],
    within: [500, 500],
  }
  return arrivalOf(site, [
    {
      visitor: visitorOf(batch),
      at,
      path: '/crossings/torrin',
      events: Array.from({ length: BATCH - 1 }, () => click),
    },
  ])
}

type Clicked = NonNullable<Happening['events']>[number]
const CLICKED =
  'body>main:nth-child(2):nth-of-type(1)>p:nth-child(3):nth-of-type(2)>a#book.button:nth-child(1):nth-of-type(1)'
const visitorOf = (batch: number) => `bench-${String(batch % 250).padStart(3, '0')}-visitor-0000`

interface Sent {
  body: string
  /** Address of the visitor. */
  from: string
}

/** A page view with 19 clicks, as the snippet sends them. */
function intakeBody({ key }: { key: string }, batch: number): Sent {
  const now = Date.now()
  const id = () => timeOrderedId(now - 1000, ++made % 4096, crypto.getRandomValues(new Uint8Array(8)))
  const view = {
    id: id(),
    visitor: visitorOf(batch),
    session: 'session-1',
    address: 'https://bench.example/crossings/torrin',
    title: 'Torrin',
    referrer: 'https://search.example',
    language: 'en-IE',
    timeZone: 'Europe/Dublin',
    screen: [390, 844],
    window: [390, 844],
  }
  const click = () => ({
    id: id(),
    view: view.id,
    type: 'click',
    element: CLICKED,
    label: 'Book',
    at: [100, 400],
    within: [500, 500],
  })
  const body = { key, sent: now, views: [view], events: Array.from({ length: BATCH - 1 }, click) }
  return { body: JSON.stringify(body), from: `198.18.0.${batch % 250}` }
}

/** Seconds to fold 100,000 new rows, against COPY of the same. */
async function measureFold(prepared: Prepared): Promise<Measurement> {
  const { database } = prepared.stack
  await foldNews(database.$client)
  const arrivals = visitorEvents(prepared, FOLD_ROWS / 4.8)
  const copyStart = performance.now()
  await copyAll(prepared, arrivals)
  const copied = (performance.now() - copyStart) / 1000
  await database.execute(sql`ANALYZE`)
  const start = performance.now()
  await foldNews(database.$client)
  const seconds = (performance.now() - start) / 1000
  return {
    name: 'fold',
    value: rounded(seconds),
    unit: `s for ${rowsOf(arrivals).toLocaleString('en-US')} new views and events`,
    reference: { what: 'COPY of the same, s', value: rounded(copied), ratio: rounded(seconds / copied) },
    aim: 'ratio at most 2',
  }
}

/** Ended long ago, some of them deleted; each with everybody who comes again. */
const ENDED_EXPERIMENTS = sized(300, 20)
const KNOWN_VISITORS = sized(200, 50)
const KNOWN_FOLDS = sized(9, 2)

/** Milliseconds to fold a view of each known visitor where many experiments have ended, against before they had been. */
async function measureFoldOfKnown(prepared: Prepared): Promise<Measurement> {
  const { stack, site, experimentId } = prepared
  const { database } = stack
  const visitors = visitorEvents(prepared, KNOWN_VISITORS)
  await copyAll(prepared, visitors)
  await foldNews(database.$client)
  const ids = visitors.map(({ views }) => views[0]!.visitorId)
  const fold = () => medianFold(prepared, ids)
  await fold()
  const without = await fold()
  const ended = sql`SELECT id FROM experiment WHERE site_id = ${site.id} AND state = 'ended'`
  await database.execute(sql`
    INSERT INTO experiment (site_id, name, state, salt, page_rules, terms, plan, started_at, ended_at, deleted_at)
    SELECT site_id, name || n, 'ended', salt || n, page_rules, terms, plan, now() - interval '90 days',
      now() - interval '60 days', CASE WHEN n % 3 = 0 THEN now() - interval '50 days' END
    FROM experiment, generate_series(1, ${ENDED_EXPERIMENTS}::int) n WHERE id = ${experimentId}`)
  await database.execute(sql`
    INSERT INTO exposure SELECT x.site_id, x.visitor_id, e.id, x.variant, now() - interval '80 days', x.event_id,
      x.view_id, x.day - 80, x.crossed, x.segments, x.left_out
    FROM exposure x, (${ended}) e WHERE x.experiment_id = ${experimentId} AND x.visitor_id = ANY(${sql.param(ids)}::text[])`)
  await database.execute(sql`
    INSERT INTO experiment_metric (site_id, experiment_id, metric_version_id, role, position)
    SELECT m.site_id, e.id, m.metric_version_id, m.role, m.position
    FROM experiment_metric m, (${ended}) e WHERE m.experiment_id = ${experimentId}`)
  await database.execute(sql`
    INSERT INTO visitor_value (site_id, visitor_id, experiment_id, metric_version_id, value, denominator)
    SELECT x.site_id, x.visitor_id, x.experiment_id, m.metric_version_id, 1, 0
    FROM exposure x JOIN experiment_metric m ON m.experiment_id = x.experiment_id JOIN (${ended}) e ON e.id = x.experiment_id`)
  await database.execute(sql`ANALYZE`)
  await fold()
  const withMany = await fold()
  return {
    name: 'fold, known visitors',
    value: rounded(withMany, 3),
    unit: `ms for ${KNOWN_VISITORS} views of known visitors where ${ENDED_EXPERIMENTS} experiments have ended`,
    reference: { what: 'the same before', value: rounded(without, 3), ratio: rounded(withMany / without, 3) },
    aim: 'ratio at most 1.2',
  }
}

/** Milliseconds to fold one more view of each visitor, the median of some. */
async function medianFold({ stack, site }: Prepared, visitors: readonly string[]): Promise<number> {
  const times: number[] = []
  for (let fold = 0; fold < KNOWN_FOLDS; fold++) {
    const at = Date.now() - 60_000
    const arrivals = visitors.map((visitor) => arrivalOf(site, [{ visitor, at }]))
    await copyArrivals(stack.database.$client, copyText(arrivals))
    const start = performance.now()
    await foldNews(stack.database.$client)
    times.push(performance.now() - start)
  }
  return percentile(times, 0.5)
}

const FOLDS_OF_RULE = sized(41, 3)

/** Milliseconds to fold and summarize some new visitors where the plan takes looks of its own, against where it does not. */
async function measureFoldWithLooks(prepared: Prepared): Promise<Measurement> {
  const { stack, experimentId } = prepared
  const { database } = stack
  const times: Record<'sequential' | 'spending', number[]> = { sequential: [], spending: [] }
  // One after the other, so that what else the machine does meets both.
  for (let turn = -2; turn < FOLDS_OF_RULE; turn++)
    for (const rule of ['sequential', 'spending'] as const) {
      await database
        .update(experiment)
        .set({ plan: { ...PLAN, rule, plannedVisitors: 1_000_000 } })
        .where(eq(experiment.id, experimentId))
      await copyAll(prepared, visitorEvents(prepared, KNOWN_VISITORS))
      const start = performance.now()
      await foldAndSummarize(database)
      // The first turns take the look that is due: one a day.
      if (turn >= 0) times[rule].push(performance.now() - start)
    }
  const [without, withLooks] = [percentile(times.sequential, 0.5), percentile(times.spending, 0.5)]
  return {
    name: 'fold, planned looks',
    value: rounded(withLooks, 3),
    unit: `ms to fold and summarize ${KNOWN_VISITORS} new visitors of a plan that takes looks of its own`,
    reference: { what: 'the same without', value: rounded(without, 3), ratio: rounded(withLooks / without, 3) },
    aim: 'ratio at most 1.1',
  }
}

const RUNNING_EXPERIMENTS = sized(300, 10)
const SITE_FILE_REQUESTS = sized(3000, 200)

/** CPU of the edge for a request of the script, with very many experiments in it, against one that nobody knows. */
async function measureSiteFile({ stack, site, experimentId }: Prepared): Promise<Measurement> {
  const { database } = stack
  const own = await createSite(database, await organisationOf(stack, site.id), null, {
    address: 'https://many.example',
    name: 'Many',
  })
  await database.execute(sql`
    INSERT INTO experiment (site_id, name, state, salt, page_rules, terms, plan, started_at)
    SELECT ${own.id}, name || n, 'running', salt || n, page_rules, terms, plan, now()
    FROM experiment, generate_series(1, ${RUNNING_EXPERIMENTS}::int) n WHERE id = ${experimentId}`)
  await database.execute(sql`
    INSERT INTO variant (site_id, experiment_id, id, position, name, weight)
    SELECT e.site_id, e.id, v.id, v.position, v.name, v.weight
    FROM variant v, experiment e WHERE v.experiment_id = ${experimentId} AND e.site_id = ${own.id}`)
  await compileSiteFile(database, own.id)
  const script = await edgeCpu(stack, `/s/${own.key}.js`)
  const nothing = await edgeCpu(stack, '/s/nobody.js')
  return {
    name: 'site-file',
    value: rounded(script, 3),
    unit: `ms of CPU of the edge for a request of the script with ${RUNNING_EXPERIMENTS} experiments`,
    reference: {
      what: 'the same for a key that nobody has',
      value: rounded(nothing, 3),
      ratio: rounded(script / nothing, 3),
    },
    aim: 'under 1 ms',
    details: { claim: 'a request of a script with many experiments costs under 1 ms of CPU', holds: script < 1 },
  }
}

async function organisationOf({ database }: TemporaryStack, siteId: number): Promise<number> {
  const [found] = await database
    .select({ id: siteTable.organisationId })
    .from(siteTable)
    .where(eq(siteTable.id, siteId))
  return found!.id
}

/** Milliseconds of CPU that the edge takes for a request, without that of the gateway. */
async function edgeCpu(stack: TemporaryStack, path: string): Promise<number> {
  const pool = new Pool(`http://127.0.0.1:${stack.portOf('edge')}`, { connections: 8 })
  const ask = async () => {
    const reply = await pool.request({ method: 'GET', path, headers: { 'accept-encoding': 'br' } })
    await reply.body.arrayBuffer()
  }
  for (let asked = 0; asked < WARM_UP; asked++) await ask()
  // The script is compressed as well as it can be meanwhile: once a version.
  await wait(sized(4000, 100))
  const before = cpuOf(stack, 'edge')
  for (let asked = 0; asked < SITE_FILE_REQUESTS; asked += 8) await Promise.all(Array.from({ length: 8 }, ask))
  const cost = (cpuOf(stack, 'edge') - before) / SITE_FILE_REQUESTS
  await pool.close()
  return cost
}

/** Milliseconds of CPU that a process has taken so far, in hundredths of a second as Linux counts them. */
function cpuOf(stack: TemporaryStack, name: string): number {
  const fields = readFileSync(`/proc/${stack.current(name).pid}/stat`, 'utf8')
    .split(') ')[1]!
    .split(' ')
  return (Number(fields[11]) + Number(fields[12])) * 10
}

/** Milliseconds in which nearly all snippets are answered while the worker folds, against a worker that has nothing to do. */
async function measureServing(prepared: Prepared): Promise<Measurement> {
  const { stack, site } = prepared
  const { database } = stack
  stack.start('worker')
  const isFolded = async () => {
    const { rows } = await database.execute<{ left: number }>(sql`
      SELECT (SELECT max(seq) FROM page_view) - coalesce((SELECT seq FROM fold_cursor WHERE site_id = ${site.id}), 0) AS left`)
    return Number(rows[0]?.left ?? 0) <= 0
  }
  const pool = new Pool(stack.url, { connections: 1 })
  const times: number[] = []
  const ask = async () => {
    const start = performance.now()
    const reply = await pool.request({ method: 'GET', path: `/s/${site.key}.js` })
    await reply.body.dump()
    times.push(performance.now() - start)
    await wait(ASK_EVERY)
  }
  for (let asked = 0; asked < QUIET_ASKED; asked++) await ask()
  const quiet = percentile(times.splice(0).slice(WARM_UP), 0.99)
  await copyAll(prepared, visitorEvents(prepared, FOLD_ROWS / 4.8))
  while (times.length < QUIET_ASKED || !(await isFolded())) await ask()
  await pool.close()
  const busy = percentile(times, 0.99)
  return {
    name: 'serve',
    value: rounded(busy, 3),
    unit: `ms in which 99 % of snippets are answered while the worker folds ${FOLD_ROWS.toLocaleString('en-US')} rows`,
    reference: {
      what: 'the same while it has nothing to fold, ms',
      value: rounded(quiet, 3),
      ratio: rounded(busy / quiet, 3),
    },
    details: { asked: times.length, median: rounded(percentile(times, 0.5), 3) },
  }
}

/** Milliseconds to fold one new event of a visitor with very many, against one of a visitor with few. */
async function measureBusyVisitor(prepared: Prepared): Promise<Measurement> {
  const { stack, site, experimentId } = prepared
  const { database } = stack
  const at = Date.now() - 3_600_000
  const exposed = (visitor: string): Happening => ({
    visitor,
    at: at - 1000,
    type: 'exposure',
    experiment: experimentId,
    variant: 0,
  })
  const one = (visitor: string) =>
    arrivalOf(site, [{ visitor, at: at + ++made, type: 'custom', name: 'order', amount: 5 }])
  await copyAll(prepared, [arrivalOf(site, [exposed('quiet-visitor'), exposed('busy-visitor')])])
  await foldNews(database.$client)
  for (let portion = 0; portion < BUSY_EVENTS / PORTION; portion++) {
    const happenings = Array.from({ length: PORTION / 2 }, (): Happening => ({
      visitor: 'busy-visitor',
      at: at + portion,
      type: 'custom',
      name: 'order',
      amount: 1,
    }))
    await copyAll(prepared, [arrivalOf(site, happenings)])
    await foldNews(database.$client)
  }
  const fold = (visitor: string) =>
    medianMilliseconds(15, async () => {
      await copyAll(prepared, [one(visitor)])
      await foldNews(database.$client)
    })
  const [busy, quiet] = [await fold('busy-visitor'), await fold('quiet-visitor')]
  return {
    name: 'busy-visitor',
    value: rounded(busy, 3),
    unit: `ms to write and fold one event of a visitor with ${BUSY_EVENTS.toLocaleString('en-US')}`,
    reference: {
      what: 'the same of a visitor with a handful, ms',
      value: rounded(quiet, 3),
      ratio: rounded(busy / quiet, 3),
    },
    aim: 'ratio about 1',
  }
}

/** Milliseconds for the list of experiments and for Today, with 200 experiments that have run. */
async function measureLists({ stack: { database }, site }: Prepared): Promise<Measurement[]> {
  const ids: number[] = []
  for (let index = 0; index < EXPERIMENTS; index++) {
    const { id } = await createExperiment(database, site.id, null, `Experiment ${index}`)
    ids.push(id)
  }
  await database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(Date.now() - 9 * DAY), plan: PLAN })
    .where(eq(experiment.siteId, site.id))
  await refreshSummaries(database, site.id, ids, new Date())
  await database.execute(sql`ANALYZE`)
  const one = await medianMilliseconds(31, () => database.execute(sql`SELECT 1`))
  const list = await medianMilliseconds(31, () => listExperiments(database, site.id, { limit: 200 }))
  const items = await medianMilliseconds(31, () => today(database, site.id, new Date()))
  const beside = (name: string, value: number): Measurement => ({
    name,
    value: rounded(value, 3),
    unit: `ms with ${EXPERIMENTS} experiments`,
    reference: {
      what: 'SELECT 1 over the same connection, ms',
      value: rounded(one, 3),
      ratio: rounded(value / one, 3),
    },
    aim: 'under 30 ms',
  })
  return [beside('list', list), beside('today', items), await measureWatch(database, site.id, ids, one)]
}

/** Milliseconds for a look of the watch at 200 running experiments, with the sums of forty days and of 192 hours. */
async function measureWatch(
  database: TemporaryStack['database'],
  siteId: number,
  ids: readonly number[],
  one: number,
): Promise<Measurement> {
  const now = new Date()
  const all = sql.param([...ids])
  await database.execute(sql`
    INSERT INTO experiment_metric (site_id, experiment_id, metric_version_id, role, direction, position)
    SELECT site_id, x, metric_version_id, role, direction, position FROM experiment_metric m, unnest(${all}::int[]) AS x
    WHERE m.site_id = ${siteId} AND m.experiment_id <> ALL(${all}::int[]) ON CONFLICT DO NOTHING`)
  await database.execute(sql`
    INSERT INTO exposure_count (site_id, experiment_id, variant, dimension, value, visitors)
    SELECT ${siteId}, x, v, 'day', d::text, 100 FROM unnest(${all}::int[]) AS x, generate_series(0, 1) AS v,
      generate_series(1, 40) AS d ON CONFLICT DO NOTHING`)
  await database.execute(sql`
    INSERT INTO statistic (site_id, experiment_id, metric_version_id, variant, dimension, value, has_past, visitors, active)
    SELECT c.site_id, c.experiment_id, m.metric_version_id, c.variant, 'day', c.value, false, 20, 20
    FROM exposure_count c JOIN experiment_metric m ON m.site_id = c.site_id AND m.experiment_id = c.experiment_id
    WHERE c.site_id = ${siteId} AND c.experiment_id = ANY(${all}::int[]) ON CONFLICT DO NOTHING`)
  await database.execute(sql`
    INSERT INTO watched_hour (site_id, experiment_id, hour, counts)
    SELECT ${siteId}, x, date_trunc('hour', now()) - h * interval '1 hour',
      jsonb_build_object('visitors', jsonb_build_array(4000 - 10 * h, 4000 - 10 * h),
        'active', jsonb_build_object('1', jsonb_build_array(800 - 2 * h, 800 - 2 * h)))
    FROM unnest(${all}::int[]) AS x, generate_series(1, 192) AS h`)
  await database.execute(sql`ANALYZE`)
  await watchSite(database, siteId, now, null)
  const value = await medianMilliseconds(11, () => watchSite(database, siteId, now, null))
  return {
    name: 'watch',
    value: rounded(value, 3),
    unit: `ms for a look at ${EXPERIMENTS} running experiments, all of it`,
    reference: {
      what: 'SELECT 1 over the same connection, ms',
      value: rounded(one, 3),
      ratio: rounded(value / one, 3),
    },
    aim: 'under 1,000 ms of the database',
  }
}

/** Milliseconds for the sheet's numbers at 1×, 10× and 100× events. */
async function measureResults(prepared: Prepared): Promise<Measurement[]> {
  const { stack, site, experimentId } = prepared
  const sheet = await findSheet(stack.database, site.id, experimentId)
  const measurements: Measurement[] = []
  let events = 0
  let first: number | undefined
  for (const times of [1, 10, 100]) {
    for (; events < FIRST_EVENTS * times; events += Math.min(PORTION, FIRST_EVENTS * times - events)) {
      await copyAll(prepared, visitorEvents(prepared, Math.min(PORTION, FIRST_EVENTS * times - events) / 5))
    }
    await foldNews(stack.database.$client)
    await stack.database.execute(sql`ANALYZE`)
    const read = () => experimentResults(stack.database, sheet, new Date())
    await medianMilliseconds(20, read)
    const value = await medianMilliseconds(101, read)
    first ??= value
    measurements.push({
      name: 'results',
      value: rounded(value, 3),
      unit: `ms at ${(FIRST_EVENTS * times).toLocaleString('en-US')} events`,
      reference: { what: 'the same at 10,000 events', value: rounded(first, 3), ratio: rounded(value / first, 3) },
      aim: 'ratio about 1',
    })
  }
  return measurements
}

/** Everything that needs a database; the application does not fold beside the measurements of the fold. */
export async function measureDatabase(names: ReadonlySet<string>): Promise<Measurement[]> {
  const measurements: Measurement[] = []
  const each = async (name: string, measure: (prepared: Prepared) => Promise<Measurement | Measurement[]>) => {
    if (!names.has(name)) return
    const prepared = await prepare()
    try {
      measurements.push(...[await measure(prepared)].flat())
    } finally {
      await prepared.stack.stop()
    }
  }
  await each('intake', measureIntake)
  await each('fold', measureFold)
  await each('fold-known', measureFoldOfKnown)
  await each('fold-looks', measureFoldWithLooks)
  await each('site-file', measureSiteFile)
  await each('serve', measureServing)
  await each('busy-visitor', measureBusyVisitor)
  await each('list', measureLists)
  await each('results', measureResults)
  return measurements
}
