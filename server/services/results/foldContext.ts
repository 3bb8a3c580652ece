import type { ExpectationModel } from '../../../core/measurement/expectedValue'
import { isOfVisits, type MetricDefinition } from '../../../core/measurement/metric'
import { type DatedRate, inOwnCurrency, type Money } from '../../../core/measurement/money'
import { type MeasuredExposure, PAST_DAYS } from '../../../core/measurement/visitorNumbers'
import { matchesPage, type PageRule } from '../../../core/targeting/pageRule'
import { siteDays } from '../../../core/time/siteDay'
import { groupBy } from '../groupBy'
import { excludes, type Exclusion, type FirstExposure, type KnownVisitor } from './exclusion'
import * as queries from './queries'
import { converted, type Convert, type StoredEvent } from './storedEvent'
import type { PoolClient } from 'pg'
import { DAY } from '../../../core/time/units'

/** A metric of an experiment, in the version that it is measured by. */
export interface MeasuredMetric extends MetricDefinition {
  id: number
  /** What its plan adjusts it by; null for all but primary metrics, and where nothing is adjusted. */
  expectation: ExpectationModel | null
}

interface StartedExperiment {
  experiment: number
  until: number | null
  pageRules: PageRule[]
  isOfPersons: boolean | null
  /** How many periods its weights had; 0 where the split does not move. */
  periods: number
}

/** What the fold goes by on a site: read once for a portion. */
export interface FoldContext {
  siteId: number
  dayOf: (at: number) => string
  /** Experiments that were started, with their ends. */
  ends: ReadonlyMap<number, number | null>
  /** Whether an exposure was drawn by weights that its experiment had. */
  wasDrawn: (exposure: { experiment: number; period?: number | null }) => boolean
  /** Experiments in which each person is one, on every device. */
  ofPersons: ReadonlySet<number>
  metricsOf: (experiment: number) => readonly MeasuredMetric[]
  /** Whether anything that is measured is counted of whole visits, or adjusted by them. */
  needsVisits: boolean
  measured: (exposure: { experiment: number; at: number; view: string }) => MeasuredExposure
  /** Whether anything of an experiment is adjusted by what was before the exposure. */
  isAdjusted: (experiment: number) => boolean
  /** Why a visitor of an experiment is not counted, or null. */
  leftOut: (experiment: number, visitor: KnownVisitor, exposure: FirstExposure) => string | null
  /** An event with its amount in the site's currency. */
  inMoney: <Event extends StoredEvent>(event: Event) => Event
  /** What an amount of a moment counts as in the site's currency; null where there is no rate for it. */
  convert: Convert
  /** Whether all events of a visitor since an exposure are still there to be read. */
  hasEvents: (exposure: { at: number }) => boolean
  /** Whether those of the past that metrics are adjusted by are there, too. */
  hasPast: (exposure: { at: number }) => boolean
}

export async function readFoldContext(client: PoolClient, siteId: number): Promise<FoldContext> {
  const rows = async <Row extends object>(plan: string) => (await client.query<Row>(plan, [siteId])).rows
  const [site] = await rows<{ timeZone: string; currency: string; rawSince: number | null }>(queries.SITE_MONEY)
  const rates = await rows<DatedRate>(queries.SITE_RATES)
  const experiments = await rows<StartedExperiment>(queries.STARTED_EXPERIMENTS)
  const measured = await rows<MeasuredMetric & { experiment: number }>(queries.METRICS_OF_EXPERIMENTS)
  const metrics = groupBy(measured, ({ experiment }) => experiment)
  const ends = new Map(experiments.map(({ experiment, until }) => [experiment, until]))
  const rules = new Map(experiments.map(({ experiment, pageRules }) => [experiment, pageRules]))
  const periods = new Map(experiments.map((each) => [each.experiment, each.periods]))
  const excluded = await rows<Omit<Exclusion, 'visitors'> & { visitors: string[] | null }>(queries.EXCLUSIONS)
  const exclusions = groupBy(
    excluded.map((each): Exclusion => ({ ...each, visitors: each.visitors && new Set(each.visitors) })),
    ({ experiment }) => experiment,
  )
  const money: Money = { currency: site!.currency, rates }
  const dayOf = siteDays(site!.timeZone)
  const convert: Convert = ({ amount, currency, at }) => inOwnCurrency(money, amount, currency, dayOf(at))
  const rawSince = site!.rawSince ?? -Infinity
  return {
    siteId,
    dayOf,
    ends,
    wasDrawn({ experiment, period = null }) {
      const known = periods.get(experiment) ?? 0
      return known === 0 || (period !== null && period < known)
    },
    ofPersons: new Set(experiments.flatMap((each) => (each.isOfPersons ? [each.experiment] : []))),
    metricsOf: (experiment) => metrics.get(experiment) ?? [],
    needsVisits: measured.some((metric) => metric.expectation !== null || countsVisits(metric)),
    measured: ({ experiment, at, view }) => ({
      at,
      view,
      until: ends.get(experiment) ?? null,
      isTested: (address) => matchesPage(rules.get(experiment) ?? [], address),
    }),
    isAdjusted: (experiment) => (metrics.get(experiment) ?? []).some(({ expectation }) => expectation !== null),
    leftOut: (experiment, visitor, exposure) =>
      visitor.leftOut ??
      (exclusions.get(experiment)?.some((each) => excludes(each, visitor, exposure)) ? 'excluded' : null),
    inMoney: (event) => converted(event, convert),
    convert,
    hasEvents: ({ at }) => at >= rawSince,
    hasPast: ({ at }) => at >= rawSince + PAST_DAYS * DAY,
  }
}

/** Whether a metric, or what it is divided by, is counted of whole visits. */
export function countsVisits({ source, denominator }: MetricDefinition): boolean {
  return isOfVisits(source) || (!!denominator && isOfVisits(denominator))
}
