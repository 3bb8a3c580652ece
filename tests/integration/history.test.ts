import { and, eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { HOUR } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { alarm, changeLog, experiment, finding, metricVersion, site } from '../../server/database/schema'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { findSheet } from '../../server/services/experiments/sheet'
import { startRollout } from '../../server/services/rollouts/rollouts'
import type { DayNoteView, MarkView } from '../../shared/history/replies'
import { rolloutSchema } from '../../shared/rollouts/rollout'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 3)
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number
const SPAN = '?from=2026-03-01&to=2026-03-31'
/** One o'clock at night in Dublin, where summer time begins on March 29. */
const at = (day: string) => new Date(`${day}T00:30:00Z`)

beforeAll(async () => {
  team = await createTeam(database)
  await database.update(site).set({ timeZone: 'Europe/Dublin' }).where(eq(site.id, team.site.id))
  experimentId = await startedExperiment(
    database,
    team.site.id,
    at('2026-03-02').getTime(),
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
})

const call = async (
  who: 'viewer' | 'editor',
  method: 'GET' | 'POST' | 'PATCH' | 'DELETE',
  path: string,
  body?: object,
) => (await callerOf(url, team.emails[who]))(method, `/api/sites/${team.site.id}${path}`, body)
const marks = async () => (await (await call('viewer', 'GET', `/marks${SPAN}`)).json()) as MarkView[]
const told = async () =>
  (await marks()).map(({ day, kind, title, words }) => `${day} ${kind}: ${title} ${words}`.trim())

test('whatever happened on a site stands on its day, by the clock of the site, and leads to its thing', async () => {
  const of = { siteId: team.site.id, experimentId, personId: null }
  const raised = { siteId: team.site.id, subject: 'experiment', subjectId: experimentId, action: 'changed' }
  await database.insert(changeLog).values([
    { ...raised, at: at('2026-03-05'), after: { share: 10_000 }, words: 'Traffic share: 50 % became 100 %' },
    // Renaming moves nothing, and a share that was typed before the start had no visitors.
    { ...raised, at: at('2026-03-06'), after: { name: 'Other' }, words: 'renamed' },
    { ...raised, at: at('2026-03-01'), after: { share: 5000 }, words: 'before the start' },
  ])
  const { variants } = await findSheet(database, team.site.id, experimentId)
  await endExperiment(database, of, { variant: variants[1]!.id, reason: 'More orders.', person: null })
  // Half past midnight in winter time is still half past midnight; in summer time it is the hour before.
  await database
    .update(experiment)
    .set({ endedAt: new Date('2026-03-29T23:30:00Z') })
    .where(eq(experiment.id, experimentId))
  const { id: rolloutId } = await startRollout(database, of, rolloutSchema.validateSync({}), new Date())
  await database
    .update(changeLog)
    .set({ at: at('2026-03-31') })
    .where(and(eq(changeLog.subject, 'rollout'), eq(changeLog.subjectId, rolloutId)))
  const [first] = await database.select().from(metricVersion).where(eq(metricVersion.siteId, team.site.id))
  const { id: _, ...version } = first!
  await database.insert(metricVersion).values({ ...version, version: 2, createdAt: at('2026-03-10') })
  await database.insert(alarm).values({
    siteId: team.site.id,
    experimentId,
    check: 'split',
    cause: 'split',
    text: 'The split is off.',
    openedAt: at('2026-03-11'),
    lastSeenAt: at('2026-03-11'),
    closedAt: new Date(at('2026-03-11').getTime() + HOUR),
  })
  await database.insert(finding).values({
    siteId: team.site.id,
    title: 'Fares are missed',
    severity: 'medium',
    source: 'note',
    createdAt: at('2026-03-01'),
  })

  expect(await told()).toEqual([
    '2026-03-01 finding: Fares are missed noted',
    '2026-03-02 start: Started started',
    '2026-03-05 share: Started Traffic share: 50 % became 100 %',
    '2026-03-10 definition: Booked has a new definition, version 2',
    '2026-03-11 alarm: Started The split is off.',
    '2026-03-30 end: Started ended. More orders.',
    expect.stringMatching(/^2026-03-31 rollout: Started rolled out/),
  ])
  const paths = (await marks()).map(({ path }) => path)
  expect(paths.slice(1)).toEqual([
    `/experiments/${experimentId}`,
    `/experiments/${experimentId}`,
    `/setup/metrics?metric=${first!.metricId}`,
    `/experiments/${experimentId}#alarms`,
    `/experiments/${experimentId}`,
    `/rollouts/${rolloutId}`,
  ])
  // Another site knows nothing of it, and days that are not asked for are not told.
  const other = await createTeam(database)
  const strangers = await (await callerOf(url, other.emails.owner))('GET', `/api/sites/${other.site.id}/marks${SPAN}`)
  expect(await strangers.json()).toEqual([])
  const later = await call('viewer', 'GET', '/marks?from=2026-04-01&to=2026-04-30')
  expect(await later.json()).toEqual([])
})

test('notes on days are written, changed and deleted by editors, with a message for what is missing', async () => {
  const added = await call('editor', 'POST', '/day-notes', { day: '2026-03-15', words: ' Prices were raised ' })
  const note = (await added.json()) as DayNoteView
  expect(note).toMatchObject({ day: '2026-03-15', words: 'Prices were raised', person: expect.any(String) as string })
  expect(await told()).toContain('2026-03-15 note:  Prices were raised')

  const empty = await call('editor', 'POST', '/day-notes', { day: '2026-02-30', words: '  ' })
  expect([empty.status, await empty.json()]).toMatchObject([
    422,
    { data: { fields: { day: 'There is no such day.', words: 'Say in a few words what happened.' } } },
  ])
  expect((await call('viewer', 'POST', '/day-notes', { day: '2026-03-15', words: 'Mine' })).status).toBe(403)
  const moved = await call('editor', 'PATCH', `/day-notes/${note.id}`, {
    day: '2026-03-16',
    words: 'Prices were raised',
  })
  expect(moved.status).toBe(200)
  expect((await told()).filter((each) => each.includes('note:'))).toEqual(['2026-03-16 note:  Prices were raised'])

  const other = await createTeam(database)
  const stranger = await callerOf(url, other.emails.owner)
  const theirs = `/api/sites/${other.site.id}/day-notes/${note.id}`
  expect((await stranger('DELETE', theirs)).status).toBe(404)
  expect((await call('editor', 'DELETE', `/day-notes/${note.id}`)).status).toBe(200)
  expect((await told()).filter((each) => each.includes('note:'))).toEqual([])
  const again = await call('editor', 'PATCH', `/day-notes/${note.id}`, { day: '2026-03-16', words: 'x' })
  expect([again.status, ((await again.json()) as { message: string }).message]).toEqual([
    404,
    'This note does not exist any more.',
  ])
  const { rows } = await database.execute<{ action: string }>(
    `SELECT action FROM change_log WHERE subject = 'day note' AND site_id = ${team.site.id} ORDER BY id`,
  )
  expect(rows.map(({ action }) => action)).toEqual(['added', 'changed', 'deleted'])
})
