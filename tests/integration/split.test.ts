import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, expect, test } from 'vitest'
import { DAY } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { experiment } from '../../server/database/schema'
import { openQueue } from '../../server/jobs/queue'
import { addExclusion, listExclusions, removeExclusion } from '../../server/services/experiments/exclusions'
import { findSheet } from '../../server/services/experiments/sheet'
import { reopenSplit, settleSplit } from '../../server/services/experiments/splitSettlement'
import { readSplit } from '../../server/services/results/readSplit'
import { experimentResults } from '../../server/services/results/results'
import { refreshSummaries } from '../../server/services/results/summaries'
import { today } from '../../server/services/today'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { createTeam } from './people'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
const queue = await openQueue(databaseUrl, 'sender')
afterAll(async () => {
  await queue.stop({ graceful: false })
  await database.$client.end()
})

/** Noon of the day before yesterday, and of yesterday. */
const NOON = [2, 1].map((days) => Date.now() - (Date.now() % DAY) + DAY / 2 - days * DAY)
let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number
const target = () => ({ siteId: team.site.id, experimentId, personId: null })
const sheet = () => findSheet(database, team.site.id, experimentId)

/** Visitors of both variants in a browser, with an error on the page of as many of the second variant. */
function arrive(browser: string, visitors: [number, number], day = 0, errors = 0): Happening[] {
  return visitors.flatMap((count, variant) =>
    Array.from({ length: count }, (_, index): Happening => ({
      visitor: `${browser}-${day}-${variant}-${index}`,
      at: NOON[day]! + index * 20_000,
      type: 'exposure',
      experiment: experimentId,
      variant,
      view: { browser, browserVersion: '9' },
      events:
        variant === 1 && index < errors ? [{ at: NOON[day]! + index * 20_000 + 500, type: 'error', name: 'boom' }] : [],
    })),
  )
}
async function arrived(...happenings: Happening[][]): Promise<void> {
  await happen(database, team.site, happenings.flat())
  await folded(database, team.site.id)
  await refreshSummaries(database, team.site.id, [experimentId], new Date())
}
const shown = async () =>
  (await readSplit(database, await sheet())).causes.flatMap(({ cause, isShown }) => (isShown ? [cause] : []))
const isAsked = async () =>
  (await today(database, team.site.id, new Date())).needs.some(({ kind }) => kind === 'allocation')

beforeEach(async () => {
  team = await createTeam(database)
  const metric = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  experimentId = await startedExperiment(database, team.site.id, NOON[0]! - 1000, metric)
})

test('the browser in which a variant fails is found, left out in one step, and counted again', async () => {
  await arrived(arrive('Safari', [200, 80]), arrive('Firefox', [210, 205]))
  const split = await readSplit(database, await sheet())
  expect(split).toMatchObject({ arms: ['Control', 'Variant B'], visitors: 695, looked: 695 })
  const browser = split.traits.find(({ trait }) => trait === 'browser')!
  expect(browser.matters).toBe(true)
  expect(browser.values).toMatchObject([
    { value: 'Firefox', visitors: [210, 205], isOff: false },
    { value: 'Safari', visitors: [200, 80], isOff: true },
  ])
  // The same counts by a statement of our own.
  const { rows } = await database.execute(sql`
    SELECT variant, count(*)::int AS visitors FROM exposure JOIN page_view v ON v.id = view_id AND v.visitor_id = exposure.visitor_id
    WHERE experiment_id = ${experimentId} AND browser = 'Safari' GROUP BY 1 ORDER BY 1`)
  expect(rows).toEqual([
    { variant: 0, visitors: 200 },
    { variant: 1, visitors: 80 },
  ])
  // Of each trait, everybody once.
  for (const { values } of split.traits)
    expect(values.reduce((sum, { visitors }) => sum + visitors[0]! + visitors[1]!, 0)).toBe(695)
  expect(await shown()).toEqual(['fails'])

  const made = await addExclusion(database, queue, target(), {
    kind: 'segment',
    segment: { dimension: 'browser', value: 'Safari' },
    reason: 'The variant fails there.',
  } as Parameters<typeof addExclusion>[3])
  const visitors = async () =>
    (await experimentResults(database, await sheet(), new Date())).arms.map((arm) => arm.visitors)
  await expect.poll(visitors, { timeout: 120_000 }).toEqual([210, 205])
  // Who comes later is left out as well.
  await arrived(arrive('Safari', [3, 3], 1), arrive('Firefox', [1, 1], 1))
  expect(await visitors()).toEqual([211, 206])
  expect((await listExclusions(database, team.site.id, experimentId, { limit: 5 })).items).toMatchObject([
    { kind: 'segment', segment: { dimension: 'browser', value: 'Safari' } },
  ])
  await removeExclusion(database, queue, target(), made)
  await expect.poll(visitors, { timeout: 120_000 }).toEqual([414, 289])
})

test('script errors of one variant are named, and a day on which the split went wrong', async () => {
  await arrived(arrive('Firefox', [200, 200], 0, 40))
  const { causes } = await readSplit(database, await sheet())
  expect(causes.find(({ cause }) => cause === 'fails')!.because).toContain(
    '20.0 % of the visitors of Variant B had a script error, and 0.0 % in the control.',
  )
  await arrived(arrive('Firefox', [200, 90], 1))
  expect(await shown()).toContain('changed')
})

test('Today asks for the cause until it is named, and again where later days are off', async () => {
  await arrived(arrive('Safari', [300, 120]))
  expect(await isAsked()).toBe(true)
  await settleSplit(database, target(), 'Mara', { cause: 'fails', words: 'The heading breaks in Safari.', act: 'name' })
  expect(await isAsked()).toBe(false)
  expect((await sheet()).splitSettlement).toMatchObject({ cause: 'fails', person: 'Mara' })
  // Said on the first day; the second is as bad.
  await database
    .update(experiment)
    .set({
      splitSettlement: sql`jsonb_set(split_settlement, '{day}', to_jsonb(${new Date(NOON[0]!).toISOString().slice(0, 10)}::text))`,
    })
    .where(eq(experiment.id, experimentId))
  await arrived(arrive('Firefox', [300, 290], 1))
  expect(await isAsked()).toBe(false)
  await arrived(arrive('Safari', [200, 20], 1))
  expect(await isAsked()).toBe(true)
  await reopenSplit(database, target())
  await expect(reopenSplit(database, target())).rejects.toMatchObject({ status: 404 })
})

test('a restart ends the experiment without a decision, and leaves a draft like it', async () => {
  await arrived(arrive('Safari', [20, 8]))
  const { copy } = await settleSplit(database, target(), 'Mara', {
    cause: 'other',
    words: 'A wrong link.',
    act: 'restart',
  })
  expect(await sheet()).toMatchObject({
    state: 'ended',
    decision: { variant: null, reason: 'The split was not as set. A wrong link.', person: 'Mara' },
  })
  const draft = await findSheet(database, team.site.id, copy!)
  expect(draft).toMatchObject({ state: 'draft', splitSettlement: null, pageRules: [{ value: '/' }] })
  await expect(
    settleSplit(database, target(), 'Mara', { cause: 'other', words: 'x', act: 'restart' }),
  ).rejects.toMatchObject({ status: 409 })
  await expect(
    settleSplit(database, { ...target(), experimentId: copy! }, null, { cause: 'other', words: 'x', act: 'name' }),
  ).rejects.toMatchObject({ status: 409 })
})

test('a restart that is asked for twice at once makes one copy; without a split there is nothing to read', async () => {
  await arrived(arrive('Safari', [20, 8]))
  const input = { cause: 'other', words: 'Twice.', act: 'restart' } as const
  const asked = await Promise.allSettled([
    settleSplit(database, target(), null, input),
    settleSplit(database, target(), null, input),
  ])
  expect(asked.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
  expect(await database.$count(experiment, eq(experiment.siteId, team.site.id))).toBe(2)

  const whole = await sheet()
  const weights = whole.variants.map((variant, position) => ({ ...variant, weight: position }))
  await expect(readSplit(database, { ...whole, variants: weights })).rejects.toMatchObject({ status: 409 })
})
