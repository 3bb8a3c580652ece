import { createHmac } from 'node:crypto'
import { createServer } from 'node:http'
import { and, eq, isNotNull } from 'drizzle-orm'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { DAY, HOUR } from '../../core/time/units'
import type { Paged } from '../../shared/api/paging'
import type { DeliveryView, NewWebhookView, WebhookView } from '../../shared/webhooks/replies'
import { connect } from '../../server/database/connect'
import { changeLog, occurrence, webhook, webhookDelivery } from '../../server/database/schema'
import { tell } from '../../server/services/notifications/tell'
import { deliverDue, type Post } from '../../server/services/webhooks/deliverDue'
import { createWebhook } from '../../server/services/webhooks/webhooks'
import { openReceiver, type Receiver } from '../../stand-ins/receiver/receiver'
import { freePort } from '../../cli/stack/ports'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
let owner: Awaited<ReturnType<typeof callerOf>>
beforeAll(async () => {
  team = await createTeam(database)
  owner = await callerOf(url, team.emails.owner)
})
const receivers: Receiver[] = []
afterEach(async () => {
  await Promise.all(receivers.splice(0).map((each) => each.close()))
  await database.delete(webhook).where(eq(webhook.siteId, team.site.id))
})

/** Ahead of the clock, so that the worker of the tests does not send it first. */
const START = Date.now() + 3 * DAY
const alarmed = async (at = START) => {
  await database.transaction((tx) =>
    tell(tx, {
      siteId: team.site.id,
      experimentId: null,
      kind: 'alarm',
      title: 'Site',
      text: 'A “quoted” thing\nis wrong.',
      path: '/alarms',
      at: new Date(at),
    }),
  )
  await database
    .update(webhookDelivery)
    .set({ nextTryAt: new Date(at), createdAt: new Date(at) })
    .where(and(eq(webhookDelivery.siteId, team.site.id), eq(webhookDelivery.attempts, 0)))
}
/** A webhook that leads to a receiver of its own. */
async function leadingToReceiver() {
  const port = await freePort()
  const address = `http://127.0.0.1:${port}`
  const reach = { origins: [address], privateHosts: [] }
  const input = { address: `${address}/hook`, kinds: ['alarm' as const] }
  const made = await createWebhook(database, { siteId: team.site.id, personId: null }, input, reach)
  const receiver = await openReceiver({ port, secrets: [made.secret], clock: () => START })
  receivers.push(receiver)
  const deliver = (ms: number, post?: Post) => deliverDue(database, [address], new Date(ms), post)
  const log = async () =>
    (
      (await (
        await owner('GET', `/api/sites/${team.site.id}/webhooks/${made.id}/deliveries`)
      ).json()) as Paged<DeliveryView>
    ).items
  return { made, receiver, deliver, log }
}

test('a message is signed, arrives once, and says what happened', async () => {
  const { made, receiver, deliver, log } = await leadingToReceiver()
  await alarmed()
  await Promise.all([deliver(START), deliver(START)])
  const [message, ...more] = receiver.messages()
  expect(more).toEqual([])
  expect(message).toMatchObject({ kind: 'alarm', isGenuine: true })
  expect(JSON.parse(message!.body)).toMatchObject({
    kind: 'alarm',
    site: { id: team.site.id },
    experiment: null,
    text: 'A “quoted” thing\nis wrong.',
    path: `/sites/${team.site.id}/alarms`,
  })
  expect(await log()).toMatchObject([{ state: 'delivered', attempts: 1, status: 200, answer: 'taken' }])
  // Other kinds are not sent.
  await database.transaction((tx) =>
    tell(tx, {
      siteId: team.site.id,
      experimentId: null,
      kind: 'verdict',
      title: '',
      text: '',
      path: '',
      at: new Date(),
    }),
  )
  expect(await log()).toHaveLength(1)
  const replayed = await owner(
    'POST',
    `/api/sites/${team.site.id}/webhooks/${made.id}/deliveries/${(await log())[0]!.id}/replay`,
  )
  expect(replayed.status).toBe(200)
  await database
    .update(webhookDelivery)
    .set({ nextTryAt: new Date(START) })
    .where(isNotNull(webhookDelivery.nextTryAt))
  await deliver(START)
  expect(receiver.messages().map(({ body }) => body)).toEqual([message!.body, message!.body])
})

test('what is sent can be checked with nothing but the secret, the time and the body', async () => {
  const { made, deliver } = await leadingToReceiver()
  await alarmed()
  const sent: Parameters<Post>[2][] = []
  await deliver(START, async (_address, _reach, message) => {
    sent.push(message)
    return { status: 204, body: Buffer.from('') }
  })
  const { headers, body } = sent[0]!.sends!
  expect(headers['vetch-time']).toBe(String(Math.floor(START / 1000)))
  const own = createHmac('sha256', made.secret).update(`${headers['vetch-time']}.${body}`).digest('hex')
  expect(headers['vetch-signature']).toBe(own)
})

test('what is not taken is tried with growing pauses, then the webhook is silent, and its owners are told', async () => {
  const { made, receiver, deliver, log } = await leadingToReceiver()
  receiver.answerWith(500)
  await alarmed()
  const tries: number[] = []
  for (let at = START; ;) {
    await deliver(at)
    tries.push(at)
    const { nextTryAt } = (await log())[0]!
    if (nextTryAt === null) break
    at = Date.parse(nextTryAt)
  }
  const pauses = tries.slice(1).map((at, index) => at - tries[index]!)
  expect(pauses).toEqual([...pauses].sort((a, b) => a - b))
  expect(tries.at(-1)! - START).toBeGreaterThan(15 * HOUR)
  expect(await log()).toMatchObject([{ state: 'given up', attempts: 10, status: 500, answer: 'not taken' }])
  const list = async () => (await (await owner('GET', `/api/sites/${team.site.id}/webhooks`)).json()) as WebhookView[]
  expect(await list()).toMatchObject([{ state: 'silent' }])
  const told = await database
    .select()
    .from(occurrence)
    .where(and(eq(occurrence.siteId, team.site.id), eq(occurrence.kind, 'webhook')))
  expect(told).toMatchObject([{ path: '/setup/webhooks', text: expect.stringContaining(made.address) }])
  // Nothing more is noted for it until somebody resumes it.
  await alarmed()
  expect(await log()).toHaveLength(1)
  await database.update(webhook).set({ gaveUpAt: null }).where(eq(webhook.id, made.id))
  await alarmed()
  receiver.answerWith(410)
  await deliver(START)
  expect(await log()).toMatchObject([{ state: 'given up', attempts: 1, status: 410 }, {}])
})

test('a redirect is not followed, and an endless answer is taken for what it says first', async () => {
  const { made, log } = await leadingToReceiver()
  const asked: string[] = []
  let isEndless = false
  const other = createServer((request, reply) => {
    asked.push(request.url!)
    request.resume()
    if (!isEndless) return void reply.writeHead(302, { location: '/elsewhere' }).end()
    reply.writeHead(200)
    const chunk = 'x'.repeat(64 * 1024)
    const more = () => {
      while (!reply.destroyed && reply.write(chunk));
    }
    reply.on('drain', more)
    more()
  })
  const port = await freePort()
  await new Promise<void>((started) => other.listen(port, '127.0.0.1', started))
  const origin = `http://127.0.0.1:${port}`
  await database
    .update(webhook)
    .set({ address: `${origin}/hook` })
    .where(eq(webhook.id, made.id))
  await alarmed()
  await deliverDue(database, [origin], new Date(START))
  expect(await log()).toMatchObject([{ state: 'waits', status: 302 }])
  isEndless = true
  await alarmed()
  await deliverDue(database, [origin], new Date(START))
  expect(await log()).toMatchObject([{ state: 'delivered', status: 200, answer: 'x'.repeat(500) }, {}])
  expect(asked).toEqual(['/hook', '/hook'])
  other.closeAllConnections()
  other.close()
})

test('a webhook that does not answer leaves room for the others', async () => {
  const slow = await leadingToReceiver()
  for (let times = 0; times < 30; times++) await alarmed()
  const { made, log } = await leadingToReceiver()
  await alarmed()
  const tried: string[] = []
  await deliverDue(database, [], new Date(START), async (address) => {
    tried.push(address)
    return { status: address === made.address ? 200 : 503, body: Buffer.from('') }
  })
  expect(tried.filter((address) => address === slow.made.address)).toHaveLength(2)
  expect(await log()).toMatchObject([{ state: 'delivered' }])
})

test('a private address is refused, when it is saved and when something is sent', async () => {
  const { made, deliver, log } = await leadingToReceiver()
  await database.update(webhook).set({ address: 'http://169.254.169.254/latest' }).where(eq(webhook.id, made.id))
  await alarmed()
  await deliver(START)
  const [refused] = await log()
  expect(refused).toMatchObject({ state: 'waits', attempts: 1, status: null })
  expect(refused!.answer).toContain('169.254.169.254')
  const add = (address: string) => owner('POST', `/api/sites/${team.site.id}/webhooks`, { address, kinds: ['alarm'] })
  for (const address of [
    'http://127.0.0.1:5432/',
    'http://10.0.0.1/',
    'http://[::1]/',
    'ftp://x.example',
    'nowhere',
    'http://a:b@x.example/',
  ]) {
    const reply = await add(address)
    expect([address, reply.status]).toEqual([address, 422])
    expect(((await reply.json()) as { data: { fields: object } }).data.fields).toHaveProperty('address')
  }
})

test('the secret is shown once, is in no log, and a new one takes its place', async () => {
  const { made } = await leadingToReceiver()
  const at = `/api/sites/${team.site.id}/webhooks`
  expect(JSON.stringify(await (await owner('GET', at)).json())).not.toContain(made.secret)
  const drawn = (await (await owner('POST', `${at}/${made.id}/secret`)).json()) as NewWebhookView
  expect(drawn.secret).not.toBe(made.secret)
  expect(drawn.secret).toMatch(/^[\w-]{43}$/)
  const noted = await database.select().from(changeLog).where(eq(changeLog.siteId, team.site.id))
  expect(JSON.stringify(noted)).not.toMatch(new RegExp(`${made.secret}|${drawn.secret}`))
  expect((await owner('DELETE', `${at}/${made.id}`)).status).toBe(200)
  expect((await owner('GET', `${at}/${made.id}/deliveries`)).status).toBe(404)
})
