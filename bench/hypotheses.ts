import { sql } from 'drizzle-orm'
import { startTemporaryStack } from '../cli/stack/temporaryStack'
import { chooseForQuarter, type TestableIdea } from '../core/hypotheses/quarter'
import { hypothesis, metric, metricVersion, organisation } from '../server/database/schema'
import { listHypotheses } from '../server/services/hypotheses/hypotheses'
import { figureDays } from '../server/services/hypotheses/ideaFigures'
import { createSite } from '../server/services/sites/sites'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'

const HYPOTHESES = sized(2000, 20)
const PAGES = sized(100, 10)
const METRIC = 'bench-orders'

/** Milliseconds to assess and rank two thousand hypotheses, beside reading them. */
export async function measureHypotheses(): Promise<Measurement[]> {
  const { database, stop } = await startTemporaryStack([])
  try {
    const [team] = await database.insert(organisation).values({ name: 'Bench' }).returning()
    const site = await createSite(database, team!.id, null, { address: 'https://bench.example', name: 'Bench' })
    await database.insert(metric).values({ id: METRIC, siteId: site.id, name: 'Orders' })
    const source = { type: 'event', name: 'order' } as const
    const version = { siteId: site.id, metricId: METRIC, version: 1, kind: 'conversion', source } as const
    await database.insert(metricVersion).values(version)
    await database.execute(sql`
      INSERT INTO hypothesis (site_id, title, pages, metric_id, low, likely, high, effort_days)
      SELECT ${site.id}, 'Idea ' || n, 'is:/page-' || n % ${PAGES}::int, ${METRIC}, 0, 0.02 + n % 9 * 0.01, 0.2, n % 7
      FROM generate_series(1, ${HYPOTHESES}::int) n`)
    const figures = {
      ...figureDays('UTC', new Date()),
      converters: 100,
      mean: 0.05,
      deviation: 0.2,
      unitValue: 40,
      problem: null,
    }
    await database.execute(sql`
      INSERT INTO idea_traffic (site_id, pages, audience, metric_id, figures)
      SELECT ${site.id}, 'is:/page-' || n, '', ${METRIC}, ${JSON.stringify(figures)}::jsonb || jsonb_build_object('visitors', 1000 + n)
      FROM generate_series(0, ${PAGES - 1}::int) n`)
    await database.execute(sql`ANALYZE`)
    const read = () => database.select().from(hypothesis)
    const list = () => listHypotheses(database, site.id, new Date())
    await medianMilliseconds(3, list)
    const value = await medianMilliseconds(11, list)
    const reference = await medianMilliseconds(11, read)
    return [
      {
        name: 'hypotheses',
        value: rounded(value, 3),
        unit: `ms to assess and rank ${HYPOTHESES} of ${PAGES} pages`,
        reference: {
          what: 'reading their rows, ms',
          value: rounded(reference, 3),
          ratio: rounded(value / reference, 3),
        },
        aim: 'under 1,000 ms',
      },
    ]
  } finally {
    await stop()
  }
}

/** Milliseconds to choose a quarter's tests, and how far the choice may lie below the best one. */
export async function measureQuarter(): Promise<Measurement[]> {
  const ideas = (count: number): TestableIdea[] =>
    Array.from({ length: count }, (_, id) => ({
      id,
      weeks: 2 + (id % 5),
      worth: 10 + ((id * 37) % 91),
      effortDays: 1 + (id % 4),
      pages: [...new Set([`/page-${id % 12}`, `/page-${(id * 7) % 12}`])],
    }))
  const measurements: Measurement[] = []
  const terms = { weeks: 13, effortDays: 60, taken: [] }
  const few = ideas(20)
  const reference = await medianMilliseconds(5, () => chooseForQuarter(few, terms))
  for (const count of [40, 300].slice(0, sized(2, 1))) {
    const many = ideas(count)
    const value = await medianMilliseconds(3, () => chooseForQuarter(many, terms))
    const { worth, bound } = chooseForQuarter(many, terms)
    measurements.push({
      name: 'quarter',
      value: rounded(value, 3),
      unit: `ms for ${count} ideas on 12 pages`,
      reference: {
        what: 'the same for 20 ideas, ms',
        value: rounded(reference, 3),
        ratio: rounded(value / reference, 3),
      },
      aim: 'under 5,000 ms',
      details: { worth, bound, belowBound: rounded(1 - worth / bound, 3) },
    })
  }
  return measurements
}
