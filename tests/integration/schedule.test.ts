import { and, eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { changeLog, experiment, site } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment } from '../../server/services/experiments/experiments'
import { followSchedules, scheduleExperiment } from '../../server/services/experiments/schedule'
import { findSheet } from '../../server/services/experiments/sheet'
import { HttpProblem } from '../../server/services/HttpProblem'
import { noteFirstReport } from '../../server/services/sites/sites'
import { today } from '../../server/services/today'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { HOUR } from '../../core/time/units'

const database = connect(ownStack().databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let id: number
beforeAll(async () => {
  team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
  await database.update(site).set({ timeZone: 'Europe/Dublin' }).where(eq(site.id, team.site.id))
})
afterAll(() => database.$client.end())

const target = () => ({ siteId: team.site.id, experimentId: id, personId: null })
const read = () => findSheet(database, team.site.id, id)
beforeEach(async () => {
  id = (await createExperiment(database, team.site.id, null, 'By itself')).id
  await fillSheet(database, target(), {
    pageRules: [{ match: 'exact', value: `/page-${id}` }],
    plan: PLAN,
    metrics: [primaryMetric(`Orders ${id}`, 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'B',
        weight: 1,
        edits: [{ id: `edit-${id}-0000`, kind: 'text', selector: 'h1', original: 'a', value: 'b' }],
      },
    ],
  })
})
// Far ahead, so that the worker that runs beside finds nothing due.
const NOW = new Date('2031-10-20T10:00:00Z')
const schedule = (start: string | null, end: string | null, now = NOW) =>
  scheduleExperiment(database, target(), { start, end }, now)
const at = (time: string) => followSchedules(database, new Date(time))

test('it starts and ends at the times of the site’s clock, across a change of clocks, each once', async () => {
  // Clocks go back on the 26th: eight in the morning is an hour later in UTC.
  const { schedule: set } = await schedule('2031-10-21T08:00', '2031-11-04T08:00')
  expect(set).toEqual({ start: '2031-10-21T07:00:00.000Z', end: '2031-11-04T08:00:00.000Z', problem: null })
  await at('2031-10-21T06:59:59Z')
  expect((await read()).state).toBe('draft')
  await at('2031-10-21T07:00:00Z')
  expect(await read()).toMatchObject({ state: 'running', schedule: { start: null, problem: null } })
  await at('2031-11-04T07:59:59Z')
  expect((await read()).state).toBe('running')
  await at('2031-11-04T08:00:00Z')
  await at('2031-11-04T08:00:05Z')
  expect((await read()).schedule.problem).toBeNull()
  expect(await read()).toMatchObject({ state: 'ended', decision: { reason: 'It ended as it was scheduled.' } })
  const log = await database
    .select()
    .from(changeLog)
    .where(and(eq(changeLog.subject, 'experiment'), eq(changeLog.subjectId, id)))
  const actions = log.map(({ action }) => action).filter((action) => action !== 'changed' && action !== 'created')
  expect(actions).toEqual(['scheduled', 'started', 'ended'])
})

test('what was missed is made up for once; where all of the run was missed, it says so', async () => {
  await schedule('2031-10-21T08:00', null)
  await at('2031-10-23T12:00:00Z')
  expect((await read()).state).toBe('running')
  id = (await createExperiment(database, team.site.id, null, 'Missed')).id
  await schedule('2031-10-21T08:00', '2031-10-28T08:00')
  await at('2031-11-10T12:00:00Z')
  expect(await read()).toMatchObject({
    state: 'draft',
    schedule: { start: null, end: null, problem: expect.stringContaining('while Vetch did not run') },
  })
})

test('what cannot start says why on the sheet and on Today, and is not tried again', async () => {
  await fillSheet(database, target(), { pageRules: [] })
  await schedule('2031-10-21T08:00', null)
  await at('2031-10-21T08:00:00Z')
  const { state, schedule: kept } = await read()
  expect([state, kept.start]).toEqual(['draft', null])
  expect(kept.problem).toContain('Name the page that the experiment runs on.')
  const { needs } = await today(database, team.site.id, NOW)
  expect(needs).toContainEqual(
    expect.objectContaining({ title: 'By itself did not start by itself', text: kept.problem }),
  )
})

test('times that have passed, lie the wrong way round, or are none are refused by field', async () => {
  const problemOf = async (start: string | null, end: string | null) => {
    const refused = await schedule(start, end).then(
      () => null,
      (error: unknown) => error,
    )
    expect(refused).toBeInstanceOf(HttpProblem)
    return (refused as HttpProblem).fields
  }
  expect(await problemOf('2031-10-20T10:59', null)).toEqual({ start: expect.stringContaining('has passed') })
  expect(await problemOf('2031-10-21T08:00', '2031-10-21T07:00')).toEqual({
    end: expect.stringContaining('before it starts'),
  })
  expect(await problemOf('2031-02-30T08:00', null)).toEqual({ start: expect.stringContaining('no such day') })
  await database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(NOW.getTime() - HOUR) })
    .where(eq(experiment.id, id))
  await expect(schedule('2031-10-21T08:00', null)).rejects.toThrow('Only its end can be set')
  expect((await schedule(null, '2031-11-21T08:00')).schedule.end).toBe('2031-11-21T08:00:00.000Z')
})
