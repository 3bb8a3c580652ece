import { spawn, spawnSync } from 'node:child_process'
import { createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { analyze } from '../core/analysis/analysis'
import { rankEffects } from '../core/analysis/effects'
import { drawsFrom } from '../core/random/draws'
import { seededUniform } from '../core/random/seededUniform'
import { conversionMoments } from '../core/statistics/moments'
import { rehearse, scenariosOf } from '../core/verdict/rehearsal'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'

const VISITORS = sized(1_000_000, 2000)
const METRICS = 5

/** The file, the sufficient statistics and the rehearsal, each beside something simple on the same machine. */
export async function measureAnalysis(): Promise<Measurement[]> {
  const folder = mkdtempSync(join(tmpdir(), 'vetch-analysis-'))
  try {
    return [await measureStatistics(), await measureEffects(), await measureRehearsal(), ...(await measureFile(folder))]
  } finally {
    rmSync(folder, { recursive: true })
  }
}

async function measureStatistics(): Promise<Measurement> {
  const arms = [500, 540, 520, 530].map((converted) => conversionMoments(10_000, converted))
  const input = {
    arms: ['control', 'b', 'c', 'd'],
    weights: [1, 1, 1, 1],
    visitors: [10_000, 10_000, 10_000, 10_000],
    alpha: 0.05,
    plannedVisitors: 50_000,
    metrics: [{ name: 'purchase', kind: 'conversion', role: 'primary', direction: 'up', arms, hasCovariate: false }],
  } as const
  for (let warm = 0; warm < 100; warm++) analyze(input)
  const value = await medianMilliseconds(50, () => analyze(input))
  const reference = await medianMilliseconds(50, million)
  return {
    name: 'statistics',
    value: rounded(value),
    unit: 'ms',
    reference: { what: '1,000,000 exponentials, ms', value: rounded(reference), ratio: rounded(value / reference) },
    aim: 'under 2 ms for 4 arms',
  }
}

/** The list of effects of a personalization on forty metrics, of few visitors and of a hundred times as many. */
async function measureEffects(): Promise<Measurement> {
  const METRICS_OF_SITE = 40
  const listOf = (visitors: number) => {
    const [heldBack, served] = [visitors / 20, visitors - visitors / 20]
    const analysis = analyze({
      arms: ['held back', 'served'],
      weights: [500, 9500],
      visitors: [heldBack, served],
      alpha: 0.05,
      plannedVisitors: visitors,
      metrics: Array.from({ length: METRICS_OF_SITE }, (_, index) => ({
        name: `metric ${index}`,
        kind: 'conversion' as const,
        role: index === 0 ? ('primary' as const) : ('secondary' as const),
        direction: 'up' as const,
        arms: [0.05, 0.05 + index / 10_000].map((rate, arm) => {
          const own = arm === 0 ? heldBack : served
          return conversionMoments(own, Math.round(own * rate))
        }),
        hasCovariate: false,
      })),
    })
    return rankEffects(
      analysis.metrics.map(({ comparisons: [comparison] }) => ({
        pValue: comparison!.sequential.pValue,
        lift: comparison!.sequential.lift.estimate,
        isShort: comparison!.shortfall !== null,
      })),
      0.05,
    )
  }
  for (let warm = 0; warm < 20; warm++) listOf(10_000)
  const value = await medianMilliseconds(20, () => listOf(1_000_000))
  const reference = await medianMilliseconds(20, () => listOf(10_000))
  return {
    name: 'effects',
    value: rounded(value),
    unit: 'ms for 40 metrics of 1,000,000 visitors',
    reference: { what: 'of 10,000 visitors, ms', value: rounded(reference), ratio: rounded(value / reference) },
    aim: 'under 100 ms, ratio near 1',
  }
}

/** Work that every machine does at its own speed. */
function million(): number {
  let sum = 0
  for (let index = 0; index < 1_000_000; index++) sum += Math.exp(-index / 1_000_000)
  return sum
}

async function measureRehearsal(): Promise<Measurement> {
  const decision = {
    smallestLift: 0.05,
    alpha: 0.05,
    rule: 'sequential',
    lossLimit: 0.005,
    leastWeeks: 1,
    longestWeeks: 8,
    plannedVisitors: 50_000,
  } as const
  const run = () =>
    rehearse(
      {
        decision,
        weights: [1, 1],
        primary: { metric: { kind: 'conversion', baseline: 0.05 }, direction: 'up' },
        guardrails: [],
        newVisitors: [900],
        runs: 2000,
        lifts: scenariosOf(0.05),
      },
      drawsFrom(seededUniform(1)),
    )
  const value = await medianMilliseconds(3, run)
  const reference = await medianMilliseconds(10, million)
  return {
    name: 'rehearsal',
    value: rounded(value),
    unit: 'ms',
    reference: { what: '1,000,000 exponentials, ms', value: rounded(reference), ratio: rounded(value / reference) },
    aim: 'under 2,000 ms for 2,000 runs × 56 days, in one thread',
    details: { scenarios: 4 },
  }
}

async function measureFile(folder: string): Promise<Measurement[]> {
  const [csv, plan, script] = ['visitors.csv', 'plan.json', 'group.py'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ]
  await writeVisitors(csv)
  const columns = Array.from({ length: METRICS }, (_, index) => `m${index}`)
  writeFileSync(
    plan,
    JSON.stringify({
      control: 'control',
      weights: { control: 1, b: 1 },
      metrics: columns.map((column, index) => ({ name: column, column, kind: index === 0 ? 'conversion' : 'mean' })),
    }),
  )
  writeFileSync(
    script,
    `import pandas\nframe = pandas.read_csv(${JSON.stringify(csv)})\nprint(frame.groupby("variant")[${JSON.stringify(columns)}].agg(["count", "mean", "var"]))\n`,
  )

  const own = await timed(process.execPath, ['--import', 'tsx', resolve('cli/main.ts'), 'analyze', csv, '--plan', plan])
  const lines = await timed('wc', ['-l', csv])
  const pandas =
    spawnSync('/usr/bin/python3', ['-c', 'import pandas']).status === 0
      ? await timed('/usr/bin/python3', [script])
      : null
  const measurement = {
    name: 'analyze',
    value: rounded(own.seconds),
    unit: 's',
    aim: 'under 6 s and 400 MB',
    details: { visitors: VISITORS, metrics: METRICS, peakMegabytes: own.peakMegabytes },
  }
  return [
    {
      ...measurement,
      reference: { what: 'wc -l, s', value: rounded(lines.seconds), ratio: rounded(own.seconds / lines.seconds) },
    },
    {
      ...measurement,
      reference: pandas
        ? {
            what: 'pandas, which reads and groups only, s',
            value: rounded(pandas.seconds),
            ratio: rounded(own.seconds / pandas.seconds),
          }
        : undefined,
      details: {
        ...measurement.details,
        ...(pandas
          ? { pandasMegabytes: pandas.peakMegabytes }
          : { note: 'pandas is not installed: apt-get install python3-pandas' }),
      },
    },
  ]
}

async function writeVisitors(csv: string): Promise<void> {
  const uniform = seededUniform(1)
  const file = createWriteStream(csv)
  file.write('visitor,variant,m0,m1,m2,m3,m4\n')
  for (let visitor = 0; visitor < VISITORS; visitor++) {
    const amounts = Array.from({ length: METRICS - 1 }, () => (uniform() < 0.3 ? (uniform() * 100).toFixed(2) : '0'))
    if (
      !file.write(`v${visitor},${uniform() < 0.5 ? 'control' : 'b'},${uniform() < 0.05 ? 1 : 0},${amounts.join(',')}\n`)
    )
      await once(file, 'drain')
  }
  file.end()
  await once(file, 'close')
}

/** Wall-clock seconds and the largest memory seen while a command runs. */
async function timed(program: string, args: string[]): Promise<{ seconds: number; peakMegabytes: number }> {
  const start = performance.now()
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'inherit'] })
  let peak = 0
  const watch = setInterval(() => {
    const status = spawnSync('ps', ['-o', 'rss=', '-p', String(child.pid)], { encoding: 'utf8' }).stdout
    peak = Math.max(peak, Number(status))
  }, 100)
  const [code] = (await once(child, 'exit')) as [number]
  clearInterval(watch)
  if (code !== 0) throw new Error(`${program} ended with ${code}.`)
  return { seconds: (performance.now() - start) / 1000, peakMegabytes: Math.round(peak / 1024) }
}
