import { and, eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, expect, test } from 'vitest'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { HOUR, MINUTE } from '../../core/time/units'
import type { SelfPause } from '../../core/verdict/verdict'
import type { AlarmView } from '../../shared/watch/replies'
import { connect } from '../../server/database/connect'
import { alarm, exposureCount, experiment, rollout, session, watchedHour } from '../../server/database/schema'
import { pausedFor } from '../../server/services/experiments/driftCheck'
import { changesOf } from '../../server/services/changes'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import type { TryPage } from '../../server/services/experiments/triedPages'
import { checkRollout, dueForRolloutCheck } from '../../server/services/rollouts/rolloutCheck'
import { changeRollout, startRollout } from '../../server/services/rollouts/rollouts'
import { today } from '../../server/services/today'
import { watchedSites, watchSite } from '../../server/services/watch/watchSite'
import { hourOf } from '../../server/services/watch/watchedHours'
import { rolloutSchema } from '../../shared/rollouts/rollout'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { databaseUrl, url } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

/** The beginning of an hour: what is over then is known. */
const NOW = hourOf(new Date())
const later = (minutes: number) => new Date(NOW.getTime() + minutes * MINUTE)
const PLENTY = { free: 1e12, size: 2e12 }
type Team = Awaited<ReturnType<typeof createTeam>>
let team: Team
let experimentId: number

beforeEach(async () => {
  team = await createTeam(database)
  experimentId = await startedExperiment(
    database,
    team.site.id,
    NOW.getTime() - 20 * 24 * HOUR,
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
})

/** Visits of the site in each hour, from so many hours ago until so many: five weeks, where nothing else is said. */
async function visitsCome(anHour: number, from = 35 * 24, until = 1): Promise<void> {
  await database.execute(sql`
    INSERT INTO session (site_id, visitor_id, id, started_at, ended_at, views, entry_address, exit_address, device, system, browser)
    SELECT ${team.site.id}, 'v' || hour || '-' || n, 's' || hour || '-' || n, at, at, 1, '/', '/', 'phone', 'a', 'b'
    FROM generate_series(${until}::int, ${from}::int) AS hour, generate_series(1, ${anHour}::int) AS n,
      LATERAL (SELECT ${NOW}::timestamptz - hour * interval '1 hour' + n * interval '1 minute' AS at) times`)
}

/** What the watch would have kept: so many visitors of each variant in each of the last ten days' hours. */
async function visitorsCame(anHour: number): Promise<void> {
  const rows = Array.from({ length: 190 }, (_, index) => ({
    siteId: team.site.id,
    experimentId,
    hour: new Date(NOW.getTime() - (index + 1) * HOUR),
    counts: { visitors: [0, 1].map(() => (190 - index) * anHour), active: {} },
  }))
  await database.insert(watchedHour).values(rows)
  await countsNow([190 * anHour, 190 * anHour])
}

/** What the fold has counted by now. */
async function countsNow(visitors: readonly number[]): Promise<void> {
  for (const [variant, count] of visitors.entries())
    await database
      .insert(exposureCount)
      .values({ siteId: team.site.id, experimentId, variant, dimension: 'day', value: '2026-01-01', visitors: count })
      .onConflictDoUpdate({
        target: [
          exposureCount.siteId,
          exposureCount.experimentId,
          exposureCount.dimension,
          exposureCount.value,
          exposureCount.variant,
        ],
        set: { visitors: count },
      })
}

const look = (at = NOW, disk = PLENTY) => watchSite(database, team.site.id, at, disk)
const alarms = () => database.select().from(alarm).where(eq(alarm.siteId, team.site.id)).orderBy(alarm.id)
const kinds = async () =>
  (await alarms()).map(({ check, cause, closedAt }) => `${check} ${cause}${closedAt ? ' over' : ''}`)

test('a site that falls silent is one alarm, which closes by itself once visits are back for an hour', async () => {
  await visitsCome(30, 35 * 24, 3)
  await look()
  expect(await kinds()).toEqual(['traffic few'])
  expect((await alarms())[0]!.text).toBe('0 visits came in the last hour; about 30 are usual at this time of the week.')
  for (const minutes of [5, 10]) await look(later(minutes))
  expect(await kinds()).toEqual(['traffic few'])

  // They were kept back by a browser's network, and come late.
  await visitsCome(30, 2, 0)
  await look(later(15))
  expect(await kinds()).toEqual(['traffic few'])
  await look(later(65))
  await look(later(75))
  expect(await kinds()).toEqual(['traffic few over'])
})

test('visits are counted from what is stored, and a sound site and experiment give no alarm', async () => {
  await visitsCome(12)
  await visitorsCame(5)
  await look()
  const [latest] = await database
    .select({ counts: watchedHour.counts })
    .from(watchedHour)
    .where(
      and(
        eq(watchedHour.siteId, team.site.id),
        eq(watchedHour.experimentId, 0),
        eq(watchedHour.hour, new Date(NOW.getTime() - HOUR)),
      ),
    )
  expect(latest!.counts).toMatchObject({
    visits: await database.$count(
      session,
      sql`site_id = ${team.site.id} AND started_at >= ${new Date(NOW.getTime() - HOUR)}`,
    ),
  })
  // What the fold has counted by now is kept for this hour.
  const [own] = await database
    .select({ counts: watchedHour.counts })
    .from(watchedHour)
    .where(and(eq(watchedHour.experimentId, experimentId), eq(watchedHour.hour, NOW)))
  expect(own!.counts.visitors).toEqual([950, 950])
  expect(await kinds()).toEqual([])
})

test('when changes showed is counted as browsers tell it, and a variant that shows late is an alarm', async () => {
  const at = NOW.getTime() - 20 * MINUTE
  const came = [0, 1].flatMap((variant) =>
    Array.from({ length: 10 }, (_, index): Happening => {
      const shownAfter = index === 9 ? undefined : variant === 1 && index < 6 ? 2001 : 2000
      const exposed = { at, type: 'exposure' as const, experiment: experimentId, variant, shownAfter }
      return { visitor: `shown-${variant}-${index}`, at, events: [exposed] }
    }),
  )
  await happen(database, team.site, came)
  await folded(database, team.site.id)
  await visitsCome(20)
  await look()
  const kept = async (hour: Date) =>
    (
      await database
        .select({ counts: watchedHour.counts })
        .from(watchedHour)
        .where(and(eq(watchedHour.experimentId, experimentId), eq(watchedHour.hour, hour)))
    )[0]!.counts
  expect(await kept(NOW)).toMatchObject({ visitors: [10, 10], timed: [9, 9], late: [0, 6] })

  // A tenth of all see changes late; of the variant half do since yesterday.
  const rows = Array.from({ length: 190 }, (_, index) => {
    const [hours, ofToday] = [190 - index, Math.max(0, 24 - index)]
    const late = [hours, hours + 4 * ofToday]
    const counts = { visitors: [10 * hours, 10 * hours], timed: [10 * hours, 10 * hours], late, active: {} }
    return { siteId: team.site.id, experimentId, hour: new Date(NOW.getTime() - (index + 1) * HOUR), counts }
  })
  await database.insert(watchedHour).values(rows)
  await look()
  expect(await kinds()).toEqual(['late all'])
  expect((await alarms())[0]!.text).toBe(
    'Changes showed after more than 2 s to 144 visitors in the last day; about 48 would be usual.',
  )
})

test('views that come late are counted once, as they come in, and far more of them than usual are an alarm', async () => {
  const viewsCome = (count: number, late: number, minutesLate: number) =>
    happen(
      database,
      team.site,
      Array.from({ length: count }, (_, index) => {
        const at = NOW.getTime() - 2 * HOUR + index
        const receivedAt = new Date(at + (index < late ? minutesLate * MINUTE + 1 : MINUTE))
        return { visitor: `late-${minutesLate}-${index}`, at, view: { receivedAt } }
      }),
    )
  const ofHour = async (hour = NOW) => {
    const [row] = await database
      .select({ counts: watchedHour.counts })
      .from(watchedHour)
      .where(and(eq(watchedHour.siteId, team.site.id), eq(watchedHour.experimentId, 0), eq(watchedHour.hour, hour)))
    return [row!.counts.arrivedLate, row!.counts.arrived]
  }
  // What came in before the first look is not counted: nobody looked.
  await viewsCome(5, 5, 30)
  await folded(database, team.site.id)
  await look()
  expect(await ofHour()).toEqual([0, 0])
  await database
    .insert(watchedHour)
    .values(
      Array.from({ length: 168 }, (_, index) => ({
        siteId: team.site.id,
        experimentId: 0,
        hour: new Date(NOW.getTime() - (index + 24) * HOUR),
        counts: { arrived: 50, arrivedLate: 1 },
      })),
    )
    .onConflictDoUpdate({
      target: [watchedHour.siteId, watchedHour.experimentId, watchedHour.hour],
      set: { counts: { arrived: 50, arrivedLate: 1 } },
    })
  await viewsCome(200, 101, 9)
  await folded(database, team.site.id)
  await look(later(1))
  expect(await ofHour()).toEqual([0, 200])
  await viewsCome(300, 120, 10)
  await folded(database, team.site.id)
  await look(later(2))
  await look(later(3))
  expect(await ofHour()).toEqual([120, 500])
  expect((await alarms()).map(({ text }) => text)).toEqual([
    '120 of 500 views of the last day came more than 10 minutes late; usually it is 2.0 %. Ask whoever runs Vetch whether browsers reach it.',
  ])

  // After hours in which nobody looked, what came meanwhile is not taken for what came in this one.
  await viewsCome(50, 50, 20)
  await folded(database, team.site.id)
  await look(later(600))
  expect(await ofHour(later(600))).toEqual([0, 0])
})

test('an experiment that visitors reach no more, and a full disk, are alarms beside each other', async () => {
  await visitsCome(20)
  await visitorsCame(5)
  // Nothing more came in the last six hours.
  await database
    .update(watchedHour)
    .set({ counts: { visitors: [900, 900], active: {} } })
    .where(and(eq(watchedHour.experimentId, experimentId), sql`hour >= ${new Date(NOW.getTime() - 10 * HOUR)}`))
  await look(NOW, { free: 1e9, size: 1e12 })
  expect(await kinds()).toEqual(['disk disk', 'visitors few'])
  const { needs } = await today(database, team.site.id, NOW)
  expect(needs.filter(({ kind }) => kind === 'alarm').map(({ title, link }) => [title, link])).toEqual([
    [expect.stringContaining('hardly any visitors'), `/sites/${team.site.id}/experiments/${experimentId}#alarms`],
    ['The disk is nearly full', `/sites/${team.site.id}/alarms`],
  ])
})

/** A rollout of the experiment's variant, served since so many hours ago. */
async function servedSince(hours: number): Promise<number> {
  const { variants } = await findSheet(database, team.site.id, experimentId)
  const target = { siteId: team.site.id, experimentId, personId: null }
  await endExperiment(database, target, { variant: variants[1]!.id, reason: 'More orders.', person: null })
  const { id } = await startRollout(database, target, rolloutSchema.validateSync({}), NOW)
  const at = new Date(NOW.getTime() - hours * HOUR)
  await database.update(rollout).set({ createdAt: at, changedAt: at }).where(eq(rollout.id, id))
  return id
}

test('a rollout that visitors do not get any more, or whose page has changed, is an alarm of the rollout', async () => {
  await visitsCome(20)
  const rolloutId = await servedSince(150)
  // Visitors of the last hours see the page without it.
  await happen(
    database,
    team.site,
    Array.from({ length: 137 * 5 }, (_, index): Happening => {
      const at = NOW.getTime() - 13 * HOUR - Math.floor(index / 5) * HOUR - MINUTE
      const exposed = { at, type: 'exposure' as const, experiment: rolloutId, variant: 0 }
      return { visitor: `served-${index}`, at, events: [exposed] }
    }),
  )
  await folded(database, team.site.id)
  const pageWith =
    (matches: number): TryPage =>
    (_, selectors) =>
      Promise.resolve({
        found: selectors.map((selector) => ({ selector, matches, text: null, isLink: false })),
        policies: [],
      })
  expect(await dueForRolloutCheck(database, NOW)).toContainEqual({ siteId: team.site.id, rolloutId })
  await checkRollout(database, { siteId: team.site.id, rolloutId }, NOW, pageWith(1))
  await checkRollout(database, { siteId: team.site.id, rolloutId }, later(1), pageWith(0))
  expect(await dueForRolloutCheck(database, later(2))).not.toContainEqual({ siteId: team.site.id, rolloutId })
  expect(await watchedSites(database)).toContain(team.site.id)
  await look(later(2))

  const shown = await alarms()
  expect(shown.map(({ experimentId: of, rolloutId: served, text }) => [of, served, text])).toEqual([
    [null, rolloutId, '0 visitors got it in the last 12 hours; by the visits of the site about 48 would be usual.'],
    [null, rolloutId, '/ does not carry the script line any more.'],
  ])
  const viewer = await callerOf(url, team.emails.viewer)
  const listed = await viewer('GET', `/api/sites/${team.site.id}/alarms?rollout=${rolloutId}`)
  const views = (await listed.json()) as AlarmView[]
  expect(views.map(({ name, check }) => `${name} ${check}`)).toEqual(['Started page', 'Started visitors'])
  const { needs } = await today(database, team.site.id, NOW)
  expect(needs.filter(({ kind }) => kind === 'alarm').map(({ title, link }) => [title, link])).toEqual([
    ['Started: its page has changed', `/sites/${team.site.id}/rollouts/${rolloutId}#alarms`],
    ['Started: hardly any visitors', `/sites/${team.site.id}/rollouts/${rolloutId}#alarms`],
  ])
  const { items } = await changesOf(database, team.site.id, { subject: 'rollout', id: rolloutId }, { limit: 2 })
  expect(items.map(({ words }) => words)).toEqual(shown.map(({ text }) => `alarm: ${text}`).reverse())

  // What is not served is not looked at, and what was wrong with it is over.
  const target = { siteId: team.site.id, rolloutId, personId: null }
  await changeRollout(database, target, { version: 1, isOn: false }, later(3))
  await look(later(70))
  expect((await kinds()).slice(0, 2)).toEqual(['visitors few over', expect.stringMatching(/^page .* over$/)])
})

test('an editor acknowledges an alarm with a word; strangers and viewers do not, and it stays with the experiment', async () => {
  await countsNow([1000, 700])
  await look()
  const [found] = await alarms()
  expect(found).toMatchObject({ check: 'split', experimentId })
  const path = `/api/sites/${team.site.id}/alarms`
  const acknowledge = async (who: 'viewer' | 'editor', word: string) =>
    (await callerOf(url, team.emails[who]))('POST', `${path}/${found!.id}/acknowledgement`, { word })
  expect((await acknowledge('viewer', 'Mine.')).status).toBe(403)
  const empty = await acknowledge('editor', '  ')
  expect([empty.status, ((await empty.json()) as { message: string }).message]).toEqual([
    422,
    expect.stringContaining('Say what you know'),
  ])
  const other = await createTeam(database)
  const stranger = await callerOf(url, other.emails.owner)
  expect((await stranger('POST', `${path}/${found!.id}/acknowledgement`, { word: 'Mine.' })).status).toBe(404)
  expect(
    (await stranger('POST', `/api/sites/${other.site.id}/alarms/${found!.id}/acknowledgement`, { word: 'x' })).status,
  ).toBe(404)

  expect((await acknowledge('editor', 'I look at the redirect.')).status).toBe(200)
  const viewer = await callerOf(url, team.emails.viewer)
  const [seen] = (await (await viewer('GET', `${path}?experiment=${experimentId}`)).json()) as AlarmView[]
  expect(seen).toMatchObject({ check: 'split', closedAt: null, acknowledged: { word: 'I look at the redirect.' } })
  const { rows } = await database.execute<{ words: string }>(sql`
    SELECT words FROM change_log WHERE site_id = ${team.site.id} AND subject_id = ${experimentId} ORDER BY id`)
  expect(rows.map(({ words }) => words).slice(-2)).toEqual([
    expect.stringMatching(/^alarm: The split is not as it was set/),
    'acknowledged an alarm: I look at the redirect.',
  ])
})

test.each<[SelfPause, string]>([
  ['target', 'running'],
  ['harm', 'running'],
  ['split', 'paused'],
  ['both', 'paused'],
])('a plan that pauses for “%s” is %s where the split is broken', async (pausesFor, state) => {
  await database
    .update(experiment)
    .set({ plan: { ...PLAN, pausesFor } })
    .where(eq(experiment.id, experimentId))
  await countsNow([1000, 700])
  await look()
  await look(later(5))
  expect((await findSheet(database, team.site.id, experimentId)).state).toBe(state)
  const reason = (await pausedFor(database, team.site.id)).get(experimentId)
  expect(reason).toEqual(state === 'paused' ? expect.stringContaining('The split is not as it was set') : undefined)
  if (state === 'running') return
  // Whoever resumes it has seen why, and is not overruled.
  await moveExperiment(database, { siteId: team.site.id, experimentId, personId: null }, 'resume')
  for (const minutes of [10, 75, 150]) await look(later(minutes))
  expect((await findSheet(database, team.site.id, experimentId)).state).toBe('running')
})

test('while numbers wait to be counted, no alarm closes for not being found', async () => {
  await countsNow([1000, 700])
  await look()
  await database.execute(sql`
    INSERT INTO page_view (site_id, visitor_id, id, seq, session_id, occurred_at, received_at, address, digest, clock_offset,
      device, system, browser, is_team, is_robot)
    SELECT ${team.site.id}, 'late', ${timeOrderedId(Date.now(), 1, new Uint8Array(8))}::uuid, 9000000000, 's', now(),
      now() - interval '10 minutes', '/', '', 0, 'phone', 'a', 'b', false, false`)
  for (const minutes of [30, 90, 150]) await look(later(minutes))
  expect((await kinds()).sort()).toEqual(['delay delay', 'split split'])
})
