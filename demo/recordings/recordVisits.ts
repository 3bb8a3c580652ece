import { gunzipSync, gzipSync } from 'node:zlib'
import { writeFileSync } from 'node:fs'
import { chromium, type Browser } from '@playwright/test'
import { browserProgram } from '../../cli/stack/browser'
import { freePort } from '../../cli/stack/ports'
import { startTemporaryStack } from '../../cli/stack/temporaryStack'
import type { Database } from '../../server/database/connect'
import { organisation } from '../../server/database/schema'
import { updateCollection } from '../../server/services/collection/collection'
import { createSurvey, setSurveyState } from '../../server/services/surveys/surveys'
import { createSite } from '../../server/services/sites/sites'
import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import { EVERYWHERE } from '../../shared/collection/collection'
import type { RecordedChunk } from '../../shared/intake/record'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { CROSSINGS_SURVEY } from '../data/survey'
import { createDemoSite } from '../site/server'
import { createRandom } from '../visitors/random'
import { RECORDED_VISITS, type RecordedVisit } from './recordedVisits'
import { SCRIPTED_VISITS, type ScriptedVisit } from './scripts'

/** Drives the demo site in Chromium and writes down what its pages sent: `npx tsx demo/recordings/recordVisits.ts`. */
const AT_ONCE = 4
const WINDOWS = { phone: { width: 390, height: 760 }, desktop: { width: 1280, height: 800 } }
const USER_AGENTS = {
  phone:
    'Mozilla/5.0 (Linux; Android 15; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
  desktop:
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
}

async function main(): Promise<void> {
  const port = await freePort()
  const origin = `http://127.0.0.1:${port}`
  const stack = await startTemporaryStack([origin])
  const [owner] = await stack.database.insert(organisation).values({ name: 'Recorded' }).returning()
  const { id, key } = await createSite(stack.database, owner!.id, null, { address: origin, name: 'Recorded' })
  const everybody = { share: 10_000, pages: [...EVERYWHERE] }
  await updateCollection(stack.database, id, null, {
    behavior: everybody,
    recording: { ...everybody, masksText: false, days: 30, megabytes: 1000 },
  })
  const { name, content } = CROSSINGS_SURVEY
  const survey = await createSurvey(stack.database, id, null, { name, content: { ...content, share: 10_000 } })
  await setSurveyState(stack.database, { siteId: id, surveyId: survey.id, personId: null }, 'running', new Date())
  const site = createDemoSite({ scriptLine: scriptLine(stack.url, key) }).listen(port)
  const browser = await chromium.launch({ executablePath: browserProgram(), args: ['--no-sandbox'] })
  const waiting = SCRIPTED_VISITS.map((visit, index) => ({ visit, index }))
  const visits: RecordedVisit[] = []
  const work = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift())
      visits[next.index] = await recordVisit(browser, origin, next.visit, next.index)
  }
  await Promise.all(Array.from({ length: AT_ONCE }, work))
  await browser.close()
  site.close()
  for (const visit of visits) visit.chunks = await chunksOf(stack.database, key, visit)
  await stack.stop()
  const file = gzipSync(JSON.stringify({ origin, visits }), { level: 9 })
  writeFileSync(RECORDED_VISITS, file)
  console.log(`${visits.length} visits, ${file.length} bytes`)
}

async function recordVisit(
  browser: Browser,
  origin: string,
  { device, country, act }: ScriptedVisit,
  index: number,
): Promise<RecordedVisit> {
  const userAgent = USER_AGENTS[device]
  const context = await browser.newContext({ baseURL: origin, userAgent, viewport: WINDOWS[device], locale: 'en-IE' })
  const views = new Map<string, CollectedView>()
  const events = new Map<string, CollectedEvent>()
  context.on('request', (request) => {
    const body = request.url().endsWith('/collect') ? request.postDataBuffer() : null
    if (!body) return
    const batch = JSON.parse(body.toString('utf8')) as { views: CollectedView[]; events: CollectedEvent[] }
    batch.views.forEach((view) => views.set(view.id, view))
    batch.events.forEach((event) => events.set(event.id, event))
  })
  const page = await context.newPage()
  await act(page, createRandom(index + 1))
  await page.waitForTimeout(2800)
  await page.goto('about:blank')
  await page.waitForTimeout(500)
  await context.close()
  return { userAgent, country, views: [...views.values()], events: [...events.values()], chunks: [] }
}

/** What was recorded of a visit, as it was kept. */
async function chunksOf({ $client }: Database, key: string, { views }: RecordedVisit): Promise<RecordedChunk[]> {
  const { visitor, session } = views[0]!
  const { rows } = await $client.query<{ id: string; view: string; number: number; content: Buffer }>(
    'SELECT id, view_id AS view, number, content FROM recording_chunk WHERE visitor_id = $1 AND session_id = $2 ORDER BY id',
    [visitor, session],
  )
  return rows.map(({ content, ...row }) => {
    const events = JSON.parse(gunzipSync(content).toString('utf8')) as RecordedChunk['events']
    const times = events.map(({ timestamp }) => timestamp)
    return { key, visitor, session, ...row, first: Math.min(...times), last: Math.max(...times), events }
  })
}

await main()
process.exit(0)
