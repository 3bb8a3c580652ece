import { finished } from 'node:stream/promises'
import { to as copyTo } from 'pg-copy-streams'
import { startTemporaryStack, type TemporaryStack } from '../cli/stack/temporaryStack'
import type { Group } from '../core/targeting/condition'
import { replayVisitor } from '../core/targeting/replay'
import { copyArrivals, copyText } from '../demo/data/copyArrivals'
import type { Database } from '../server/database/connect'
import { organisation } from '../server/database/schema'
import { pastOfVisitors } from '../server/services/audiences/pastOfVisitors'
import { fillSheet } from '../server/services/experiments/changeSheet'
import { createExperiment } from '../server/services/experiments/experiments'
import { keptTraffic } from '../server/services/experiments/keptTraffic'
import { lookAtTraffic } from '../server/services/experiments/lookAtTraffic'
import { preflightReport } from '../server/services/experiments/preflightReport'
import { createSite } from '../server/services/sites/sites'
import type { ExperimentSheet } from '../shared/experiments/replies'
import { arrivalOf, type Happening } from '../tests/arrivals'
import { primaryMetric } from '../tests/metrics'
import { onEmptyPages } from '../tests/triedPages'
import { medianMilliseconds, percentile, rounded, sized, type Measurement } from './measurement'
import { DAY } from '../core/time/units'

const VISITORS = sized(250_000, 2000)
const VIEWS_EACH = 4
const TURNS = sized(3, 1)
const VISITORS_AT_A_TIME = 10_000
const DEVICES = ['phone', 'desktop', 'tablet']

/** Five conditions, of which some are asked of what was done before. */
const AUDIENCE: Group = {
  join: 'all',
  of: [
    { fact: 'device', is: 'oneOf', texts: ['phone', 'tablet'] },
    { fact: 'country', is: 'oneOf', texts: ['IE', 'GB'] },
    { fact: 'seen', page: { match: 'begins', value: '/page-1' }, is: 'least', number: 1 },
    { fact: 'sourceKind', is: 'oneOf', texts: ['direct', 'search'] },
    { join: 'none', of: [{ fact: 'visits', is: 'least', number: 10 }] },
  ],
}

/** An audience replayed over a million page views, against reading the same rows and doing nothing with them. */
export async function measureAudienceSize(): Promise<Measurement[]> {
  const stack = await startTemporaryStack([], false)
  try {
    const [owner] = await stack.database.insert(organisation).values({ name: 'Bench' }).returning()
    const site = await createSite(stack.database, owner!.id, null, { address: 'https://bench.example', name: 'Bench' })
    const visitors = await fill(stack, site)
    await stack.database.$client.query('ANALYZE page_view')
    // Once to warm up: what is measured is reading and deciding, not the disk.
    await copyOut(stack, site.id)
    const times = { copying: [] as number[], replaying: [] as number[] }
    let inside = 0
    // By turns: a machine that slows down slows both.
    for (let turn = 0; turn < TURNS; turn++) {
      times.copying.push(await milliseconds(() => copyOut(stack, site.id)))
      inside = 0
      const replay = async () => {
        for await (const [, past] of pastOfVisitors(stack.database, site.id, visitors, AUDIENCE, () => true))
          if (replayVisitor(AUDIENCE, past).entered) inside++
      }
      times.replaying.push(await milliseconds(replay))
    }
    const [copying, replaying] = [percentile(times.copying, 0.5), percentile(times.replaying, 0.5)]
    if (inside === 0 || inside === visitors.length) throw new Error('The audience tells nobody apart.')
    return [
      {
        name: 'audience-size',
        value: rounded(replaying / 1000),
        unit: `s to replay an audience of five conditions over ${(VISITORS * VIEWS_EACH).toLocaleString('en-US')} page views`,
        reference: {
          what: 'COPY of the same rows',
          value: rounded(copying / 1000),
          ratio: rounded(replaying / copying),
        },
        aim: 'ratio at most 5',
        details: { visitors: visitors.length, inside },
      },
      await measurePreflight(stack.database, site.id),
    ]
  } finally {
    await stack.stop()
  }
}

/** Looking again at a draft on one of thirty pages, as after each change of its sheet, against the first look. */
async function measurePreflight(database: Database, siteId: number): Promise<Measurement> {
  const { id } = await createExperiment(database, siteId, null, 'Looked at')
  await fillSheet(
    database,
    { siteId, experimentId: id, personId: null },
    {
      pageRules: [{ match: 'exact', value: '/page-1' }],
      metrics: [primaryMetric('Seen', 'conversion', { type: 'visit', page: { match: 'exact', value: '/page-2' } })],
    },
  )
  const past = keptTraffic()
  const look = (sheet: ExperimentSheet, now: Date) => lookAtTraffic(database, sheet, now, past)
  const preflight = async () => {
    await preflightReport(database, siteId, id, new Date(), { tryPage: onEmptyPages, look })
  }
  const first = await milliseconds(preflight)
  const again = await medianMilliseconds(9, preflight)
  return {
    name: 'preflight',
    value: rounded(again, 3),
    unit: `ms to look at a draft again, of a site with ${(VISITORS * VIEWS_EACH).toLocaleString('en-US')} page views in four weeks`,
    reference: { what: 'the first look, ms', value: rounded(first, 3), ratio: rounded(again / first, 3) },
    aim: 'under 1,000 ms',
    details: { claim: 'a draft is looked at again in under a second', holds: again < 1000 },
  }
}

async function fill({ database }: TemporaryStack, site: { id: number; address: string }): Promise<string[]> {
  const names: string[] = []
  const base = Date.now() - 20 * DAY
  for (let start = 0; start < VISITORS; start += VISITORS_AT_A_TIME) {
    const happenings: Happening[] = []
    for (let index = start; index < start + VISITORS_AT_A_TIME; index++) {
      const visitor = `bench-${index}`
      names.push(visitor)
      for (let view = 0; view < VIEWS_EACH; view++)
        happenings.push({
          visitor,
          at: base + (index % 15) * DAY + view * 60_000,
          path: `/page-${(index + view) % 30}`,
          view: { device: DEVICES[index % 3], country: index % 2 ? 'IE' : 'DE' },
        })
    }
    await copyArrivals(database.$client, copyText([arrivalOf(site, happenings)]))
  }
  return names
}

/** The columns that a replay reads, by COPY, and nothing done with them. */
async function copyOut({ database }: TemporaryStack, siteId: number): Promise<void> {
  const client = await database.$client.connect()
  try {
    const rows = client.query(
      copyTo(`COPY (SELECT visitor_id, id, session_id, occurred_at, address, visit, referrer_host, device, system, browser,
        browser_version, language, time_zone, country, region, city, screen_width, attributes
        FROM page_view WHERE site_id = ${siteId}) TO STDOUT`),
    )
    await finished(rows.resume())
  } finally {
    client.release()
  }
}

async function milliseconds(work: () => Promise<void>): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}
