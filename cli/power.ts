import { runLength } from '../core/statistics/duration'
import {
  detectableLift,
  powerOf,
  sampleSize,
  type LookPlan,
  type PlannedMetric,
  type PowerPlan,
} from '../core/statistics/power'
import type { Spending } from '../core/statistics/groupSequential'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { numberOption, numbersOption } from './numberOptions'
import { parseOptions } from './parseOptions'

const HELP = helpOf('power')

export async function run(args: string[]): Promise<number> {
  const values = parseOptions(args, HELP, {
    options: {
      kind: { type: 'string' },
      baseline: { type: 'string' },
      mean: { type: 'string' },
      sd: { type: 'string' },
      lift: { type: 'string' },
      visitors: { type: 'string' },
      power: { type: 'string', default: '0.8' },
      alpha: { type: 'string', default: '0.05' },
      arms: { type: 'string' },
      weights: { type: 'string' },
      rule: { type: 'string', default: 'fixed' },
      looks: { type: 'string' },
      daily: { type: 'string' },
      help: { type: 'boolean', default: false },
    },
  }).values
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const plan: PowerPlan = {
    metric: readMetric(values),
    alpha: numberOption('alpha', values.alpha, { above: 0, below: 1 }),
    weights: readWeights(values.arms, values.weights),
    looks: readLooks(values.rule, values.looks),
  }
  const power = numberOption('power', values.power, { above: 0, below: 1 })
  const lift = values.lift === undefined ? null : numberOption('lift', values.lift)
  const visitors = values.visitors === undefined ? null : numberOption('visitors', values.visitors, { above: 0 })
  const daily = values.daily === undefined ? null : numbersOption('daily', values.daily)
  try {
    console.log(JSON.stringify(solve(plan, { power, lift, visitors, daily }), null, 2))
  } catch (error) {
    if (error instanceof RangeError) throw new HumanError(error.message, 2)
    throw error
  }
  return 0
}

interface Known {
  power: number
  lift: number | null
  visitors: number | null
  daily: number[] | null
}

function solve(plan: PowerPlan, { power, lift, visitors, daily }: Known) {
  if (lift === null && visitors === null)
    throw new HumanError(`Say which --lift is to be found, or how many --visitors there are.\n\n${HELP}`, 2)
  const share = plan.weights.reduce((sum, weight) => sum + weight, 0)
  const perArm =
    visitors === null
      ? sampleSize(plan, lift!, power)
      : plan.weights.map((weight) => Math.round((visitors * weight) / share))
  const total = visitors ?? perArm.reduce((sum, count) => sum + count, 0)
  const length = daily ? runLength(total, daily) : null
  const found =
    visitors === null
      ? {}
      : lift === null
        ? detectable(plan, visitors, power)
        : { power: powerOf(plan, lift, visitors) }
  return {
    perArm,
    total,
    days: length?.days ?? null,
    weeks: length?.weeks ?? null,
    ...found,
    ...(visitors === null ? againstOneLook(plan, lift!, power, total) : {}),
    method: methodOf(plan),
  }
}

/** What looking more than once costs: the visitors of one look at the end, and how many times as many these are. */
function againstOneLook(plan: PowerPlan, lift: number, power: number, total: number) {
  if (plan.looks.rule === 'fixed') return {}
  const once = sampleSize({ ...plan, looks: { rule: 'fixed' } }, lift, power).reduce((sum, count) => sum + count, 0)
  return { oneLook: { total: once, times: Number((total / once).toFixed(2)) } }
}

function detectable(plan: PowerPlan, visitors: number, power: number) {
  const lift = detectableLift(plan, visitors, power)
  return lift === null
    ? { detectableLift: null, why: 'So few visitors do not find even the largest possible lift with this power.' }
    : { detectableLift: lift }
}

function methodOf({ metric, weights, looks }: PowerPlan): string {
  const t =
    looks.rule === 'fixed'
      ? 'two-sample t test with equal variances, noncentral t distribution'
      : 'two-sample z test with equal variances'
  const test =
    metric.kind === 'conversion'
      ? 'two-sample normal formula, variance pooled under the null and unpooled under the alternative'
      : t
  const variants = weights.length > 2 ? `; alpha divided by ${weights.length - 1} variants` : ''
  if (looks.rule === 'fixed') return `${test}${variants}`
  return `${test}${variants}; ${looks.looks} looks at the ${looks.rule === 'sequential' ? 'always-valid' : looks.rule} boundary`
}

function readMetric(values: { kind?: string; baseline?: string; mean?: string; sd?: string }): PlannedMetric {
  const needed = (name: 'baseline' | 'mean' | 'sd') => {
    if (values[name] === undefined) throw new HumanError(`--kind ${values.kind} needs --${name}.`, 2)
    return values[name]
  }
  if (values.kind === 'conversion')
    return { kind: 'conversion', baseline: numberOption('baseline', needed('baseline'), { above: 0, below: 1 }) }
  if (values.kind === 'mean')
    return {
      kind: 'mean',
      mean: numberOption('mean', needed('mean')),
      deviation: numberOption('sd', needed('sd'), { above: 0 }),
    }
  throw new HumanError('--kind takes conversion or mean.', 2)
}

function readWeights(arms: string | undefined, list: string | undefined): number[] {
  const count = arms === undefined ? undefined : numberOption('arms', arms, { whole: true, above: 1, most: 100 })
  if (list === undefined) return new Array<number>(count ?? 2).fill(1)
  const weights = numbersOption('weights', list, { above: 0 })
  if (weights.length < 2)
    throw new HumanError('--weights names the weight of the control and of each variant, such as 1,1.', 2)
  if (count !== undefined && count !== weights.length)
    throw new HumanError(`--arms says ${count}, but --weights names ${weights.length}.`, 2)
  return weights
}

/** Looks of each rule, where their number is not given. */
const USUAL_LOOKS: Record<string, number | undefined> = {
  spending: 42,
  sequential: 56,
  'obrien-fleming': 5,
  pocock: 5,
}

function readLooks(rule: string, looks: string | undefined): LookPlan {
  if (rule === 'fixed') return { rule }
  const usual = USUAL_LOOKS[rule]
  if (usual === undefined)
    throw new HumanError(`--rule takes fixed, ${Object.keys(USUAL_LOOKS).slice(0, -1).join(', ')} or pocock.`, 2)
  const count = looks === undefined ? usual : numberOption('looks', looks, { whole: true, above: 0, most: 100 })
  if (rule === 'spending') return { rule, looks: count, from: 1 / count }
  return { rule: rule as 'sequential' | Spending, looks: count }
}
