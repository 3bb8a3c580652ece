import type { MetricSource } from '../../../core/measurement/metric'
import { CAMPAIGN_PARAMETERS, parametersIn } from '../../../core/targeting/address'
import type { FactTest } from '../../../core/targeting/condition'
import type { PageRule } from '../../../core/targeting/pageRule'
import type { ListenedAmount } from '../../../shared/delivery/siteFile'
import type { Queries } from '../../database/connect'
import { experimentMetric, metricVersion } from '../../database/schema'
import { and, eq, inArray } from 'drizzle-orm'

/** What the metrics of experiments count. */
export async function measuredSources(
  tx: Queries,
  siteId: number,
  experiments: readonly number[],
): Promise<MetricSource[]> {
  if (experiments.length === 0) return []
  const rows = await tx
    .selectDistinctOn([metricVersion.id], { source: metricVersion.source, denominator: metricVersion.denominator })
    .from(metricVersion)
    .innerJoin(experimentMetric, eq(experimentMetric.metricVersionId, metricVersion.id))
    .where(and(eq(metricVersion.siteId, siteId), inArray(experimentMetric.experimentId, [...experiments])))
  return rows.flatMap(({ source, denominator }) => (denominator ? [source, denominator] : [source]))
}

/** Amounts stand on the page and are read where a metric asks for them; everything else is reported in any case. */
export function listenedAmounts(sources: readonly MetricSource[]): ListenedAmount[] {
  const amounts = new Map<string, ListenedAmount>()
  for (const source of sources) {
    if (source.type !== 'pageAmount') continue
    const { page, selector, reference = null } = source
    amounts.set(JSON.stringify([page, selector, reference]), { page, selector, reference })
  }
  return [...amounts.values()]
}

/** Query parameters that may be kept: those of campaigns, those that the site lists, and those that a rule compares. */
export function keptParameters(
  own: readonly string[],
  rules: readonly PageRule[],
  sources: readonly MetricSource[],
  tests: readonly FactTest[],
): string[] {
  const pages = sources.flatMap((source) => ('page' in source && source.page ? [source.page] : []))
  const named = [...rules, ...pages].flatMap(({ value, parameter }) => [
    ...parametersIn(value),
    ...(parameter ? [parameter] : []),
  ])
  const asked = tests.flatMap(({ fact, name }) => (fact === 'parameter' && name ? [name] : []))
  return [...new Set([...CAMPAIGN_PARAMETERS, ...own, ...named, ...asked])]
}
