import { sql } from 'drizzle-orm'
import { chromium } from '@playwright/test'
import { browserProgram } from '../cli/stack/browser'
import { freePort } from '../cli/stack/ports'
import { connect } from '../server/database/connect'
import { startTemporaryStack, type TemporaryStack } from '../cli/stack/temporaryStack'
import { CELLS, clickMap } from '../core/evidence/clickMap'
import { clickDensity, contourLevels } from '../core/evidence/clickDensity'
import { funnelReport, type FunnelPlan } from '../core/evidence/funnel'
import { pageReport } from '../core/evidence/pageReport'
import { selectSessions } from '../core/evidence/selection'
import { Visits, within, type Step } from '../core/evidence/visits'
import { createRandom } from '../demo/visitors/random'
import { createDemoSite } from '../demo/site/server'
import { organisation } from '../server/database/schema'
import { updateCollection } from '../server/services/collection/collection'
import { createSite } from '../server/services/sites/sites'
import { EVERYWHERE } from '../shared/collection/collection'
import { scriptLine } from '../shared/delivery/scriptLine'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'
import { DAY } from '../core/time/units'

const DAYS = 90
const START = Date.UTC(2026, 0, 1)
const ALL = { from: START, until: START + DAYS * DAY, segment: [], page: null }
const MOMENTS = Array.from({ length: DAYS + 1 }, (_, day) => START + day * DAY)
const PAGES = 200
const VIEWS = sized(10_000_000, 20_000)
const VIEWS_A_SESSION = 5
const CIRCUMSTANCES = [
  'phone',
  'Chrome',
  'Android',
  'IE',
  null,
  null,
  'en',
  'direct',
  null,
  null,
  null,
  null,
  null,
  'new',
]

/** So many page views of 90 days, five a session, and a session or two a visitor. */
function manyViews(): Visits {
  const visits = new Visits('site.example')
  const random = createRandom(5)
  const step: Step = {
    visitor: '',
    session: '',
    at: 0,
    kind: 'page',
    address: '',
    circumstances: CIRCUMSTANCES,
    windowWidth: 390,
  }
  for (let session = 0; session < VIEWS / VIEWS_A_SESSION; session++) {
    step.visitor = `visitor-${Math.floor(session / 1.5)}`
    step.session = `s${session}`
    step.at = START + Math.floor((session / (VIEWS / VIEWS_A_SESSION)) * DAYS * DAY)
    for (let view = 0; view < VIEWS_A_SESSION; view++) {
      step.at += 20_000
      step.address = `https://site.example/page-${Math.floor(random.uniform() ** 2 * PAGES)}`
      visits.add(step)
    }
  }
  visits.blocks()
  return visits
}

const PLAN: FunnelPlan = {
  steps: ['/page-0', '/page-1', '/page-2'].map((value) => ({ type: 'visit', page: { match: 'exact', value } })),

  isStrict: false,
  limit: null,
  isWithinSession: true,
}

/** The same views in PostgreSQL, in the table that they come in. */
async function viewsInDatabase({ database, cluster }: TemporaryStack): Promise<void> {
  await database.execute(sql`SET synchronous_commit = off`)
  await database.execute(sql`
    CREATE TABLE bench_view WITH (autovacuum_enabled = false) AS
    SELECT 'visitor-' || (s / 1.5)::int AS visitor_id, 's' || s AS session_id,
      to_timestamp(${START / 1000} + s * ${(DAYS * 86_400) / (VIEWS / VIEWS_A_SESSION)}::float8 + v * 20) AS occurred_at,
      'https://site.example/page-' || floor(power(random(), 2) * ${PAGES})::int AS address
    FROM generate_series(0, ${VIEWS / VIEWS_A_SESSION - 1}) s CROSS JOIN generate_series(1, ${VIEWS_A_SESSION}) v`)
  await database.execute(sql`ANALYZE bench_view`)
  // What the database still has to write would be measured with the reports.
  const admin = connect(cluster.adminUrl, 1)
  await admin.execute(sql`CHECKPOINT`)
  await admin.$client.end()
}

const PLAIN_PAGES = sql`
  SELECT address, count(*), count(DISTINCT visitor_id), count(DISTINCT session_id) FROM bench_view GROUP BY 1`
const PLAIN_FUNNEL = sql`
  WITH first AS (SELECT session_id, min(occurred_at) AS at FROM bench_view WHERE address = 'https://site.example/page-0' GROUP BY 1),
  second AS (SELECT v.session_id, min(v.occurred_at) AS at FROM bench_view v JOIN first f USING (session_id)
    WHERE v.address = 'https://site.example/page-1' AND v.occurred_at > f.at GROUP BY 1),
  third AS (SELECT v.session_id, min(v.occurred_at) AS at FROM bench_view v JOIN second s USING (session_id)
    WHERE v.address = 'https://site.example/page-2' AND v.occurred_at > s.at GROUP BY 1)
  SELECT (SELECT count(*) FROM first), (SELECT count(*) FROM second), (SELECT count(*) FROM third)`

/** Reports over ten million views in memory, each beside the same in plain SQL. */
export async function measureReports(names: ReadonlySet<string>): Promise<Measurement[]> {
  const stack = await startTemporaryStack([])
  const measurements: Measurement[] = []
  try {
    await viewsInDatabase(stack)
    const visits = manyViews()
    const selected = selectSessions(visits, ALL)
    const beside = async (
      name: string,
      unit: string,
      aim: string,
      report: () => unknown,
      plain: typeof PLAIN_PAGES,
    ) => {
      if (!names.has(name)) return
      report()
      const value = await medianMilliseconds(5, report)
      const reference = await medianMilliseconds(3, () => stack.database.execute(plain))
      measurements.push({
        name,
        value: rounded(value),
        unit,
        aim,
        reference: {
          what: 'the same in plain SQL over one table, ms',
          value: rounded(reference),
          ratio: rounded(value / reference),
        },
      })
    }
    const million = `${VIEWS / 1e6} million page views of ${DAYS} days`
    await beside(
      'pages',
      `ms for the figures of all pages over ${million}`,
      'under 300 ms',
      () => pageReport(visits, selected, MOMENTS, null),
      PLAIN_PAGES,
    )
    await beside(
      'funnel',
      `ms for three steps over ${million}`,
      'under 2,000 ms, at most half of plain SQL',
      () => funnelReport(visits, selected, PLAN, MOMENTS),
      PLAIN_FUNNEL,
    )
  } finally {
    await stack.stop()
  }
  return measurements
}

/** Clicks on sixty elements of a page. */
function manyClicks(count: number): Visits {
  const visits = new Visits('site.example')
  const random = createRandom(6)
  const page: Step = {
    visitor: '',
    session: 's',
    at: 0,
    kind: 'page',
    address: 'https://site.example/',
    circumstances: CIRCUMSTANCES,
    windowWidth: 390,
  }
  const click: Step = { visitor: '', session: 's', at: 0, kind: 'click', address: page.address }
  for (let index = 0; index < count; index++) {
    page.visitor = click.visitor = `visitor-${Math.floor(index / 5)}`
    page.at = click.at = START + index
    if (index % 5 === 0) visits.add(page)
    click.element = `body>main>div:nth-child(${1 + Math.floor(random.uniform() * 60)})`
    click.detail = within(Math.floor(random.uniform() * 1000), Math.floor(random.uniform() * 1000))
    visits.add(click)
  }
  visits.blocks()
  return visits
}

/** Milliseconds from the question to the first picture: counted by element, spread over the page, levels of its lines. */
export async function measureHeatmap(): Promise<Measurement[]> {
  const boxes = Array.from({ length: 60 }, (_, index) => ({
    x: (index % 3) * 120,
    y: Math.floor(index / 3) * 100,
    width: 110,
    height: 60,
  }))
  const measurements: Measurement[] = []
  let first: number | undefined
  for (const clicks of [1e4, 1e5, 1e6].slice(0, sized(3, 1))) {
    const visits = manyClicks(clicks)
    const count = () =>
      clickMap(visits, selectSessions(visits, ALL), { match: 'exact', value: '/' }, 'click', { from: 0, until: 600 })
    const map = count()
    const server = await medianMilliseconds(5, count)
    const picture = await medianMilliseconds(5, () => {
      contourLevels(clickDensity(map.elements, boxes, { width: 390, height: 2400 }), 7)
    })
    if (map.clicks !== clicks || map.elements[0]!.cells.length > CELLS * CELLS)
      throw new Error('The clicks were not counted.')
    first ??= server + picture
    measurements.push({
      name: 'heatmap',
      value: rounded(server + picture),
      unit: `ms at ${clicks.toLocaleString('en-US')} clicks`,
      reference: {
        what: 'the same at 10,000 clicks',
        value: rounded(first),
        ratio: rounded((server + picture) / first),
      },
      aim: 'under 1,000 ms at 1,000,000',
      details: { server: rounded(server), picture: rounded(picture) },
    })
  }
  return measurements
}

const RUNS = sized(5, 1)
/** Robots are not recorded, and a browser without a window says that it is one. */
const PERSON =
  'Mozilla/5.0 (Linux; Android 15; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36'

/** Share of the main thread that recording takes on the demo's pages, and what it sends a minute. */
export async function measureRecorder(): Promise<Measurement[]> {
  const stack = await startTemporaryStack([])
  const browser = await chromium.launch({ executablePath: browserProgram(), args: ['--no-sandbox'] })
  const port = await freePort()
  const site = createDemoSite({ scriptLine: await recordedSite(stack, port) }).listen(port)
  try {
    const measured: { share: number; bytesAMinute: number }[] = []
    let sent = 0
    for (let run = 0; run < RUNS; run++) {
      const context = await browser.newContext({ viewport: { width: 390, height: 760 }, userAgent: PERSON })
      const page = await context.newPage()
      const client = await context.newCDPSession(page)
      await client.send('Profiler.enable')
      await client.send('Profiler.setSamplingInterval', { interval: 200 })
      await client.send('Profiler.start')
      const began = performance.now()
      await page.goto(`http://127.0.0.1:${port}/crossings/torrin`)
      for (let step = 0; step < 24; step++) {
        await page.mouse.wheel(0, step % 2 ? -60 : 120)
        await page.mouse.move(40 + step * 10, 200 + step * 8)
        await page.waitForTimeout(200)
      }
      await page.waitForTimeout(2700)
      const elapsed = performance.now() - began
      const { profile } = await client.send('Profiler.stop')
      const own = new Set(
        profile.nodes.filter(({ callFrame }) => /recorder\.js/.test(callFrame.url)).map(({ id }) => id),
      )
      let spent = 0
      profile.samples!.forEach((id, index) => (spent += own.has(id) ? profile.timeDeltas![index]! / 1000 : 0))
      await context.close()
      const { rows } = await stack.database.execute<{ bytes: number }>(
        sql`SELECT coalesce(sum(bytes), 0)::float8 AS bytes FROM recording`,
      )
      measured.push({ share: spent / elapsed, bytesAMinute: ((rows[0]!.bytes - sent) / elapsed) * 60_000 })
      sent = rows[0]!.bytes
    }
    const middle = (name: 'share' | 'bytesAMinute') =>
      measured.map((each) => each[name]).sort((a, b) => a - b)[Math.floor(RUNS / 2)]!
    return [
      {
        name: 'recorder',
        value: rounded(middle('share') * 100, 3),
        unit: '% of the time of a page that is scrolled and moved over in which recording and behavior run',
        aim: 'at most 3 %',
        details: { bytesAMinute: Math.round(middle('bytesAMinute')) },
      },
    ]
  } finally {
    await browser.close()
    site.close()
    await stack.stop()
  }

  async function recordedSite({ database, url }: TemporaryStack, port: number): Promise<string> {
    const [owner] = await database.insert(organisation).values({ name: 'Bench' }).returning()
    const { id, key } = await createSite(database, owner!.id, null, {
      address: `http://127.0.0.1:${port}`,
      name: 'Bench',
    })
    const everybody = { share: 10_000, pages: [...EVERYWHERE] }
    const recording = { ...everybody, masksText: false, days: 30, megabytes: 1000 }
    await updateCollection(database, id, null, { behavior: everybody, recording })
    return scriptLine(url, key)
  }
}
