import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DAY, HOUR, MINUTE } from '../../core/time/units'
import type { HearLessView } from '../../shared/notifications/replies'
import { connect } from '../../server/database/connect'
import { letter, letterTimes, look, membership, notificationChoice, person } from '../../server/database/schema'
import type { MailProblem } from '../../server/mail/sendLetter'
import { gatherLetters } from '../../server/services/notifications/gatherLetters'
import { sendDueLetters, type Send } from '../../server/services/notifications/sendDueLetters'
import { findSheet } from '../../server/services/experiments/sheet'
import { tell, type Happened } from '../../server/services/notifications/tell'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { url, databaseUrl, outboxUrl } = ownStack()
const database = connect(databaseUrl, 4)
const PLACE = { origin: 'https://vetch.example.test', secret: 'a secret of this test' }
/** Ahead of the clock, so that the worker of the tests leaves alone what is due by then. */
let clock = Date.now() + 3 * DAY
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
let ownerId: number
beforeAll(async () => {
  team = await createTeam(database)
  const [owner] = await database.select().from(person).where(eq(person.email, team.emails.owner))
  ownerId = owner!.id
  await database.insert(letterTimes).values({ personId: ownerId, quietFrom: 0, quietUntil: 0 })
})

const asked = (more: Partial<Happened> = {}): Happened => ({
  siteId: team.site.id,
  experimentId: null,
  kind: 'mentioned',
  title: 'An idea',
  text: 'What do you think?',
  path: '/hypotheses/1',
  at: new Date(clock),
  to: [ownerId],
  ...more,
})
/** Tells the owner of something, and writes the letter of it, an hour after the last. */
async function written(more?: Partial<Happened>): Promise<number> {
  clock += HOUR
  await database.transaction((tx) => tell(tx, asked(more)))
  clock += 2 * MINUTE
  await gatherLetters(database, PLACE.origin, new Date(clock))
  return Math.max(
    ...(await database.select({ id: letter.id }).from(letter).where(eq(letter.personId, ownerId))).map(({ id }) => id),
  )
}
const state = async (id: number) => (await database.select().from(letter).where(eq(letter.id, id)))[0]!
const sendAt = (ms: number, send: Send) => sendDueLetters(database, PLACE, new Date(ms), send)
/** A mail server that takes letters while it is up, and remembers them. */
function mailServer(problem: () => MailProblem | null) {
  const taken: { to: string; subject: string; text: string; id: string }[] = []
  const send: Send = async (to, { subject, text }, id) => {
    const why = problem()
    // Other tests write letters, too.
    if (!why && to === team.emails.owner) taken.push({ to, subject, text, id })
    return why
  }
  return { taken, send }
}

test('a mail server that is down for an hour loses no letter and doubles none', async () => {
  const ids = [await written(), await written()]
  const from = clock
  const server = mailServer(() => (clock < from + HOUR ? { why: 'connect ECONNREFUSED', isFinal: false } : null))
  for (; clock < from + 2 * HOUR; clock += 5000) {
    // Two that send at the same time, as two processes would.
    await Promise.all([sendAt(clock, server.send), sendAt(clock, server.send)])
    if (clock === from) expect(await state(ids[0]!)).toMatchObject({ problem: 'connect ECONNREFUSED', sentAt: null })
    // Between two tries nothing is due: those hours pass at once.
    const { nextTryAt } = await state(ids[0]!)
    if (nextTryAt) clock = Math.max(clock, nextTryAt.getTime() - 5000)
  }
  expect(server.taken.map(({ subject }) => subject)).toEqual([
    'You are mentioned: An idea',
    'You are mentioned: An idea',
  ])
  expect(new Set(server.taken.map(({ id }) => id)).size).toBe(2)
  const [first] = server.taken
  expect(first!.to).toBe(team.emails.owner)
  expect(first!.text).toContain(`${PLACE.origin}/sites/${team.site.id}/hypotheses/1`)
  expect((await state(ids[0]!)).sentAt!.getTime()).toBeLessThan(from + HOUR + 16 * MINUTE)
})

test('a letter that is refused for good, or cannot be sent for a day, is given up', async () => {
  const refused = await written()
  await sendAt(clock, mailServer(() => ({ why: '550 no such mailbox', isFinal: true })).send)
  expect(await state(refused)).toMatchObject({ attempts: 1, nextTryAt: null, sentAt: null })
  const unsent = await written()
  const down = mailServer(() => ({ why: 'timed out', isFinal: false }))
  for (let next = new Date(clock); next; next = (await state(unsent)).nextTryAt!)
    await sendAt(next.getTime(), down.send)
  const { attempts, nextTryAt, sentAt } = await state(unsent)
  expect(attempts).toBeGreaterThan(90)
  expect([nextTryAt, sentAt]).toEqual([null, null])
})

test('a letter that was written before its person left the team is not sent', async () => {
  const id = await written()
  const own = eq(membership.personId, ownerId)
  await database.delete(membership).where(own)
  const server = mailServer(() => null)
  await sendAt(clock, server.send)
  expect(server.taken).toEqual([])
  expect(await state(id)).toMatchObject({ attempts: 0, nextTryAt: null, sentAt: null })
  await database.insert(membership).values({ personId: ownerId, organisationId: team.organisationId, role: 'owner' })
})

test('a letter about an experiment draws its track', async () => {
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const experimentId = await startedExperiment(database, team.site.id, Date.now() - DAY, order)
  const sheet = await findSheet(database, team.site.id, experimentId)
  const half = { controlVisitors: 500, visitors: 500, controlMean: 0.2, mean: 0.24, pValue: 0.01, fixedPValue: 0.01 }
  await database.insert(look).values({
    siteId: team.site.id,
    experimentId,
    metricVersionId: sheet.metrics[0]!.versionId,
    variant: 1,
    day: '2026-03-01',
    asOf: new Date(),
    lift: 0.2,
    low: 0.1,
    high: 0.3,
    fixedLow: 0.15,
    fixedHigh: 0.25,
    ...half,
  })
  const id = await written({ kind: 'verdict', experimentId, title: 'Warm', text: 'Ship Warm.', path: '/experiments/1' })
  const { subject, text } = await state(id)
  expect(subject).toBe('Verdict reached: Warm')
  expect(text).toContain(`${sheet.variants[1]!.name}: +20.0 %, +10.0 % to +30.0 %`)
  expect(text).toMatch(/│ .*┝━+○━+┥/)
})

test('one click hears less of what a letter told, a second changes nothing, and nobody else’s key does', async () => {
  const experimentId = await startedExperiment(
    database,
    team.site.id,
    Date.now() - DAY,
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
  // Through the worker, with its real clock and key.
  await database.transaction((tx) =>
    tell(tx, asked({ kind: 'verdict', experimentId, title: 'Less of it', at: new Date(Date.now() - 2 * MINUTE) })),
  )
  const letterText = async () => {
    const all = (await (await fetch(`${outboxUrl}/letters.json`)).json()) as { subject: string; text: string }[]
    return all.filter(({ subject }) => subject === 'Verdict reached: Less of it')
  }
  await database
    .update(letter)
    .set({ createdAt: new Date(0) })
    .where(eq(letter.personId, ownerId))
  await expect.poll(async () => (await letterText()).length, { timeout: 60_000 }).toBe(1)
  const [, key] = /\/less#(\S+)/.exec((await letterText())[0]!.text)!
  const nobody = await callerOf(url)
  const less = (body: object) => nobody('POST', '/api/letters/less', body)
  for (let times = 0; times < 2; times++) {
    const told = (await (await less({ key })).json()) as HearLessView
    expect(told).toEqual([{ kind: 'verdict', experimentId, title: 'Less of it', way: 'morning' }])
  }
  const none = [{ kind: 'verdict', experimentId, way: 'none' }]
  const others = [{ kind: 'alarm', experimentId: null, way: 'none' }]
  await less({ key, ways: [...none, ...others] })
  // Another click in the same letter takes nothing back.
  expect(await (await less({ key })).json()).toMatchObject([{ way: 'none' }])
  expect(
    await database.select().from(notificationChoice).where(eq(notificationChoice.personId, ownerId)),
  ).toMatchObject([{ kind: 'verdict', experimentId, way: 'none' }])
  const [id] = key!.split('.')
  for (const forged of [`${Number(id) + 1}.${key!.split('.')[1]}`, `${id}.x`, 'x', `${id}.`])
    expect((await less({ key: forged })).status).toBe(404)
})
