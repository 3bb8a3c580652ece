import type { VariantPictures } from '../../shared/pictures/replies'
import { randomUUID } from 'node:crypto'
import { createSocket } from 'node:dgram'
import { readdirSync, readFileSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { and, eq } from 'drizzle-orm'
import type { Edit } from '../../core/edits/content'
import { connect } from '../../server/database/connect'
import { backgroundJob, site, variantPicture } from '../../server/database/schema'
import { takeVariantPictures } from '../../server/jobs/pictures'
import { openQueue } from '../../server/jobs/queue'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { preflightReport } from '../../server/services/experiments/preflightReport'
import { findSheet } from '../../server/services/experiments/sheet'
import { photographElement } from '../../server/services/pictures/photographPage'
import { addSitePicture } from '../../server/services/pictures/sitePictures'
import { noteFirstReport } from '../../server/services/sites/sites'
import { listVariantPictures, takePictures } from '../../server/services/pictures/variantPictures'
import { drawThingId } from '../../shared/thingId'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { PLAN, primaryMetric } from '../metrics'
import { lookingWith, onEmptyPages } from '../triedPages'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
const PAGE = `<!doctype html><html><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<style>body { margin: 10px; font: 16px sans-serif; background: #fff; color: #222 } .box { width: 150px; height: 24px; overflow: hidden; white-space: nowrap }</style></head>
<body><h1>Boats</h1><p id="lead">All year round</p><div class="box" id="box">Short</div><p id="last">From 12 euro</p>
<img id="pier" alt="" width="40" height="30" src="data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7"></body></html>`
let team: Awaited<ReturnType<typeof createTeam>>
let pages: Server
let origin: string
const asked: IncomingHttpHeaders[] = []
let layoutScript: string

beforeAll(async () => {
  team = await createTeam(database)
  layoutScript = await readFile('.output/delivery/layout.js', 'utf8')
  pages = createServer((request, reply) => {
    if (request.url === '/') asked.push(request.headers)
    const isPage = request.url === '/' || request.url === '/other'
    reply.writeHead(isPage ? 200 : 404, { 'content-type': 'text/html' })
    reply.end(isPage ? PAGE.replace('Boats', request.url === '/' ? 'Boats' : 'Other boats') : '')
  })
  await new Promise<void>((listening) => pages.listen(0, '127.0.0.1', listening))
  origin = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`
  await database.update(site).set({ address: origin }).where(eq(site.id, team.site.id))
})
afterAll(async () => {
  pages.close()
  await database.$client.end()
})

const style = (selector: string, value: Record<string, string>): Edit => ({
  id: drawThingId(),
  kind: 'style',
  selector,
  value,
  original: Object.fromEntries(Object.keys(value).map((name) => [name, ''])),
})
const text = (selector: string, value: string): Edit => ({
  id: drawThingId(),
  kind: 'text',
  selector,
  original: 'Short',
  value,
})

async function draft(edits: Edit[]) {
  const { id: experimentId } = await createExperiment(database, team.site.id, null, 'Photographed')
  const at = { siteId: team.site.id, experimentId, personId: null }
  await fillSheet(database, at, {
    pageRules: [{ match: 'exact', value: '/' }],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { id: 'variant-b', name: 'Warm', weight: 1, edits },
    ],
  })
  const job = async (title = 'Pictures') => {
    const [made] = await database
      .insert(backgroundJob)
      .values({ ...at, kind: 'pictures', title })
      .returning({ id: backgroundJob.id })
    return { ...at, jobId: made!.id, language: 'de-AT', ofDraft: false }
  }
  const tools = { trustedOrigins: [origin], layoutScript }
  return {
    at,
    job,
    take: async () => takeVariantPictures(database, await job(), tools),
    list: () => listVariantPictures(database, at, new Date()),
    change: async (changed: Edit[]) => {
      const { variants } = await findSheet(database, at.siteId, experimentId)
      await fillSheet(database, at, { variants: variants.with(1, { ...variants[1]!, edits: changed }) })
    },
  }
}

/** What looks wrong on the variant, by width. */
function wrong({ pictures }: VariantPictures): Record<number, string[]> {
  return Object.fromEntries(
    pictures
      .filter(({ variant }) => variant === 'variant-b')
      .map(({ width, problems }) => [width, problems.map(({ text: said }) => said)]),
  )
}

test('each variant is photographed on three devices, what looks wrong is found, and only what changed is taken anew', async () => {
  const { at, take, list, change } = await draft([
    text('#box', 'Longer than the box that holds it'),
    style('#lead', { color: 'rgb(200, 200, 200)', position: 'relative', top: '-52px' }),
    style('#last', { width: '900px' }),
    {
      id: drawThingId(),
      kind: 'image',
      selector: '#pier',
      value: { address: '/gone.png', alt: '' },
      original: { address: '', alt: '' },
    },
  ])
  await take()
  const first = await list()
  expect(first.job).toMatchObject({ state: 'done', progress: 1 })
  expect(first.pictures.map(({ width, variant }) => `${width} ${variant === 'variant-b'}`).sort()).toEqual(
    [390, 820, 1280].flatMap((width) => [`${width} false`, `${width} true`]).sort(),
  )
  const always = [
    '“All year round” and “Boats” lie over each other.',
    '“Longer than the box that holds it” is cut off.',
    `The picture ${origin}/gone.png does not load.`,
    '“All year round” has a contrast of 1.7 to 1, in the control 15.9; at least 4.5 can be read well.',
  ].map((said) => (said.includes('Boats') ? expect.stringMatching(/“All year round”|“Boats”/) : said))
  const found = wrong(first)
  expect(found[1280]).toEqual(always)
  expect(found[390]).toEqual([
    expect.stringMatching(/pixels wide in a window of 390: “From 12 euro” sticks out/),
    ...always,
  ])
  expect(first.pictures.every(({ isStale, language }) => !isStale && language === 'de-AT')).toBe(true)
  const told = asked.slice(-9).map((headers) => headers['user-agent'])
  expect(told.filter((agent) => agent?.includes('Mobile Safari'))).not.toHaveLength(0)
  expect(told.every((agent) => agent?.endsWith('Vetch pictures'))).toBe(true)
  expect(asked.at(-1)!['accept-language']).toMatch(/^de-AT/)

  // Preflight tells them, as advice.
  const report = await preflightReport(
    database,
    at.siteId,
    at.experimentId,
    new Date(),
    lookingWith(database, onEmptyPages),
  )
  const advice = report.findings.filter(({ text: said }) => said.startsWith('Warm, on / in a width of'))
  expect(advice).toHaveLength(3)
  expect(advice.every(({ isStop }) => !isStop)).toBe(true)

  await change([text('#box', 'Fits')])
  const stale = (await list()).pictures.filter(({ isStale }) => isStale)
  expect(stale.map(({ variant }) => variant)).toEqual(['variant-b', 'variant-b', 'variant-b'])
  const kept = (await list()).pictures.filter(({ isStale }) => !isStale).map(({ id }) => id)
  await take()
  expect(wrong(await list())).toEqual({ 390: [], 820: [], 1280: [] })
  expect((await list()).pictures.map(({ id }) => id)).toEqual(expect.arrayContaining(kept))
})

test('an uploaded picture is shown, and a variant that sends its visitors elsewhere is taken there', async () => {
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  )
  const path = await addSitePicture(
    database,
    { siteId: team.site.id, personId: null },
    { name: 'pier.png', content: png },
  )
  const value = { address: `https://vetch.example${path}`, alt: 'The pier' }
  const { at, take, list, change } = await draft([
    {
      id: drawThingId(),
      kind: 'image',
      selector: '#pier',
      value,
      original: { address: '', alt: '' },
    },
  ])
  await take()
  expect(wrong(await list())[390]).toEqual([])
  const kept = () => database.$count(variantPicture, eq(variantPicture.experimentId, at.experimentId))
  expect(await kept()).toBe(6)
  await change([{ id: drawThingId(), kind: 'redirect', value: '/other' }])
  await take()
  expect(await kept()).toBe(6)
  expect((await list()).pictures.filter(({ isStale }) => isStale)).toEqual([])
})

test('a canceled job ends before its next picture, and a page that cannot be had says why', async () => {
  const { job, list } = await draft([text('#box', 'Fits')])
  const canceled = await job()
  await database.update(backgroundJob).set({ state: 'canceled' }).where(eq(backgroundJob.id, canceled.jobId))
  await takeVariantPictures(database, canceled, { trustedOrigins: [origin], layoutScript })
  expect((await list()).pictures).toEqual([])
  await takeVariantPictures(database, await job(), { trustedOrigins: [], layoutScript })
  expect((await list()).job).toMatchObject({ state: 'failed', problem: expect.stringContaining('lies on the machine') })
})

test('editors ask for pictures, one job at a time, and a change of the edits asks by itself', async () => {
  const editor = await callerOf(url, team.emails.editor)
  const viewer = await callerOf(url, team.emails.viewer)
  const { at, take } = await draft([text('#box', 'Fits')])
  const path = `/api/sites/${at.siteId}/experiments/${at.experimentId}/pictures`
  expect((await viewer('POST', path, {})).status).toBe(403)
  expect((await editor('POST', path, { language: 'klingon' })).status).toBe(422)
  const [one, two] = await Promise.all([editor('POST', path, {}), viewer('GET', path)])
  expect([one.status, two.status]).toEqual([200, 200])
  const { job } = (await one.json()) as VariantPictures
  expect(((await (await editor('POST', path, {})).json()) as VariantPictures).job!.id).toBe(job!.id)

  // As if it had been done: the next change of an edit asks by itself.
  await database.update(backgroundJob).set({ state: 'canceled' }).where(eq(backgroundJob.id, job!.id))
  await take()
  const { variants } = await findSheet(database, at.siteId, at.experimentId)
  const change = {
    do: 'add',
    list: { part: 'edits', variant: variants[1]!.id },
    before: null,
    item: style('#last', { color: 'rgb(0, 0, 0)' }),
  }
  const changed = await editor('POST', path.replace('pictures', 'changes'), { id: randomUUID(), change })
  expect(changed.status).toBe(200)
  const { job: next } = (await (await viewer('GET', path)).json()) as VariantPictures
  expect(next!.id).toBeGreaterThan(job!.id)
  expect(next!.state).toBe('waiting')
})

test('a draft that lacks nothing asks by itself, and nothing is taken once it has started', async () => {
  const editor = await callerOf(url, team.emails.editor)
  const { at, list, job } = await draft([text('#box', 'Fits')])
  const path = `/api/sites/${at.siteId}/experiments/${at.experimentId}/changes`
  const rename = async (to: string) => {
    const change = { do: 'set', of: { part: 'sheet' }, from: { name: (await sheet()).name }, to: { name: to } }
    expect((await editor('POST', path, { id: randomUUID(), change })).status).toBe(200)
  }
  const sheet = () => findSheet(database, at.siteId, at.experimentId)
  await rename('Nothing is counted yet')
  expect((await list()).job).toBe(null)
  await noteFirstReport(database, at.siteId)
  await fillSheet(database, at, {
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
  })
  expect((await sheet()).preflight).toEqual([])
  await rename('Everything is there')
  expect((await list()).job).toMatchObject({ state: 'waiting' })
  await moveExperiment(database, at, 'start')
  await takeVariantPictures(database, { ...(await job()), ofDraft: true }, { trustedOrigins: [origin], layoutScript })
  expect(await list()).toMatchObject({ pictures: [], job: { state: 'done' } })
})

test('pictures that are asked for ten times at once are taken once', async () => {
  const { at } = await draft([text('h1', 'Other words')])
  const queue = await openQueue(databaseUrl, 'sender')
  const many = connect(databaseUrl, 10)
  const ask = () => takePictures(many, queue, at, { language: 'en', isAnew: true }, new Date())
  await Promise.all([...Array(10).keys()].map(ask))
  const jobs = and(eq(backgroundJob.siteId, at.siteId), eq(backgroundJob.experimentId, at.experimentId))
  expect(await database.$count(backgroundJob, jobs)).toBe(1)
  await many.$client.end()
  await queue.stop({ graceful: false })
})

describe('a page that is photographed', () => {
  const photograph = (html: string, onAsked: (path: string) => void = () => {}) =>
    new Promise<Awaited<ReturnType<typeof photographElement>>>((taken, fails) => {
      const server = createServer((request, reply) => {
        if (request.url !== '/') onAsked(request.url!)
        reply.writeHead(200, { 'content-type': 'text/html' }).end(request.url === '/' ? html : '')
      })
      server.listen(0, '127.0.0.1', () => {
        const own = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
        photographElement(`${own}/`, { selector: 'h1', width: 400 }, { origins: [own], privateHosts: [] })
          .then(taken, fails)
          .finally(() => server.close())
      })
    })

  test('runs in the sandbox of a user without rights', async () => {
    let seen: string[] = []
    await photograph('<h1>Boats</h1><img src="/now.png">', () => (seen = browserProcesses()))
    expect(seen.length).toBeGreaterThan(1)
    // As the tests are run, or as somebody who is not root.
    for (const each of seen) expect(each).not.toMatch(/^0 |--no-sandbox/)
  })

  test('reaches nobody by UDP', async () => {
    const heard: unknown[] = []
    const socket = createSocket('udp4', (message) => heard.push(message))
    await new Promise<void>((bound) => socket.bind(0, '127.0.0.1', bound))
    const call = `
      const peer = new (window.RTCPeerConnection ?? document.body.appendChild(document.createElement('iframe')).contentWindow.RTCPeerConnection)(
        { iceServers: [{ urls: 'stun:127.0.0.1:${socket.address().port}' }] })
      peer.createDataChannel('x')
      peer.createOffer().then((offer) => peer.setLocalDescription(offer))`
    const waits = '<script>for (let until = Date.now() + 1500; Date.now() < until;);</script>'
    await photograph(`<body><h1>Boats</h1><script>${call}</script>${waits}`)
    socket.close()
    expect(heard).toEqual([])
  })

  test('holds up no other, though it never ends', async () => {
    let isOver = false
    const endless = photograph('<h1>Boats</h1><script>for(;;);</script>').finally(() => (isOver = true))
    await photograph('<h1>Boats</h1>')
    expect(isOver).toBe(false)
    await expect(endless).rejects.toThrow('No picture was taken')
  })
})

/** User and command line of each process of the browser that takes pictures. */
function browserProcesses(): string[] {
  return readdirSync('/proc').flatMap((pid) => {
    try {
      const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ')
      if (!line.includes('chromium') || !line.includes('disable_non_proxied_udp')) return []
      return [`${/^Uid:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]} ${line}`]
    } catch {
      return []
    }
  })
}
