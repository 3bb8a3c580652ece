import { randomUUID } from 'node:crypto'
import { eq, sql } from 'drizzle-orm'
import { Pool } from 'undici'
import { startTemporaryStack, type TemporaryStack } from '../cli/stack/temporaryStack'
import { copyEvents } from '../demo/data/copyEvents'
import { experiment, organisation } from '../server/database/schema'
import type { EventRow } from '../server/intake/eventRow'
import { createExperiment, updateExperiment } from '../server/services/experiments/experiments'
import { findSheet } from '../server/services/experiments/sheet'
import { foldNewEvents } from '../server/services/results/fold'
import { experimentResults } from '../server/services/results/results'
import { createSite } from '../server/services/sites/sites'
import { medianMilliseconds, rounded, type Measurement } from './measurement'

const BATCH = 20
const CONNECTIONS = 48
const INTAKE_EVENTS = 120_000
const FOLD_EVENTS = 100_000
const FIRST_EVENTS = 10_000
const PORTION = 20_000

interface Prepared {
  stack: TemporaryStack
  site: { id: number; key: string; address: string }
  experimentId: number
}

async function prepare(): Promise<Prepared> {
  const stack = await startTemporaryStack()
  const [owner] = await stack.database.insert(organisation).values({ name: 'Bench' }).returning()
  const site = await createSite(stack.database, owner!.id, null, { address: 'https://bench.example', name: 'Bench' })
  const draft = await createExperiment(stack.database, site.id, null, 'Bench')
  await updateExperiment(
    stack.database,
    { siteId: site.id, experimentId: draft.id, personId: null },
    {
      version: 1,
      metrics: [
        {
          name: 'Booked',
          kind: 'mean',
          direction: 'up',
          source: { type: 'event', name: 'order' },
          denominator: null,
          role: 'primary',
          limit: null,
        },
      ],
    },
  )
  await stack.database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(Date.now() - 20 * 24 * 3_600_000) })
    .where(eq(experiment.id, draft.id))
  return { stack, site, experimentId: draft.id }
}

/** Visitors with an exposure, page views and for one in ten an order: five events each. */
function visitorEvents({ site, experimentId }: Prepared, visitors: number): EventRow[] {
  const base = Date.now() - 14 * 24 * 3_600_000
  return Array.from({ length: visitors }, (_, index) => {
    const visitorId = randomUUID()
    const row = (offset: number, changes: Partial<EventRow>): EventRow => {
      const at = new Date(base + (index % 14) * 24 * 3_600_000 + offset * 60_000)
      return {
        siteId: site.id,
        visitorId,
        id: randomUUID(),
        madeAt: at,
        type: 'page',
        occurredAt: at,
        receivedAt: at,
        sessionId: 'bench',
        address: 'https://bench.example/',
        experimentId: null,
        variant: null,
        selectors: null,
        name: null,
        amount: null,
        currency: null,
        properties: null,
        ...changes,
      }
    }
    const last = index % 10 === 0 ? row(4, { type: 'custom', name: 'order', amount: 20 + (index % 50) }) : row(4, {})
    return [row(0, { type: 'exposure', experimentId, variant: index % 2 }), row(0, {}), row(1, {}), row(2, {}), last]
  }).flat()
}

async function copyAll({ stack }: Prepared, rows: readonly EventRow[]): Promise<void> {
  for (let start = 0; start < rows.length; start += PORTION)
    await copyEvents(stack.database.$client, rows.slice(start, start + PORTION))
}

/** Acknowledged events a second over HTTP, against COPY of as many rows into the same table. */
async function measureIntake(prepared: Prepared): Promise<Measurement> {
  const { stack, site } = prepared
  const bodies = Array.from({ length: INTAKE_EVENTS / BATCH }, (_, batch) => {
    const events = Array.from({ length: BATCH }, () => ({
      id: randomUUID(),
      type: 'page',
      at: Date.now(),
      address: 'https://bench.example/crossings/torrin',
      properties: { referrer: 'https://search.example/', language: 'en-IE', width: 390, height: 844 },
    }))
    return JSON.stringify({
      key: site.key,
      visitor: `bench-${batch % 5000}-visitor`,
      session: 'session-1',
      sent: Date.now(),
      events,
    })
  })
  const pool = new Pool(stack.url, { connections: CONNECTIONS })
  let acknowledged = 0
  const send = async (body: string) => {
    const reply = await pool.request({
      method: 'POST',
      path: '/collect',
      body,
      headers: { 'content-type': 'text/plain;charset=UTF-8', origin: site.address },
    })
    const answer = (await reply.body.json()) as { accepted: number }
    acknowledged += answer.accepted
  }
  for (const body of bodies.splice(0, 200)) await send(body)
  acknowledged = 0
  const start = performance.now()
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async () => {
      for (let body = bodies.pop(); body !== undefined; body = bodies.pop()) await send(body)
    }),
  )
  const perSecond = acknowledged / ((performance.now() - start) / 1000)
  await pool.close()

  const rows = visitorEvents(prepared, INTAKE_EVENTS / 5).map((row) => ({
    ...row,
    type: 'page',
    experimentId: null,
    variant: null,
    properties: { referrer: 'https://search.example/', language: 'en-IE', width: 390, height: 844 },
  }))
  const copyStart = performance.now()
  await copyAll(prepared, rows)
  const copied = rows.length / ((performance.now() - copyStart) / 1000)
  return {
    name: 'intake',
    value: Math.round(perSecond),
    unit: 'acknowledged events/s in batches of 20',
    reference: {
      what: 'COPY of as many rows into the same indexed table, rows/s',
      value: Math.round(copied),
      ratio: rounded(perSecond / copied),
    },
    aim: 'ratio at least 0.1',
  }
}

/** Seconds to fold 100,000 new events, against COPY of the same. */
async function measureFold(prepared: Prepared): Promise<Measurement> {
  const { database } = prepared.stack
  await foldNewEvents(database.$client)
  const rows = visitorEvents(prepared, FOLD_EVENTS / 5)
  const copyStart = performance.now()
  await copyAll(prepared, rows)
  const copied = (performance.now() - copyStart) / 1000
  const start = performance.now()
  await foldNewEvents(database.$client)
  const seconds = (performance.now() - start) / 1000
  return {
    name: 'fold',
    value: rounded(seconds),
    unit: 's for 100,000 new events',
    reference: { what: 'COPY of the same events, s', value: rounded(copied), ratio: rounded(seconds / copied) },
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
    await foldNewEvents(stack.database.$client)
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
      if (name !== 'intake') prepared.stack.application().kill('SIGKILL')
      measurements.push(...[await measure(prepared)].flat())
    } finally {
      await prepared.stack.stop()
    }
  }
  await each('intake', measureIntake)
  await each('fold', measureFold)
  await each('results', measureResults)
  return measurements
}
