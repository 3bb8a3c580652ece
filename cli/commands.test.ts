import { spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, test, vi } from 'vitest'
import { expectClose } from '../tests/expectations'
import reference from '../core/statistics/reference/reference.json'
import { run as analyze, type PrintedAnalysis } from './analyze'
import { run as boundaries } from './boundaries'
import { helpOf } from './helpOf'
import type { HumanError } from './HumanError'
import { alone } from './stack/alone'
import { run as power } from './power'
import { run as rehearse } from './rehearse'

const folder = mkdtempSync(join(tmpdir(), 'vetch-commands-'))
afterAll(() => rmSync(folder, { recursive: true }))

let printed = ''
beforeAll(() => {
  vi.spyOn(console, 'log').mockImplementation((text: string) => void (printed += `${text}\n`))
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => Boolean((printed += String(text))))
  vi.spyOn(console, 'error').mockImplementation(() => {})
})
afterEach(() => {
  printed = ''
})
afterAll(() => vi.restoreAllMocks())

const PLAN = {
  control: 'control',
  weights: { control: 1, b: 1 },
  alpha: 0.05,
  plannedVisitors: reference.plannedVisitors,
  metrics: [
    { name: 'purchase', kind: 'conversion', column: 'purchased', role: 'primary', direction: 'up' },
    { name: 'revenue', kind: 'mean', column: 'revenue', covariate: 'pre_revenue' },
    { name: 'click-through', kind: 'ratio', numerator: 'clicks', denominator: 'views' },
  ],
  segments: ['device'],
  factors: null,
}
/** The first two arms of the reference's raw visitors, as a file. */
const ROWS = reference.raw.revenue
  .slice(0, 2)
  .flatMap((rows, arm) =>
    rows.map(
      ([revenue, past], index) =>
        `v${arm}-${index},${['control', 'b'][arm]},${['phone', 'desktop'][index % 2]},${reference.raw.bought[arm]![index]![0]},${revenue},${past},${reference.raw.ratio[arm]![index]!.join(',')}`,
    ),
  )
const HEADER = 'visitor,variant,device,purchased,revenue,pre_revenue,clicks,views'
const CSV = `${HEADER}\n${ROWS.join('\n')}\n`

function file(name: string, content: unknown): string {
  const path = join(folder, name)
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content, null, 2))
  return path
}

async function analyzed(csv: string, plan: unknown, ...more: string[]): Promise<PrintedAnalysis> {
  printed = ''
  await analyze([file('visitors.csv', csv), '--plan', file('plan.json', plan), ...more])
  return JSON.parse(printed) as PrintedAnalysis
}

/** The refusal of a command: exit code 2, and not a character on standard output. */
async function refusal(attempt: Promise<number>): Promise<string> {
  const error = await attempt.then(
    () => null,
    (thrown: HumanError) => thrown,
  )
  expect(error, 'was not refused').not.toBeNull()
  expect(error!.exitCode, error!.stack).toBe(2)
  expect(printed).toBe('')
  return error!.message
}

describe('analyze', () => {
  test('prints what the reference says, in the documented form', async () => {
    const result = await analyzed(CSV, PLAN)
    expect(result.visitors).toBe(300)
    expect(result.allocation).toMatchObject({
      observed: { control: 160, b: 140 },
      expected: { control: 150, b: 150 },
      degreesOfFreedom: 1,
      alarm: false,
    })
    const [purchase, revenue, clicks] = result.metrics as [
      PrintedAnalysis['metrics'][0],
      PrintedAnalysis['metrics'][0],
      PrintedAnalysis['metrics'][0],
    ]
    expect(Object.keys(purchase.comparisons[0]!)).toEqual(
      expect.arrayContaining([
        'variant',
        'difference',
        'lift',
        'pValue',
        'adjustedPValue',
        'degreesOfFreedom',
        'sequential',
        'posterior',
        'segments',
      ]),
    )
    expect(purchase.comparisons[0]!.adjustedPValue).toBe(purchase.comparisons[0]!.pValue)
    expect(Object.keys(purchase.comparisons[0]!.segments!.device!.values)).toEqual(['desktop', 'phone'])
    expectClose(clicks.arms.control!.variance, reference.ratio.arms[0]!.variance)
    expectClose(clicks.comparisons[0]!.pValue, reference.ratio.pValue)
    expect(revenue.comparisons[0]!.varianceReduction!.shareRemoved!).toBeGreaterThan(0.03)
    expect(revenue.role).toBe('secondary')
  })

  test('a plan may leave out everything that has a default', async () => {
    const result = await analyzed(CSV, {
      control: 'control',
      weights: { b: 3, control: 3 },
      metrics: [{ name: 'purchase', kind: 'conversion', column: 'purchased' }],
    })
    expect(result).toMatchObject({
      alpha: 0.05,
      plannedVisitors: 300,
      metrics: [{ role: 'primary', direction: 'up', comparisons: [{ variant: 'b' }] }],
    })
    expect(Object.keys(result.metrics[0]!.arms)).toEqual(['control', 'b'])
    expect(result.metrics[0]!.comparisons[0]!.sequential.interval).not.toBeNull()
  })

  test('a table for people has the same numbers', async () => {
    await analyze([file('visitors.csv', CSV), '--plan', file('plan.json', PLAN), '--format', 'table'])
    expect(printed).toContain('300 visitors')
    expect(printed).toMatch(/b +140 +\d+\.\d\d %/)
    expect(printed).toContain('by device')
  })

  test('a table shows factors, a broken split, skipped rows and what cannot be said', async () => {
    const rows = Array.from(
      { length: 240 },
      (_, index) =>
        `v${index},${index % 3 === 0 ? 'control' : 'b'},${['plain', 'warm'][index % 2]},${['top', 'bottom'][(index >> 1) % 2]},${index % 5 === 0 ? 1 : 0},7`,
    )
    const csv = ['visitor,variant,headline,button,bought,past', ...rows, 'v999,b,plain,top,maybe,7'].join('\n')
    const plan = {
      control: 'control',
      weights: { control: 1, b: 1, c: 1 },
      metrics: [{ name: 'bought', kind: 'conversion', column: 'bought', covariate: 'past' }],
      factors: { headline: ['plain', 'warm'], button: ['top', 'bottom'] },
    }
    await analyze([
      file('visitors.csv', csv),
      '--plan',
      file('plan.json', plan),
      '--format',
      'table',
      '--skip-bad-rows',
    ])
    expect(printed).toContain('240 visitors, 1 rows skipped')
    expect(printed).toContain('ALARM')
    expect(printed).toMatch(/effect of headline warm × button bottom: \S+ \[/)
    expect(printed).toContain('b with covariate: The covariate is the same for all visitors')
    // The arm that nobody saw has no numbers, and no made-up ones either.
    expect(printed).toMatch(/\n {2}c +0 +– +– +no bounds +–/)
    expect(printed).not.toMatch(/NaN|Infinity|undefined|null/)
  })

  test('factors in the plan give effects and the best cell, as documented', async () => {
    const rows = Array.from(
      { length: 400 },
      (_, index) =>
        `v${index},${['control', 'b'][index % 2]},${['plain', 'warm'][index % 2]},${['top', 'bottom'][(index >> 1) % 2]},${(index % 2) * 2 + ((index >> 1) % 2) + ((index * 7) % 11) / 10}`,
    )
    const { metrics } = await analyzed(['visitor,variant,headline,button,value', ...rows].join('\n'), {
      control: 'control',
      weights: { control: 1, b: 1 },
      metrics: [{ name: 'value', kind: 'mean', column: 'value' }],
      factors: { headline: ['plain', 'warm'], button: ['top', 'bottom'] },
    })
    const { effects, bestCell } = metrics[0]!.factorial!
    expect(effects.map(({ factors, levels }) => [factors, levels])).toEqual([
      [['headline'], ['warm']],
      [['button'], ['bottom']],
      [
        ['headline', 'button'],
        ['warm', 'bottom'],
      ],
    ])
    // Half the difference between the levels' means.
    expect(effects[0]!.estimate).toBeCloseTo(1, 1)
    expect(effects[1]!.estimate).toBeCloseTo(0.5, 1)
    expect(effects[0]!.pValue).toBeLessThan(1e-6)
    expect(bestCell!.levels).toEqual({ headline: 'warm', button: 'bottom' })
  })

  test('reads quotation marks, semicolons, line breaks in fields, a byte order mark and other line ends', async () => {
    const quoted = `\uFEFF${HEADER.replaceAll(',', ';')}\r\n${ROWS.map((row) => row.replaceAll(',', ';').replace('phone', '"a ""small""\nphone"')).join('\r\n')}`
    const result = await analyzed(quoted, PLAN)
    expect(Object.keys(result.metrics[0]!.comparisons[0]!.segments!.device!.values)).toEqual([
      'a "small"\nphone',
      'desktop',
    ])
    expectClose(result.metrics[2]!.comparisons[0]!.pValue, reference.ratio.pValue)
  })

  test('visitors without a past take part, and winsorizing is stated', async () => {
    const holes = CSV.replace(/^(v0-[0-4],control,\w+,\d,[\d.]+,)[\d.]+/gm, '$1')
    const metrics = PLAN.metrics.map((metric) =>
      metric.kind === 'mean' ? { ...metric, winsorize: { quantile: 0.9, of: 'all' } } : metric,
    )
    const result = await analyzed(holes, { ...PLAN, metrics })
    expect(result.metrics[1]!.arms.control!.visitors).toBe(160)
    expect(result.metrics[1]).toMatchObject({
      winsorized: { quantile: 0.9, of: 'all', limit: expect.any(Number), visitors: expect.any(Number) },
    })
  })

  test('bad rows stop the run, or are counted', async () => {
    const bad = CSV.replace('v0-3,control', 'v0-3,kontrol').replace(/(v1-4,b,\w+,\d,)[\d.]+/, '$1n/a')
    expect(await refusal(analyze([file('visitors.csv', bad), '--plan', file('plan.json', PLAN)]))).toContain(
      'line 5, column 2: the arm "kontrol" has no weight',
    )
    const result = await analyzed(bad, PLAN, '--skip-bad-rows')
    expect(result).toMatchObject({ skippedRows: 2, visitors: 298 })
  })

  const constant = (column: number) =>
    [
      HEADER,
      ...ROWS.map((row) =>
        row
          .split(',')
          .map((field, index) => (index === column ? '0' : field))
          .join(','),
      ),
    ].join('\n')
  test.each<[string, string, unknown, RegExp]>([
    [
      'a missing column',
      CSV,
      { ...PLAN, metrics: [{ ...PLAN.metrics[0], column: 'bought' }] },
      /plan\.json, line \d+, column \d+: .*no column "bought".*purchased/,
    ],
    ['a missing segment', CSV, { ...PLAN, segments: ['country'] }, /plan\.json, line \d+, column \d+: .*"country"/],
    ['no arm column', CSV.replace('variant', 'arm'), PLAN, /visitors\.csv, line 1, column 1: .*"variant"/],
    [
      'text for a number',
      CSV.replace(/(v0-2,control,\w+,)\d/, '$1yes'),
      PLAN,
      /line 4, column 4: "yes" is not a number/,
    ],
    ['an empty field', CSV.replace(/(v0-2,control,\w+,\d,)[\d.]+/, '$1'), PLAN, /line 4, column 5: the field is empty/],
    [
      'a conversion of 2',
      CSV.replace(/(v0-2,control,\w+,)\d/, '$12'),
      PLAN,
      /line 4, column 4: "2" is neither 0 nor 1/,
    ],
    ['too few fields', CSV.replace(/v0-2,control/, 'v0-2'), PLAN, /line 4, column 8: 7 fields, but the header has 8/],
    ['a visitor twice', CSV.replace('v0-2', 'v0-1'), PLAN, /line 4, column 1: the visitor "v0-1" has a row above/],
    ['an open quotation mark', CSV.replace('v0-2', '"v0-2'), PLAN, /line 4, column 1: a quotation mark/],
    ['a blank field', CSV.replace(/(v0-2,control,\w+,\d,)[\d.]+/, '$1 '), PLAN, /line 4, column 5: the field is empty/],
    [
      'a number that is not in plain digits',
      CSV.replace(/(v0-2,control,\w+,\d,)[\d.]+/, '$10x10'),
      PLAN,
      /line 4, column 5: "0x10" is not a number in plain digits/,
    ],
    ['an empty file', '', PLAN, /line 1, column 1: the file is empty/],
    ['a header alone', `${HEADER}\n`, PLAN, /line 2, column 1: there is no visitor/],
    ['a constant metric', constant(3), PLAN, /line 1, column 4: every visitor has the value 0 in "purchased"/],
    ['a column twice', CSV.replace('clicks', 'revenue'), PLAN, /line 1, column 7: the column "revenue" is there twice/],
    [
      'a weight of zero',
      CSV,
      { ...PLAN, weights: { control: 1, b: 0 } },
      /plan\.json, line 5, column 10: The weight of "b"/,
    ],
    ['a weight as text', CSV, { ...PLAN, weights: { control: 1, b: '1' } }, /line 5, column 10: The weight of "b"/],
    ['a control without weight', CSV, { ...PLAN, control: 'a' }, /line 2, column 14: The control "a" has no weight/],
    ['one arm', CSV, { ...PLAN, weights: { control: 1 } }, /at least one other arm/],
    ['alpha of 1', CSV, { ...PLAN, alpha: 1 }, /line 7, column 12: Alpha lies between 0 and 1/],
    ['alpha as text', CSV, { ...PLAN, alpha: '0.05' }, /Alpha lies between/],
    ['an unknown kind', CSV, { ...PLAN, metrics: [{ name: 'x', kind: 'median', column: 'revenue' }] }, /The kind is/],
    ['no metric', CSV, { ...PLAN, metrics: [] }, /at least one metric/],
    [
      'two primary metrics',
      CSV,
      { ...PLAN, metrics: [PLAN.metrics[0], { ...PLAN.metrics[1], role: 'primary' }] },
      /one primary metric/,
    ],
    [
      'a name twice',
      CSV,
      { ...PLAN, metrics: [PLAN.metrics[0], { ...PLAN.metrics[1], name: 'purchase' }] },
      /Two metrics are named/,
    ],
    [
      'an unknown level',
      CSV,
      { ...PLAN, factors: { device: ['phone', 'tablet'] } },
      /line 3, column 3: "desktop" is not a level/,
    ],
    ['a plan that is not JSON', CSV, '{ "control": "control", }', /plan\.json, line 1, column \d+: this is not JSON/],
    ['a plan that is a list', CSV, '[]', /the plan is a JSON object/],
  ])('refuses %s', async (_, csv, plan, message) => {
    expect(await refusal(analyze([file('visitors.csv', csv), '--plan', file('plan.json', plan)]))).toMatch(message)
  })

  test('refuses files that are not there, and unknown options', async () => {
    expect(await refusal(analyze([join(folder, 'none.csv'), '--plan', file('plan.json', PLAN)]))).toContain(
      'There is no file',
    )
    expect(await refusal(analyze([file('visitors.csv', CSV), '--plan', join(folder, 'none.json')]))).toContain(
      'There is no file',
    )
    expect(await refusal(analyze([file('visitors.csv', CSV), '--plan', file('plan.json', PLAN), '--skip']))).toContain(
      '--skip',
    )
    expect(await refusal(analyze([]))).toContain('Usage')
  })
})

describe('power', () => {
  test.each<[string, string, object]>([
    [
      'a conversion',
      '--kind conversion --baseline 0.05 --lift 0.1 --power 0.8 --alpha 0.05 --daily 900',
      { perArm: [31234, 31234], total: 62468, days: 70, weeks: 10 },
    ],
    ['unequal weights', '--kind conversion --baseline 0.05 --lift 0.1 --weights 2,1', { days: null }],
    ['a mean', '--kind mean --mean 10 --sd 25 --lift 0.05', { method: expect.stringContaining('noncentral t') }],
    [
      'the lift that visitors find',
      '--kind conversion --baseline 0.05 --visitors 62468',
      { detectableLift: expect.closeTo(0.1, 4) },
    ],
    [
      'the power of visitors',
      '--kind conversion --baseline 0.05 --visitors 62468 --lift 0.1',
      { power: expect.closeTo(0.8, 4) },
    ],
    [
      'planned looks',
      '--kind conversion --baseline 0.05 --lift 0.1 --rule pocock --looks 4',
      { method: expect.stringContaining('4 looks') },
    ],
  ])('of %s', async (_, args, expected) => {
    await power(args.split(' '))
    expect(JSON.parse(printed)).toMatchObject(expected)
  })

  test.each<[string, RegExp]>([
    ['--kind conversion --lift 0.1', /needs --baseline/],
    ['--kind conversion --baseline 5 --lift 0.1', /--baseline takes a number above 0 and below 1; "5"/],
    ['--kind conversion --baseline 0.05', /--lift/],
    ['--kind conversion --baseline 0.05 --lift 0', /not be zero/],
    ['--kind conversion --baseline 0.05 --lift 0.1 --weights 1,0', /--weights/],
    ['--kind conversion --baseline 0.05 --lift 0.1 --arms 3 --weights 1,1', /--arms says 3/],
    ['--kind conversion --baseline 0.05 --lift 0.1 --alpha 1', /--alpha/],
    ['--kind median', /--kind takes/],
  ])('refuses %s', async (args, message) => expect(await refusal(power(args.split(' ')))).toMatch(message))
})

describe('boundaries', () => {
  test('of five looks begin and end as tables of group-sequential designs say', async () => {
    await boundaries(['--looks', '5', '--spending', 'obrien-fleming'])
    const { z } = JSON.parse(printed) as { z: number[] }
    expect(z[0]).toBeCloseTo(4.8769, 3)
    expect(z[4]).toBeCloseTo(2.031, 3)
  })

  test('print critical values and the error spent', async () => {
    const expected = reference.boundaries[3]!
    await boundaries(['--fractions', expected.fractions.join(), '--spending', 'pocock', '--sides', 'together'])
    const { z, alphaSpent } = JSON.parse(printed) as { z: number[]; alphaSpent: number[] }
    z.forEach((bound, look) => expectClose(bound, expected.z[look]!, 1e-5))
    expectClose(alphaSpent.at(-1), 0.05, 1e-12)
  })

  test.each<[string, RegExp]>([
    ['--spending pocock', /--looks/],
    ['--looks 0', /--looks takes a whole number above 0/],
    ['--looks 3 --fractions 0.5,1', /--looks says 3/],
    ['--fractions 0.5,0.4', /ascend/],
    ['--looks 3 --spending flat', /--spending takes/],
    ['--looks 3 --alpha 0', /--alpha/],
  ])('refuse %s', async (args, message) => expect(await refusal(boundaries(args.split(' ')))).toMatch(message))
})

describe('rehearse', () => {
  test('prints shares and days, the same for the same seed', async () => {
    const args = [
      file('plan.json', { ...PLAN, decision: { smallestLift: 0.2, longestWeeks: 4 } }),
      '--baseline',
      '0.1',
      '--daily',
      '2000',
      '--runs',
      '50',
      '--seed',
      '3',
    ]
    await rehearse(args)
    const first = printed
    printed = ''
    await rehearse(args)
    expect(printed).toBe(first)
    const { scenarios, decision } = JSON.parse(first) as {
      scenarios: { lift: number; shares: Record<string, number>; days: { mean: number } }[]
      decision: object
    }
    expect(decision).toMatchObject({ rule: 'spending', leastWeeks: 2, longestWeeks: 4, plannedVisitors: 20_000 })
    expect(scenarios.map(({ lift }) => lift)).toEqual([0, 0.1, 0.2, 0.4])
    expect(scenarios[3]!.shares.ship).toBe(1)
    printed = ''
    await rehearse([...args, '--format', 'table'])
    expect(printed).toMatch(/40\.0 % +100\.0 %/)
    printed = ''
    await rehearse([...args, '--compare'])
    const { rules } = JSON.parse(printed) as { rules: { rule: string; scenarios: unknown }[] }
    expect(rules.map(({ rule }) => rule)).toEqual(['spending', 'sequential', 'fixed', 'low-risk'])
    expect(rules[0]!.scenarios).toEqual(scenarios)
    printed = ''
    await rehearse([...args, '--compare', '--format', 'table'])
    expect(printed).toMatch(/^Rule spending,[^]*^Rule sequential,[^]*^Rule fixed,[^]*^Rule low-risk,/m)
  })

  test('a split that moves loses less, and stands beside one that stays as set', async () => {
    const decision = { smallestLift: 0.3, leastWeeks: 2, longestWeeks: 2, split: 'moving' }
    const plan = { ...PLAN, plannedVisitors: 100_000, decision }
    await rehearse([file('plan.json', plan), '--baseline', '0.1', '--daily', '500', '--runs', '40', '--format', 'json'])
    const { scenarios, scenariosAsSet } = JSON.parse(printed) as Record<string, { lift: number; lost: number }[]>
    const at = (lift: number, of: { lift: number; lost: number }[] | undefined) =>
      of!.find((each) => each.lift === lift)!
    // Of a thousand visitors half get the control: it lacks 0.3 of its 0.1.
    expect(at(0.3, scenariosAsSet).lost).toBeCloseTo(15, 0)
    expect(at(0.3, scenarios).lost).toBeLessThan(8)
    expect(at(0, scenarios).lost).toBe(0)
    printed = ''
    await rehearse([file('plan.json', plan), '--baseline', '0.1', '--daily', '500', '--runs', '4', '--format', 'table'])
    expect(printed).toMatch(/split that moves[^]*split as set/)
  })

  test.each<[string, unknown, RegExp]>([
    [
      '--baseline 0.05 --daily 900',
      { ...PLAN, decision: { split: 'moving', leastShare: 0.6 } },
      /leaves nothing to move between 2 arms/,
    ],
    ['--daily 900', PLAN, /what "purchase" is in the control/],
    ['--baseline 0.05', PLAN, /--daily/],
    ['--baseline 0.05 --daily 0', PLAN, /new visitors/],
    ['--baseline 1.5 --daily 900', PLAN, /between 0 and 1/],
    ['--baseline 0.05 --daily 900 --runs 0', PLAN, /--runs/],
    ['--baseline 2 --daily 900', { ...PLAN, metrics: [PLAN.metrics[1]] }, /--sd/],
    [
      '--baseline 0.05 --daily 900',
      { ...PLAN, decision: { leastWeeks: 3, longestWeeks: 2 } },
      /longest run of 2 weeks is shorter/,
    ],
    ['--baseline 0.05 --daily 900', { ...PLAN, decision: { rule: 'lucky' } }, /line \d+, column \d+: The rule is/],
  ])('refuses %s', async (args, plan, message) =>
    expect(await refusal(rehearse([file('plan.json', plan), ...args.split(' ')]))).toMatch(message),
  )
})

describe('from another folder, as typed at a terminal', () => {
  const vetch = (...args: string[]) => spawnSync(resolve('vetch'), args, { encoding: 'utf8', cwd: folder })

  test('files are found where the command is called, and the output is nothing but JSON', () => {
    file('here.csv', CSV)
    file('here.json', PLAN)
    const { status, stdout } = vetch('analyze', 'here.csv', '--plan', 'here.json')
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toMatchObject({ visitors: 300 })
  })

  test('a refusal ends with exit code 2, its message on standard error and nothing printed', () => {
    file('bad.csv', CSV.replace('v0-3,control', 'v0-3,x'))
    const { status, stdout, stderr } = vetch('analyze', 'bad.csv', '--plan', 'here.json')
    expect({ status, stdout }).toEqual({ status: 2, stdout: '' })
    expect(stderr).toMatch(/^bad\.csv, line 5, column 2: /)
  })
})

test('a blank covariate is no past, and not a past of zero', async () => {
  const metric = (analysis: PrintedAnalysis) => analysis.metrics[1]!.comparisons[0]!.varianceReduction
  const without = await analyzed(CSV.replace(/(v0-2,control,\w+,\d,[\d.]+,)[\d.]+/, '$1'), PLAN)
  const blank = await analyzed(CSV.replace(/(v0-2,control,\w+,\d,[\d.]+,)[\d.]+/, '$1 '), PLAN)
  expect(metric(blank)).toEqual(metric(without))
})

test('without planned visitors it says what readings for any look are tuned to, and that it does not last', async () => {
  const { plannedVisitors: _, ...untuned } = PLAN
  expect((await analyzed(CSV, untuned)).notes).toEqual([
    expect.stringMatching(/tuned to the [\d,]+ visitors of this file/),
  ])
  expect((await analyzed(CSV, PLAN)).notes).toEqual([])
})

test('power says what looking more than once costs', async () => {
  printed = ''
  await power('--kind conversion --baseline 0.05 --lift 0.1 --rule sequential'.split(' '))
  const { total, oneLook } = JSON.parse(printed) as { total: number; oneLook: { total: number; times: number } }
  expect(oneLook.times).toBeCloseTo(total / oneLook.total, 2)
  expect(oneLook.times).toBeGreaterThan(1.5)
  printed = ''
  await power('--kind conversion --baseline 0.05 --lift 0.1'.split(' '))
  expect(JSON.parse(printed)).not.toHaveProperty('oneLook')
})

describe('help', () => {
  const own = mkdtempSync(join(folder, 'help-'))
  test('is there before anything is installed, for each command', () => {
    cpSync('vetch', join(own, 'vetch'))
    cpSync('cli/help', join(own, 'cli/help'), { recursive: true })
    const help = (...args: string[]) => spawnSync(join(own, 'vetch'), args, { encoding: 'utf8' })
    for (const args of [[], ['help'], ['--help'], ['-h']]) {
      const { status, stdout, stderr } = help(...args)
      expect([status, stderr]).toEqual([0, ''])
      expect(stdout).toContain('./vetch start')
    }
    const commands = [...help().stdout.matchAll(/^ {2}\.\/vetch (\w+)/gm)].map(([, name]) => name!)
    expect(commands.length).toBeGreaterThan(10)
    for (const name of commands) expect(help(name, '--help').stdout).toMatch(new RegExp(`^Usage: ./vetch ${name}`))
    expect(readdirSync(own).sort()).toEqual(['cli', 'vetch'])
  })

  test('shows an example for analyze that can be run as it stands', async () => {
    const [, csv, plan] = /visitors\.csv:\n\n([\s\S]*?)\n\nand plan\.json:\n\n([\s\S]*)$/.exec(helpOf('analyze'))!
    const { metrics } = await analyzed(csv!.replace(/^ +/gm, '') + '\n', plan!)
    expect(metrics.map(({ name }) => name)).toEqual(['orders', 'revenue'])
  })
})

test('of two who do the same at once, one waits, also where the first ends in the middle', async () => {
  const lock = join(folder, 'lock')
  const order: string[] = []
  const slow = alone(lock, async () => {
    order.push('first begins')
    await new Promise((later) => setTimeout(later, 300))
    order.push('first ends')
  })
  await new Promise((later) => setTimeout(later, 100))
  await Promise.all([slow, alone(lock, async () => void order.push('second'))])
  expect(order).toEqual(['first begins', 'first ends', 'second'])
  await expect(alone(lock, () => Promise.reject(new Error('broken')))).rejects.toThrow('broken')
  const code = `import { alone } from ${JSON.stringify(resolve('cli/stack/alone.ts'))}
    await alone(${JSON.stringify(lock)}, async () => process.kill(process.pid, 'SIGKILL'))`
  spawnSync(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', code])
  expect(await alone(lock, () => Promise.resolve('free'))).toBe('free')
})
