import { afterAll, expect, test } from 'vitest'
import { DAY, HOUR } from '../../core/time/units'
import type { InteractionView } from '../../shared/experiments/resultsReplies'
import { connect } from '../../server/database/connect'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { ownStack } from './ownStack'
import { callerOf, createTeam } from './people'

const { databaseUrl, url } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

test('an effect that only visitors of another experiment’s variant have is told, and few shared visitors are not', async () => {
  const team = await createTeam(database)
  const noon = Date.now() - (Date.now() % DAY) - 12 * HOUR
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const ours = await startedExperiment(database, team.site.id, noon - DAY, order)
  const other = await startedExperiment(database, team.site.id, noon - DAY, order)
  const few = await startedExperiment(database, team.site.id, noon - DAY, order)
  /** Of a hundred visitors of each pair of variants, so many order. */
  const ordering = [
    [20, 20],
    [20, 60],
  ]
  const happenings = ordering.flatMap((row, b) =>
    row.flatMap((orders, a) =>
      Array.from({ length: 100 }, (_, index): Happening[] => {
        const visitor = `visitor-${a}-${b}-${index}`
        const at = noon + index * 1000
        const saw = (experiment: number, variant: number, ms: number): Happening => ({
          visitor,
          at: at + ms,
          type: 'exposure',
          experiment,
          variant,
        })
        return [
          saw(ours, a, 0),
          saw(other, b, 10),
          ...(index < 20 ? [saw(few, 0, 20)] : []),
          ...(index < orders ? [{ visitor, at: at + 60_000, type: 'custom', name: 'order', amount: 1 } as const] : []),
        ]
      }).flat(),
    ),
  )
  await happen(database, team.site, happenings)
  await folded(database, team.site.id)
  const viewer = await callerOf(url, team.emails.viewer)
  const read = async (id: number) =>
    (await (
      await viewer('GET', `/api/sites/${team.site.id}/experiments/${id}/interactions`)
    ).json()) as InteractionView[]
  const [found, ...more] = await read(ours)
  expect(more).toEqual([])
  expect(found).toMatchObject({ experimentId: other, visitors: 400 })
  const [comparison] = found!.comparisons
  expect(comparison!.readings.map(({ visitors, controlMean, mean }) => [visitors, controlMean, mean])).toEqual([
    [200, 0.2, 0.2],
    [200, 0.2, 0.6],
  ])
  // The logarithms of the ratios are 0 and log 3, with variances 0.08 and 0.04667: z = 3.086.
  expect(comparison!.adjustedPValue).toBeCloseTo(0.00203, 4)
  // The other way round it is the same interaction.
  expect((await read(other))[0]!.comparisons[0]!.heterogeneity.pValue).toBeCloseTo(
    comparison!.heterogeneity.pValue!,
    10,
  )
  const stranger = await callerOf(url, (await createTeam(database)).emails.owner)
  expect((await stranger('GET', `/api/sites/${team.site.id}/experiments/${ours}/interactions`)).status).toBe(404)
})
