import { drawsFrom } from '../core/random/draws'
import { seededUniform } from '../core/random/seededUniform'
import { LEAST_SHARE } from '../core/sheet/content'
import { runLength } from '../core/statistics/duration'
import type { PlannedMetric } from '../core/statistics/power'
import {
  compareRules,
  scenariosOf,
  type RehearsalPlan,
  type RehearsalScenario,
  type RehearsedRule,
} from '../core/verdict/rehearsal'
import { DECISION_RULES, type DecisionPlan } from '../core/verdict/verdict'
import type { AnalysisPlan, PlannedMetricInput } from '../shared/experiments/analysisPlan'
import { helpOf } from './helpOf'
import { readPlan, type LocatedPlan } from './analysis/readPlan'
import { HumanError } from './HumanError'
import { numberOption, numbersOption } from './numberOptions'
import { parseOptions } from './parseOptions'
import { createProgress } from './progress'

const HELP = helpOf('rehearse')

export async function run(args: string[]): Promise<number> {
  const { values, positionals } = parseOptions(args, HELP, {
    allowPositionals: true,
    options: {
      baseline: { type: 'string' },
      sd: { type: 'string' },
      daily: { type: 'string' },
      runs: { type: 'string', default: '2000' },
      seed: { type: 'string', default: '1' },
      format: { type: 'string', default: 'json' },
      compare: { type: 'boolean', default: false },
      help: { type: 'boolean', default: false },
    },
  })
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const [file, surplus] = positionals
  if (file === undefined || surplus !== undefined) throw new HumanError(`Name one plan.\n\n${HELP}`, 2)
  if (values.daily === undefined)
    throw new HumanError(`Say how many new visitors come each day with --daily.\n\n${HELP}`, 2)
  if (values.format !== 'json' && values.format !== 'table') throw new HumanError('--format takes json or table.', 2)
  const newVisitors = numbersOption('daily', values.daily)
  if (newVisitors.some((count) => count < 0)) throw new HumanError('--daily takes numbers of at least 0.', 2)
  const runs = numberOption('runs', values.runs, { whole: true, above: 0, most: 1_000_000 })
  const seed = numberOption('seed', values.seed, { whole: true })
  const given = {
    baseline: values.baseline === undefined ? undefined : numberOption('baseline', values.baseline),
    deviation: values.sd === undefined ? undefined : numberOption('sd', values.sd, { above: 0 }),
  }
  const plan = rehearsalPlan(await readPlan(file), given, newVisitors, runs)
  const progress = createProgress('Rehearsing')
  const { decision } = plan
  const rehearsed = runRehearsal(plan, values.compare ? DECISION_RULES : [decision.rule], seed, progress)
  const [own, asSet] = rehearsed
  const found = values.compare
    ? { rules: rehearsed }
    : { scenarios: own!.scenarios, ...(asSet ? { scenariosAsSet: asSet.scenarios } : {}) }
  if (values.format === 'json') console.log(JSON.stringify({ runs, seed, newVisitors, decision, ...found }, null, 2))
  else
    for (const { rule, split, scenarios } of rehearsed)
      process.stdout.write(formatScenarios({ ...decision, rule }, scenarios, plan.moving ? split : null))
  return 0
}

function runRehearsal(
  plan: RehearsalPlan,
  rules: readonly DecisionPlan['rule'][],
  seed: number,
  progress: ReturnType<typeof createProgress>,
): RehearsedRule[] {
  try {
    return compareRules(plan, rules, () => drawsFrom(seededUniform(seed)), progress.show)
  } catch (error) {
    if (error instanceof RangeError) throw new HumanError(error.message, 2)
    throw error
  } finally {
    progress.clear()
  }
}

function rehearsalPlan(
  { plan, problemAt }: LocatedPlan,
  given: { baseline?: number; deviation?: number },
  newVisitors: number[],
  runs: number,
): RehearsalPlan {
  const arms = [plan.control, ...Object.keys(plan.weights).filter((arm) => arm !== plan.control)]
  const index = Math.max(
    0,
    plan.metrics.findIndex((metric) => metric.role === 'primary'),
  )
  const primary = plan.metrics[index]!
  const decision = decisionOf(plan, newVisitors)
  if (decision.longestWeeks < decision.leastWeeks)
    throw problemAt(
      ['decision', 'longestWeeks'],
      `The longest run of ${decision.longestWeeks} weeks is shorter than the least run of ${decision.leastWeeks}.`,
    )
  const metricAt = (
    metric: PlannedMetricInput,
    at: number,
    own: { baseline?: number; deviation?: number },
  ): PlannedMetric => {
    const [baseline, deviation] = [own.baseline ?? metric.baseline, own.deviation ?? metric.deviation]
    if (baseline === undefined)
      throw problemAt(
        ['metrics', at],
        `Say what "${metric.name}" is in the control: with --baseline, or "baseline" in the plan.`,
      )
    if (metric.kind === 'conversion') {
      if (!(baseline > 0 && baseline < 1))
        throw problemAt(
          ['metrics', at],
          `The baseline of the conversion "${metric.name}" lies between 0 and 1; it is ${baseline}.`,
        )
      return { kind: 'conversion', baseline }
    }
    if (deviation === undefined)
      throw problemAt(
        ['metrics', at],
        `Say how much "${metric.name}" varies between visitors: with --sd, or "deviation" in the plan.`,
      )
    if (baseline === 0)
      throw problemAt(
        ['metrics', at],
        `The baseline of "${metric.name}" must not be 0, or a relative lift means nothing.`,
      )
    return { kind: 'mean', mean: baseline, deviation }
  }
  const { split, leastShare = LEAST_SHARE, batchVisitors = null } = plan.decision ?? {}
  if (split === 'moving' && leastShare * arms.length > 1)
    throw problemAt(['decision', 'leastShare'], `The least share leaves nothing to move between ${arms.length} arms.`)
  return {
    decision,
    ...(split === 'moving' ? { moving: { leastShare, batchVisitors } } : {}),
    weights: arms.map((arm) => plan.weights[arm]!),
    primary: { metric: metricAt(primary, index, given), direction: primary.direction ?? 'up' },
    guardrails: plan.metrics.flatMap((metric, at) =>
      metric.role === 'guardrail' && metric.limit !== undefined && metric.baseline !== undefined
        ? [
            {
              name: metric.name,
              limit: metric.limit,
              metric: metricAt(metric, at, {}),
              direction: metric.direction ?? 'up',
            },
          ]
        : [],
    ),
    newVisitors,
    runs,
    lifts: scenariosOf(decision.smallestLift),
  }
}

function decisionOf({ alpha, plannedVisitors, decision = {} }: AnalysisPlan, newVisitors: number[]): DecisionPlan {
  const leastWeeks = decision.leastWeeks ?? Math.min(2, decision.longestWeeks ?? 2)
  const forPlanned = plannedVisitors === undefined ? null : runLength(plannedVisitors, newVisitors)
  const longestWeeks = decision.longestWeeks ?? Math.max(leastWeeks, forPlanned ? Math.min(104, forPlanned.weeks) : 8)
  const perWeek = newVisitors.slice(-7).reduce((sum, count) => sum + count, 0) * (7 / Math.min(7, newVisitors.length))
  return {
    smallestLift: decision.smallestLift ?? 0.05,
    alpha,
    rule: decision.rule ?? 'spending',
    lossLimit: decision.lossLimit ?? 0.005,
    leastWeeks,
    longestWeeks,
    plannedVisitors: plannedVisitors ?? Math.max(2, Math.round(perWeek * longestWeeks)),
  }
}

/** @param split - null where the plan leaves no choice */
function formatScenarios(
  decision: DecisionPlan,
  scenarios: readonly RehearsalScenario[],
  split: RehearsedRule['split'] | null,
): string {
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`.padStart(8)
  const head = `${'true lift'.padStart(10)}${['ship', 'low risk', 'no diff.', 'harm', 'distrust', 'open', 'wrong', ...(split ? ['lost'] : [])].map((title) => title.padStart(10)).join('')}    days on average; half, nine tenths with a verdict by`
  const rows = scenarios.map(({ lift, shares, shippedWrong, days, lost }) =>
    [
      `${(lift * 100).toFixed(1)} %`.padStart(10),
      ...[
        shares.ship,
        shares['ship-low-risk'],
        shares['no-difference'],
        shares.harm,
        shares.distrust,
        shares.open,
        shippedWrong,
      ].map((share) => percent(share).padStart(10)),
      ...(split ? [lost.toFixed(2).padStart(10)] : []),
      `    ${days.mean.toFixed(1)}; ${days.half ?? '–'}, ${days.nineTenths ?? '–'}`,
    ].join(''),
  )
  const ofSplit = split === null ? '' : `, split ${split === 'moving' ? 'that moves' : 'as set'}`
  return `Rule ${decision.rule}${ofSplit}, smallest worthwhile lift ${(decision.smallestLift * 100).toFixed(1)} %, ${decision.leastWeeks} to ${decision.longestWeeks} weeks, ${decision.plannedVisitors.toLocaleString('en-US')} visitors planned\n${head}\n${rows.join('\n')}\n`
}
