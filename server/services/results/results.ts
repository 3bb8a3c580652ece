import { eq, inArray, sql } from 'drizzle-orm'
import { checkAllocation } from '../../../core/statistics/allocation'
import { compareArms, posteriorOf, type Comparison } from '../../../core/statistics/compareArms'
import { holm } from '../../../core/statistics/holm'
import type { Moments } from '../../../core/statistics/moments'
import { probabilityBest } from '../../../core/statistics/posterior'
import { verdict, type VariantState } from '../../../core/verdict/verdict'
import type { ExperimentResults, ExperimentSheet, ExperimentSummary } from '../../../shared/experiment'
import type { Queries } from '../../database/connect'
import { exposureCount, foldCursor, statistic } from '../../database/schema'

const DAY = 24 * 60 * 60 * 1000

interface ArmSums {
  visitors: number
  crossed: number
  sum: number
  moments: Moments
}

/** The results of an experiment, from its sufficient statistics alone. */
export async function experimentResults(database: Queries, sheet: ExperimentSheet, now: Date): Promise<ExperimentResults> {
  const sums = (await readArmSums(database, [sheet])).get(sheet.id)!
  const [cursor] = await database.select().from(foldCursor).where(eq(foldCursor.id, 1))
  return { ...readResults(sheet, sums, now), foldedAt: cursor?.foldedAt?.toISOString() ?? null }
}

/** The rows of the list of experiments. */
export async function summarize(database: Queries, sheets: readonly ExperimentSheet[], now: Date): Promise<ExperimentSummary[]> {
  const sums = await readArmSums(database, sheets)
  return sheets.map((sheet) => {
    const results = readResults(sheet, sums.get(sheet.id)!, now)
    const { id, name, state, startedAt, endedAt } = sheet
    return {
      ...{ id, name, state, startedAt, endedAt },
      pages: sheet.pageRules.map((rule) => rule.value).join(', '),
      visitors: results.visitors,
      verdict: results.verdict,
      smallestLift: sheet.plan.smallestLift,
      best: bestVariant(sheet, results),
    }
  })
}

function bestVariant(sheet: ExperimentSheet, results: Pick<ExperimentResults, 'comparisons'>): ExperimentSummary['best'] {
  const candidates = (results.comparisons ?? []).map((comparison, index) => {
    const { estimate, interval } = decisiveLift(sheet, comparison)
    return { variant: sheet.variants[index + 1]!.name, position: index + 1, lift: estimate, interval }
  })
  const sign = sheet.metric?.direction === 'down' ? -1 : 1
  return candidates.sort((a, b) => sign * ((b.lift ?? -Infinity) - (a.lift ?? -Infinity)))[0] ?? null
}

function readResults(sheet: ExperimentSheet, arms: readonly ArmSums[], now: Date): Omit<ExperimentResults, 'foldedAt'> {
  const visitors = arms.reduce((sum, arm) => sum + arm.visitors, 0)
  const until = sheet.endedAt ? new Date(sheet.endedAt) : now
  const daysRun = sheet.startedAt ? Math.floor((until.getTime() - new Date(sheet.startedAt).getTime()) / DAY) : 0
  const allocation = sheet.startedAt && sheet.variants.every((each) => each.weight > 0) ? checkAllocation(arms.map((arm) => arm.visitors), sheet.variants.map((each) => each.weight)) : null
  const comparisons = sheet.metric ? compareAll(sheet, arms) : null
  const best = sheet.metric && comparisons ? probabilityBest(arms.map((arm) => posteriorOf(sheet.metric!.kind, arm.moments))) : null
  return {
    metric: sheet.metric,
    arms: arms.map((arm, index) => ({ name: sheet.variants[index]!.name, visitors: arm.visitors, sum: arm.sum, mean: arm.moments.mean })),
    visitors,
    crossed: arms.reduce((sum, arm) => sum + arm.crossed, 0),
    daysRun,
    allocation,
    comparisons,
    probabilityBest: best,
    verdict: sheet.startedAt ? readVerdict(sheet, arms, comparisons, allocation?.alarm ?? false, daysRun, visitors) : null,
  }
}

function compareAll(sheet: ExperimentSheet, arms: readonly ArmSums[]): ExperimentResults['comparisons'] {
  const [control, ...variants] = arms
  const { kind } = sheet.metric!
  const weights = sheet.variants.map((each) => each.weight)
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const planned = (position: number) => Math.max(1, (sheet.plan.plannedVisitors * weights[position]!) / total)
  const comparisons: Comparison[] = []
  for (const [index, variant] of variants.entries()) {
    const comparison = compareArms(control!.moments, variant.moments, {
      kind,
      alpha: sheet.plan.alpha,
      plannedVisitors: { control: planned(0), variant: planned(index + 1) },
    })
    if (!comparison) return null
    comparisons.push(comparison)
  }
  const adjusted = holm(comparisons.map((comparison) => decisivePValue(sheet, comparison)))
  return comparisons.map((comparison, index) => ({ ...comparison, adjustedPValue: adjusted[index]! }))
}

/** The reading that the plan's rule decides by. */
function decisiveLift(sheet: ExperimentSheet, comparison: Comparison) {
  return sheet.plan.rule === 'fixed' ? comparison.lift : comparison.sequential.lift
}

function decisivePValue(sheet: ExperimentSheet, comparison: Comparison): number {
  return sheet.plan.rule === 'fixed' ? comparison.pValue : comparison.sequential.pValue
}

function readVerdict(sheet: ExperimentSheet, arms: readonly ArmSums[], comparisons: ExperimentResults['comparisons'], allocationAlarm: boolean, daysRun: number, visitors: number) {
  const isDown = sheet.metric?.direction === 'down'
  const controlMean = arms[0]!.moments.mean
  const variants: VariantState[] = (comparisons ?? []).map((comparison, index) => {
    const { estimate, interval } = decisiveLift(sheet, comparison)
    const loss = isDown ? comparison.posterior.expectedLossOfControl : comparison.posterior.expectedLoss
    return {
      name: sheet.variants[index + 1]!.name,
      lift: estimate === null ? null : isDown ? -estimate : estimate,
      liftInterval: interval && (isDown ? [-interval[1], -interval[0]] : interval),
      adjustedPValue: comparison.adjustedPValue,
      relativeLoss: controlMean > 0 ? loss / controlMean : null,
      harmedGuardrails: [],
    }
  })
  const unsound = allocationAlarm ? ['The visitors are not split over the variants as the weights say.'] : []
  return verdict(sheet.plan, { daysRun, visitors, unsound, variants })
}

/** Sums of every arm of every sheet: a handful of rows a day, however many visitors there were. */
async function readArmSums(database: Queries, sheets: readonly ExperimentSheet[]): Promise<Map<number, ArmSums[]>> {
  const ids = sheets.map((sheet) => sheet.id)
  if (ids.length === 0) return new Map()
  const counts = await database
    .select({ experimentId: exposureCount.experimentId, variant: exposureCount.variant, visitors: sql<string>`sum(${exposureCount.visitors})`, crossed: sql<string>`sum(${exposureCount.crossed})` })
    .from(exposureCount)
    .where(inArray(exposureCount.experimentId, ids))
    .groupBy(exposureCount.experimentId, exposureCount.variant)
  const sums = await database
    .select({ experimentId: statistic.experimentId, metricId: statistic.metricId, variant: statistic.variant, sum: sql<string>`sum(${statistic.sum})`, squares: sql<string>`sum(${statistic.sumOfSquares})`, sumSquared: sql<string>`sum(${statistic.sum}) * sum(${statistic.sum})` })
    .from(statistic)
    .where(inArray(statistic.experimentId, ids))
    .groupBy(statistic.experimentId, statistic.metricId, statistic.variant)

  const arms = new Map<number, ArmSums[]>()
  for (const sheet of sheets) {
    arms.set(
      sheet.id,
      sheet.variants.map((_, position) => {
        const count = counts.find((row) => row.experimentId === sheet.id && row.variant === position)
        const sum = sums.find((row) => row.experimentId === sheet.id && row.variant === position && row.metricId === sheet.metric?.id)
        const visitors = Number(count?.visitors ?? 0)
        return { visitors, crossed: Number(count?.crossed ?? 0), sum: Number(sum?.sum ?? 0), moments: momentsOf(visitors, sum) }
      }),
    )
  }
  return arms
}

function momentsOf(visitors: number, sums: { sum: string; squares: string; sumSquared: string } | undefined): Moments {
  if (!sums || visitors === 0) return { count: visitors, mean: 0, m2: 0 }
  return { count: visitors, mean: Number(sums.sum) / visitors, m2: deviationSquares(visitors, sums.squares, sums.sumSquared) }
}

/** Σx² − (Σx)²/n in exact integers, since the two may agree in all digits that a floating point number has. */
function deviationSquares(visitors: number, squares: string, sumSquared: string): number {
  const places = Math.max(decimals(squares), decimals(sumSquared))
  const scaled = scale(squares, places) * BigInt(visitors) - scale(sumSquared, places)
  return Math.max(0, Number(scaled) / visitors / 10 ** places)
}

function decimals(text: string): number {
  const point = text.indexOf('.')
  return point < 0 ? 0 : text.length - point - 1
}

function scale(text: string, places: number): bigint {
  return BigInt(text.replace('.', '') + '0'.repeat(places - decimals(text)))
}
