import { analyze, type Analysis } from '../core/analysis/analysis'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { formatAnalysis } from './analysis/formatAnalysis'
import { readPlan, type LocatedPlan } from './analysis/readPlan'
import { readVisitors, type VisitorsRead } from './analysis/readVisitors'
import { parseOptions } from './parseOptions'
import { createProgress } from './progress'

const HELP = helpOf('analyze')

/** What `./vetch analyze` prints. */
export type PrintedAnalysis = Analysis & {
  skippedRows: number
  plannedVisitors: number
  alpha: number
  /** What whoever reads the numbers has to know. */
  notes: string[]
}

export async function run(args: string[]): Promise<number> {
  const { values, positionals } = parseOptions(args, HELP, {
    allowPositionals: true,
    options: {
      plan: { type: 'string' },
      format: { type: 'string', default: 'json' },
      'skip-bad-rows': { type: 'boolean', default: false },
      help: { type: 'boolean', default: false },
    },
  })
  if (values.help) {
    console.log(HELP)
    return 0
  }
  const [file, surplus] = positionals
  if (file === undefined || surplus !== undefined) throw new HumanError(`Name one CSV file.\n\n${HELP}`, 2)
  if (values.plan === undefined) throw new HumanError(`Name the plan with --plan.\n\n${HELP}`, 2)
  if (values.format !== 'json' && values.format !== 'table') throw new HumanError('--format takes json or table.', 2)

  const located = await readPlan(values.plan)
  const progress = createProgress('Reading')
  const read = await readVisitors(file, located, {
    skipBadRows: values['skip-bad-rows'],
    onProgress: progress.show,
  }).finally(progress.clear)
  const result = analyzeVisitors(located, read)
  if (read.skippedRows > 0)
    console.error(`${read.skippedRows.toLocaleString('en-US')} rows were skipped. The first: ${read.firstSkipped}`)
  process.stdout.write(values.format === 'json' ? `${JSON.stringify(result, null, 2)}\n` : formatAnalysis(result))
  return 0
}

/** The analysis of what was read, in the plan's words. */
export function analyzeVisitors({ plan }: LocatedPlan, read: VisitorsRead): PrintedAnalysis {
  const plannedVisitors = plan.plannedVisitors ?? read.visitors.reduce((sum, count) => sum + count, 0)
  const hasPrimary = plan.metrics.some((metric) => metric.role === 'primary')
  const analysis = analyze({
    arms: read.arms,
    weights: read.arms.map((arm) => plan.weights[arm]!),
    visitors: read.visitors,
    alpha: plan.alpha,
    plannedVisitors,
    metrics: plan.metrics.map((metric, index) => {
      const { arms, shapes, segments, cells } = read.metrics[index]!
      return {
        name: metric.name,
        kind: metric.kind,
        // Without a primary metric named, the first one is.
        role: metric.role ?? (!hasPrimary && index === 0 ? 'primary' : 'secondary'),
        direction: metric.direction ?? 'up',
        arms,
        shapes,
        hasCovariate: metric.covariate !== undefined,
        ...(plan.segments ? { segments } : {}),
        ...(plan.factors ? { cells } : {}),
      }
    }),
    ...(plan.factors ? { factors: Object.entries(plan.factors).map(([name, levels]) => ({ name, levels })) } : {}),
    ...(plan.liftPrior ? { liftPrior: plan.liftPrior } : {}),
  })
  const metrics = analysis.metrics.map((metric, index) => {
    const { winsorized } = read.metrics[index]!
    const input = plan.metrics[index]!
    if (!winsorized || input.kind !== 'mean') return metric
    const of = typeof input.winsorize === 'object' ? input.winsorize.of : 'above zero'
    const quantile = typeof input.winsorize === 'object' ? input.winsorize.quantile : input.winsorize
    return { ...metric, winsorized: { quantile, of, ...winsorized } }
  })
  return {
    ...analysis,
    metrics,
    alpha: plan.alpha,
    plannedVisitors,
    skippedRows: read.skippedRows,
    notes: plan.plannedVisitors === undefined ? [untunedNote(plannedVisitors)] : [],
  }
}

function untunedNote(visitors: number): string {
  return `The plan names no plannedVisitors, so readings for any look are tuned to the ${visitors.toLocaleString('en-US')} visitors of this file. They do not hold for a later file: write "plannedVisitors" into the plan before you look again.`
}
