import { afterAll, expect, test } from 'vitest'
import { DAY, HOUR } from '../../core/time/units'
import type { SinceExposureView } from '../../shared/experiments/resultsReplies'
import { connect } from '../../server/database/connect'
import { findSheet } from '../../server/services/experiments/sheet'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { databaseUrl, url } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

test('an effect that wears off is seen by the days since the exposure, of those who were followed', async () => {
  const team = await createTeam(database)
  const began = Date.now() - (Date.now() % DAY) - 12 * DAY
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const id = await startedExperiment(database, team.site.id, began - DAY, order)
  /** Of a hundred visitors of an arm, so many order in the hours after the exposure, in the second day, and later. */
  const ordering = [
    [20, 20, 20],
    [60, 30, 20],
  ]
  const hours = [1, 30, 120]
  const visitors = ordering.flatMap((counts, variant) =>
    Array.from({ length: 100 }, (_, index): Happening[] => {
      const visitor = `since-${variant}-${index}`
      const at = began + index * 1000
      const orders = counts.flatMap((count, period): Happening[] => {
        // Others each time, as far as there are others.
        const isIts = (index + 35 * period) % 100 < count
        return isIts ? [{ visitor, at: at + hours[period]! * HOUR, type: 'custom', name: 'order', amount: 1 }] : []
      })
      return [{ visitor, at, type: 'exposure', experiment: id, variant }, ...orders]
    }).flat(),
  )
  // Who came yesterday was followed for a day only.
  const late = Array.from({ length: 50 }, (_, index): Happening => {
    const at = began + 11 * DAY + index * 1000
    return { visitor: `late-${index}`, at, type: 'exposure', experiment: id, variant: index % 2 }
  })
  await happen(database, team.site, [...visitors, ...late])
  await folded(database, team.site.id)
  const { metrics } = await findSheet(database, team.site.id, id)
  const viewer = await callerOf(url, team.emails.viewer)
  const path = `/api/sites/${team.site.id}/experiments/${id}/since-exposure?metric=${metrics[0]!.versionId}`
  const read = (await (await viewer('GET', path)).json()) as SinceExposureView
  expect(read).toMatchObject({ visitors: 200, isSample: false, why: null })
  const [{ readings, trend }] = read.comparisons as [SinceExposureView['comparisons'][number]]
  const rounded = (mean: number | null) => Number(mean?.toFixed(9))
  expect(readings.map(({ value, controlMean, mean }) => [value, rounded(controlMean), rounded(mean)])).toEqual([
    ['day 1', 0.2, 0.6],
    ['day 2', 0.2, 0.3],
    ['days 3 to 4', 0, 0],
    ['days 5 to 7', 0.2, 0.2],
  ])
  expect(trend!.perDoubling).toBeLessThan(0)
  expect(trend!.pValue).toBeLessThan(0.01)
  const stranger = await callerOf(url, (await createTeam(database)).emails.owner)
  expect((await stranger('GET', path)).status).toBe(404)
  expect((await viewer('GET', path.replace(/metric=.*/, 'metric=x'))).status).toBe(422)
})
