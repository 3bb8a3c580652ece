import type { PoolClient } from 'pg'
import { inOwnCurrency, type DatedRate, type Money } from '../../../core/measurement/money'
import { isOfVisits, type MeasuredEvent, type MetricDefinition } from '../../../core/measurement/metric'
import { PAST_DAYS, type MeasuredExposure } from '../../../core/measurement/visitorNumbers'
import { matchesPage, type PageRule } from '../../../core/targeting/pageRule'
import { siteDays } from '../../../core/time/siteDay'
import * as queries from './queries'

const DAY = 86_400_000

/** A metric of an experiment, in the version that it is measured by. */
export interface MeasuredMetric extends MetricDefinition {
  id: number
}

interface StartedExperiment {
  experiment: number
  until: number | null
  pageRules: PageRule[]
  isOfPersons: boolean | null
}

interface Exclusion {
  experiment: number
  kind: 'visitor' | 'team' | 'span'
  visitor: string | null
  from: number | null
  until: number | null
}

/** What is known of a visitor when it is decided whether they count. */
export interface KnownVisitor {
  id: string
  isTeam: boolean
  /** Why they are in nobody's numbers, or null. */
  leftOut: string | null
}

/** An event as the database gives it: its amount in its own currency. */
export interface StoredEvent extends MeasuredEvent {
  /** Who is one unit: a visitor's id, or that of a person. */
  visitor: string
  /** Id of the visitor whose browser told it. */
  browser?: string
  currency: string | null
}

/** What the fold goes by on a site: read once for a portion. */
export interface FoldContext {
  siteId: number
  dayOf: (at: number) => string
  /** Experiments that were started, with their ends. */
  ends: ReadonlyMap<number, number | null>
  /** Experiments in which each person is one, on every device. */
  ofPersons: ReadonlySet<number>
  metricsOf: (experiment: number) => readonly MeasuredMetric[]
  /** Whether anything that is measured is counted of whole visits. */
  needsVisits: boolean
  measured: (exposure: { experiment: number; at: number; view: string }) => MeasuredExposure
  /** Why a visitor of an experiment is not counted, or null. */
  leftOut: (experiment: number, visitor: KnownVisitor, exposedAt: number) => string | null
  /** An event with its amount in the site's currency. */
  inMoney: <Event extends StoredEvent>(event: Event) => Event
  /** What an amount of a moment counts as in the site's currency; null where there is no rate for it. */
  convert: (told: { amount: number; currency: string | null; at: number }) => number | null
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
  const exclusions = groupBy(await rows<Exclusion>(queries.EXCLUSIONS), ({ experiment }) => experiment)
  const money: Money = { currency: site!.currency, rates }
  const dayOf = siteDays(site!.timeZone)
  const convert: FoldContext['convert'] = ({ amount, currency, at }) =>
    inOwnCurrency(money, amount, currency, dayOf(at))
  const rawSince = site!.rawSince ?? -Infinity
  return {
    siteId,
    dayOf,
    ends,
    ofPersons: new Set(experiments.flatMap((each) => (each.isOfPersons ? [each.experiment] : []))),
    metricsOf: (experiment) => metrics.get(experiment) ?? [],
    needsVisits: measured.some(countsVisits),
    measured: ({ experiment, at, view }) => ({
      at,
      view,
      until: ends.get(experiment) ?? null,
      isTested: (address) => matchesPage(rules.get(experiment) ?? [], address),
    }),
    leftOut: (experiment, visitor, exposedAt) =>
      visitor.leftOut ??
      (exclusions.get(experiment)?.some((each) => excludes(each, visitor, exposedAt)) ? 'excluded' : null),
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

function excludes({ kind, visitor, from, until }: Exclusion, { id, isTeam }: KnownVisitor, exposedAt: number): boolean {
  if (kind === 'visitor') return visitor === id
  if (kind === 'team') return isTeam
  return exposedAt >= from! && exposedAt < until!
}

function converted<Event extends StoredEvent>(event: Event, convert: FoldContext['convert']): Event {
  const { amount, currency } = event
  if (amount === null || amount === undefined || currency === null) return event
  const counted = convert({ amount, currency, at: event.at })
  return {
    ...event,
    amount: counted,
    isUnconverted: counted === null,
    told: { amount, currency },
  }
}

export function groupBy<Row, Key>(rows: readonly Row[], keyOf: (row: Row) => Key): Map<Key, Row[]> {
  const groups = new Map<Key, Row[]>()
  for (const row of rows) {
    const key = keyOf(row)
    const group = groups.get(key)
    if (group) group.push(row)
    else groups.set(key, [row])
  }
  return groups
}
