import { and, eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DAY, HOUR, MINUTE } from '../../core/time/units'
import type { Paged } from '../../shared/api/paging'
import type { ExperimentWaysView, NotificationView, ToldChoicesView } from '../../shared/notifications/replies'
import { connect } from '../../server/database/connect'
import { letter, letterTimes, membership, notification, occurrence, person } from '../../server/database/schema'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { gatherLetters } from '../../server/services/notifications/gatherLetters'
import { tell, type Happened } from '../../server/services/notifications/tell'
import { settleAlarms } from '../../server/services/watch/alarms'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
const ORIGIN = 'https://vetch.example.test'
/** Ahead of the clock, so that the worker of the tests leaves alone what is due by then. */
const NOW = new Date(Date.now() + 3 * DAY)
const later = (ms: number) => new Date(NOW.getTime() + ms)
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
const ids = {} as Record<'owner' | 'editor' | 'viewer', number>
beforeAll(async () => {
  team = await createTeam(database)
  for (const role of ['owner', 'editor', 'viewer'] as const) ids[role] = await idOf(team.emails[role])
})

async function idOf(email: string): Promise<number> {
  const [found] = await database.select({ id: person.id }).from(person).where(eq(person.email, email))
  // Letters come at any time of the day.
  await database.insert(letterTimes).values({ personId: found!.id, quietFrom: 0, quietUntil: 0 })
  return found!.id
}
const happened = (more: Partial<Happened> = {}): Happened => ({
  siteId: team.site.id,
  experimentId: null,
  kind: 'alarm',
  title: 'A site',
  text: 'Something is wrong.',
  path: '/alarms',
  at: NOW,
  ...more,
})
const tellIt = (more?: Partial<Happened>) => database.transaction((tx) => tell(tx, happened(more)))
const waysOf = async (kind: Happened['kind'], experimentId: number | null = null) => {
  const rows = await database
    .select({ personId: notification.personId, way: notification.way })
    .from(notification)
    .innerJoin(occurrence, eq(occurrence.id, notification.occurrenceId))
    .where(
      and(
        eq(occurrence.siteId, team.site.id),
        eq(occurrence.kind, kind),
        experimentId === null ? undefined : eq(occurrence.experimentId, experimentId),
      ),
    )
  return Object.fromEntries(
    rows.map(({ personId, way }) => [Object.entries(ids).find(([, id]) => id === personId)![0], way]),
  )
}
const lettersOf = (personId: number) => database.select().from(letter).where(eq(letter.personId, personId))
const read = async (caller: Awaited<ReturnType<typeof callerOf>>, query = '') =>
  (await (await caller('GET', `/api/sites/${team.site.id}/notifications${query}`)).json()) as Paged<NotificationView>

test('whoever starts an experiment is told of it by letter, others in the list, and nobody of what they do', async () => {
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const experimentId = await startedExperiment(database, team.site.id, Date.now() - DAY, order)
  const target = { siteId: team.site.id, experimentId, personId: ids.editor }
  await moveExperiment(database, target, 'pause')
  expect(await waysOf('paused', experimentId)).toEqual({ owner: 'list', viewer: 'list' })
  await database.execute(sql`
    INSERT INTO change_log (site_id, person_id, subject, subject_id, action)
    VALUES (${team.site.id}, ${ids.viewer}, 'experiment', ${experimentId}, 'scheduled')`)
  await moveExperiment(database, { ...target, personId: null }, 'end')
  expect(await waysOf('ended', experimentId)).toEqual({ owner: 'list', editor: 'list', viewer: 'morning' })
  const { items } = await read(await callerOf(url, team.emails.owner))
  expect(items.map(({ kind, by, path }) => [kind, by, path])).toEqual([
    ['ended', null, `/experiments/${experimentId}`],
    ['paused', 'editor', `/experiments/${experimentId}`],
  ])
})

test('the same cause is told once; owners get the alarms of the site by letter', async () => {
  for (let times = 0; times < 3; times++) await tellIt({ cause: 'alarm of once' })
  expect(await waysOf('alarm')).toEqual({ owner: 'now', editor: 'list', viewer: 'list' })
  expect(await database.$count(occurrence, eq(occurrence.cause, 'alarm of once'))).toBe(1)
})

test('what is chosen for all, and for one experiment, holds; strangers choose nothing there', async () => {
  const { id: experimentId } = await createExperiment(database, team.site.id, null, 'Chosen')
  const viewer = await callerOf(url, team.emails.viewer)
  const at = `/api/sites/${team.site.id}/experiments/${experimentId}/notifications`
  const all = await viewer('PATCH', '/api/account/notifications', { ways: [{ kind: 'verdict', way: 'morning' }] })
  expect(((await all.json()) as ToldChoicesView).ways).toContainEqual({ kind: 'verdict', way: 'morning' })
  await tellIt({ kind: 'verdict', experimentId })
  expect(await waysOf('verdict')).toEqual({ owner: 'list', editor: 'list', viewer: 'morning' })
  const one = await viewer('PATCH', at, { ways: [{ kind: 'step', way: 'none' }] })
  const ofStep = ((await one.json()) as ExperimentWaysView).find(({ kind }) => kind === 'step')
  expect(ofStep).toEqual({ kind: 'step', way: 'none', otherwise: 'list' })
  await tellIt({ kind: 'step', experimentId })
  expect(await waysOf('step')).toEqual({ owner: 'list', editor: 'list' })
  await viewer('PATCH', at, { ways: [{ kind: 'step', way: null }] })
  await tellIt({ kind: 'step', experimentId })
  expect(await waysOf('step')).toEqual({ owner: 'list', editor: 'list', viewer: 'list' })
  const stranger = await callerOf(url, (await createTeam(database)).emails.owner)
  expect((await stranger('PATCH', at, { ways: [{ kind: 'step', way: 'now' }] })).status).toBe(404)
  const times = { timeZone: 'Europe/Nowhere', quietFrom: 0, quietUntil: 2000, morningAt: null }
  const refused = await viewer('PATCH', '/api/account/notifications', { ways: [], times })
  expect([refused.status, Object.keys(((await refused.json()) as { data: { fields: object } }).data.fields)]).toEqual([
    422,
    ['times.timeZone', 'times.quietUntil', 'times.morningAt'],
  ])
})

test('a hundred alarms at once are one letter, and another comes ten minutes later at the earliest', async () => {
  const found = Array.from({ length: 100 }, (_, index) => ({
    check: 'page' as const,
    cause: `cause ${index}`,
    text: `Edit ${index} is gone.`,
  }))
  const ofSite = { subject: { experimentId: null, rolloutId: null }, findings: found }
  await settleAlarms(database, team.site.id, [ofSite], later(0), false)
  await gatherLetters(database, ORIGIN, later(30_000))
  expect(await lettersOf(ids.owner)).toEqual([])
  await gatherLetters(database, ORIGIN, later(2 * MINUTE))
  const [first, ...more] = await lettersOf(ids.owner)
  expect(more).toEqual([])
  // With the one of before.
  expect(first!.subject).toMatch(/^101 things on Site .*: alarm$/)
  expect(first!.text).toContain('And 81 more')
  await tellIt({ cause: 'alarm of then', at: later(3 * MINUTE) })
  await gatherLetters(database, ORIGIN, later(11 * MINUTE))
  expect(await lettersOf(ids.owner)).toHaveLength(1)
  await gatherLetters(database, ORIGIN, later(13 * MINUTE))
  expect((await lettersOf(ids.owner)).map(({ subject }) => subject)).toEqual([first!.subject, 'Alarm: A site'])
})

test('nobody is written to who is no member any more, has seen it, or would hear of it days later', async () => {
  const { siteId, editor } = { siteId: team.site.id, editor: ids.editor }
  const asked = (more: Partial<Happened> = {}) => tellIt({ kind: 'mentioned', to: [editor], ...more })
  await asked({ at: later(-3 * DAY) })
  await gatherLetters(database, ORIGIN, later(HOUR))
  expect(await lettersOf(editor)).toEqual([])
  await asked({ at: later(HOUR) })
  const caller = await callerOf(url, team.emails.editor)
  const { items } = await read(caller, '?unseen=true')
  await caller('POST', `/api/sites/${siteId}/notifications/seen`, { upTo: items[0]!.id })
  const unseen = async () =>
    ((await (await caller('GET', `/api/sites/${siteId}/notifications/unseen`)).json()) as { count: number }).count
  expect([(await read(caller, '?unseen=true')).items, await unseen()]).toEqual([[], 0])
  await gatherLetters(database, ORIGIN, later(2 * HOUR))
  expect(await lettersOf(editor)).toEqual([])
  await asked({ at: later(3 * HOUR) })
  expect(await unseen()).toBe(1)
  await database.delete(membership).where(eq(membership.personId, editor))
  await gatherLetters(database, ORIGIN, later(4 * HOUR))
  expect(await lettersOf(editor)).toEqual([])
  expect((await caller('GET', `/api/sites/${siteId}/notifications`)).status).toBe(404)
  await database.insert(membership).values({ personId: editor, organisationId: team.organisationId, role: 'editor' })
  await gatherLetters(database, ORIGIN, later(4 * HOUR))
  expect(await lettersOf(editor)).toMatchObject([{ subject: 'You are mentioned: A site' }])
})
