import { createReadStream, type ReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import Papa from 'papaparse'
import { Tally, type TalliedMetric } from '../../core/analysis/tally'
import { comoment, mergeAll } from '../../core/statistics/moments'
import type { PlannedMetricInput } from '../../shared/experiments/analysisPlan'
import { HumanError } from '../HumanError'
import { pathFromCaller } from '../pathFromCaller'
import type { LocatedPlan } from './readPlan'
import { SeenVisitors } from './seenVisitors'

/** Combinations of arm, segment values and levels above which a segment is surely not one. */
const MOST_COMBINATIONS = 20_000

export interface ReadVisitorsOptions {
  skipBadRows: boolean
  onProgress: (shareRead: number) => void
}

export interface VisitorsRead {
  /** Names, the control first. */
  arms: string[]
  visitors: number[]
  metrics: ReturnType<Tally['finish']>
  skippedRows: number
  /** The first row that was skipped, in words. */
  firstSkipped: string | null
}

/**
 * Reads a CSV file with one row a visitor into sufficient statistics, without ever holding the file.
 *
 * @param file - header row; columns `visitor`, `variant` and those that the plan names
 * @throws HumanError that names line and column of the first mistake
 */
export async function readVisitors(
  file: string,
  located: LocatedPlan,
  options: ReadVisitorsOptions,
): Promise<VisitorsRead> {
  const size = await sizeOf(file)
  const stream = createReadStream(pathFromCaller(file), { encoding: 'utf8', highWaterMark: 1 << 18 })
  const reader = new VisitorReader(file, located, options.skipBadRows)
  await parseRows(stream, (rows, problem) => {
    reader.read(rows, problem)
    options.onProgress(stream.bytesRead / size)
  })
  return reader.finish()
}

async function sizeOf(file: string): Promise<number> {
  const found = await stat(pathFromCaller(file)).catch((error: NodeJS.ErrnoException) => {
    throw new HumanError(
      error.code === 'ENOENT' ? `There is no file ${file}.` : `${file} cannot be read: ${error.message}`,
      2,
    )
  })
  if (found.isDirectory()) throw new HumanError(`${file} is a folder. Name a CSV file.`, 2)
  if (found.size === 0)
    throw new HumanError(
      `${file}, line 1, column 1: the file is empty. It needs a header row and one row a visitor.`,
      2,
    )
  return found.size
}

function parseRows(
  stream: ReadStream,
  onRows: (rows: string[][], problem: Papa.ParseError | undefined) => void,
): Promise<void> {
  return new Promise((resolve, reject) => {
    stream.on('error', reject)
    Papa.parse<string[], ReadStream>(stream, {
      chunk: ({ data, errors }) => {
        try {
          onRows(
            data,
            errors.find((error) => error.type === 'Quotes'),
          )
        } catch (error) {
          stream.destroy()
          reject(error as Error)
        }
      },
      complete: () => resolve(),
      error: reject,
    })
  })
}

/** Positions of the columns that the plan needs. */
interface Layout {
  visitor: number
  variant: number
  segments: number[]
  factors: { position: number; name: string; levels: Set<string> }[]
  /** Columns of numbers, and whether an empty field is allowed. */
  numbers: { position: number; name: string; isCovariate: boolean; isConversion: boolean }[]
}

class VisitorReader {
  private line = 0
  private layout: Layout | null = null
  private tally: Tally | null = null
  private header: string[] = []
  private skippedRows = 0
  private firstSkipped: string | null = null
  private readonly seen = new SeenVisitors()
  private readonly arms: string[]
  private readonly armPositions: Map<string, number>
  private readonly talliedMetrics: TalliedMetric[] = []

  constructor(
    private readonly file: string,
    private readonly located: LocatedPlan,
    private readonly skipBadRows: boolean,
  ) {
    const { control, weights } = located.plan
    this.arms = [control, ...Object.keys(weights).filter((arm) => arm !== control)]
    this.armPositions = new Map(this.arms.map((arm, index) => [arm, index]))
  }

  read(rows: string[][], quotes: Papa.ParseError | undefined): void {
    rows.forEach((row, index) => {
      const line = this.line + 1
      this.line += linesOf(row)
      if (quotes?.row === index)
        throw this.problem(line, 1, 'a quotation mark is not closed, or stands in the middle of a field.')
      if (!this.layout) {
        if (!isBlank(row)) this.readHeader(row, line)
        return
      }
      if (isBlank(row)) return
      const bad = this.readRow(row, line, this.layout, this.tally!)
      if (bad) this.skipOrThrow(bad)
    })
  }

  finish(): VisitorsRead {
    if (!this.layout || !this.tally)
      throw this.problem(1, 1, 'the file is empty. It needs a header row and one row a visitor.')
    const visitors = this.tally.visitors()
    if (visitors.every((count) => count === 0))
      throw this.problem(
        this.line + 1,
        1,
        this.skippedRows > 0 ? 'no row is left: every one was skipped.' : 'there is no visitor below the header.',
      )
    const metrics = this.tally.finish()
    this.checkVariation(metrics)
    return { arms: this.arms, visitors, metrics, skippedRows: this.skippedRows, firstSkipped: this.firstSkipped }
  }

  private readHeader(row: string[], line: number): void {
    this.header = row.map((name, index) => (index === 0 ? name.replace(/^\uFEFF/, '') : name).trim())
    const repeated = this.header.findIndex((name, index) => name !== '' && this.header.indexOf(name) < index)
    if (repeated >= 0) throw this.problem(line, repeated + 1, `the column "${this.header[repeated]}" is there twice.`)
    const fixed = (name: string, what: string) => {
      const position = this.header.indexOf(name)
      if (position < 0)
        throw this.problem(
          line,
          1,
          `there is no column "${name}" with ${what}. The columns are: ${this.header.join(', ')}.`,
        )
      return position
    }
    const [visitor, variant] = [fixed('visitor', 'the visitor’s id'), fixed('variant', 'the visitor’s arm')]
    const { plan } = this.located
    const layout: Layout = { visitor, variant, segments: [], factors: [], numbers: [] }
    layout.segments = (plan.segments ?? []).map((name, index) => this.column(name, ['segments', index]))
    layout.factors = Object.entries(plan.factors ?? {}).map(([name, levels]) => ({
      position: this.column(name, ['factors', name]),
      name,
      levels: new Set(levels),
    }))
    plan.metrics.forEach((metric, index) => this.talliedMetrics.push(this.layMetric(metric, index, layout)))
    this.layout = layout
    this.tally = new Tally({ arms: this.arms.length, segments: plan.segments ?? [], metrics: this.talliedMetrics })
    this.numbers = new Float64Array(layout.numbers.length)
    this.segmentValues = layout.segments.map(() => '')
    this.levels = layout.factors.map(() => '')
  }

  private numbers = new Float64Array(0)
  private segmentValues: string[] = []
  private levels: string[] = []

  private layMetric(metric: PlannedMetricInput, index: number, layout: Layout): TalliedMetric {
    const number = (name: string, key: string, isCovariate = false) => {
      const position = this.column(name, ['metrics', index, key])
      const isConversion = metric.kind === 'conversion' && !isCovariate
      const known = layout.numbers.findIndex(
        (each) => each.position === position && each.isCovariate === isCovariate && each.isConversion === isConversion,
      )
      return known >= 0 ? known : layout.numbers.push({ position, name, isCovariate, isConversion }) - 1
    }
    const values =
      metric.kind === 'ratio'
        ? [number(metric.numerator, 'numerator'), number(metric.denominator, 'denominator')]
        : [number(metric.column, 'column')]
    const winsorize = metric.kind === 'mean' ? metric.winsorize : undefined
    return {
      kind: metric.kind,
      values,
      covariate: metric.covariate === undefined ? null : number(metric.covariate, 'covariate', true),
      winsorize:
        winsorize === undefined
          ? null
          : typeof winsorize === 'number'
            ? { quantile: winsorize, basis: 'above zero' }
            : { quantile: winsorize.quantile, basis: winsorize.of },
    }
  }

  private column(name: string, path: (string | number)[]): number {
    const position = this.header.indexOf(name)
    if (position < 0)
      throw this.located.problemAt(
        path,
        `${this.file} has no column "${name}". Its columns are: ${this.header.join(', ')}.`,
      )
    return position
  }

  /** What is wrong with a row; null when it was added. */
  private readRow(row: string[], line: number, layout: Layout, tally: Tally): HumanError | null {
    if (row.length !== this.header.length)
      return this.problem(
        line,
        Math.min(row.length, this.header.length) + 1,
        `${row.length} fields, but the header has ${this.header.length}.`,
      )
    const arm = this.armPositions.get(row[layout.variant]!)
    if (arm === undefined)
      return this.problem(
        line,
        layout.variant + 1,
        `the arm "${row[layout.variant]}" has no weight in the plan. The arms are: ${this.arms.join(', ')}.`,
      )
    for (let index = 0; index < layout.numbers.length; index++) {
      const { position, name, isCovariate, isConversion } = layout.numbers[index]!
      const text = row[position]!
      const number = readNumber(text)
      if (!Number.isFinite(number) && !(isCovariate && text.trim() === '')) {
        return this.problem(
          line,
          position + 1,
          text.trim() === ''
            ? `the field is empty, but "${name}" needs a number (0 where nothing happened).`
            : `"${text}" is not a number in plain digits, as "${name}" needs.`,
        )
      }
      if (isConversion && number !== 0 && number !== 1)
        return this.problem(line, position + 1, `"${text}" is neither 0 nor 1, as the conversion "${name}" needs.`)
      this.numbers[index] = number
    }
    layout.segments.forEach((position, index) => (this.segmentValues[index] = row[position]!))
    for (const [index, { position, name, levels }] of layout.factors.entries()) {
      const level = row[position]!
      if (!levels.has(level))
        return this.problem(
          line,
          position + 1,
          `"${level}" is not a level of "${name}". The levels are: ${[...levels].join(', ')}.`,
        )
      this.levels[index] = level
    }
    const visitor = row[layout.visitor]!
    if (visitor === '') return this.problem(line, layout.visitor + 1, 'the visitor has no id.')
    if (this.seen.addOrFind(visitor))
      return this.problem(
        line,
        layout.visitor + 1,
        `the visitor "${visitor}" has a row above already. There is one row a visitor.`,
      )
    tally.add(arm, this.segmentValues, this.levels, this.numbers)
    if (tally.combinations > MOST_COMBINATIONS) {
      throw this.located.problemAt(
        ['segments'],
        `these segments have more than ${MOST_COMBINATIONS.toLocaleString('en-US')} combinations. Leave out the columns with many values.`,
      )
    }
    return null
  }

  private skipOrThrow(bad: HumanError): void {
    if (!this.skipBadRows) throw bad
    this.skippedRows++
    this.firstSkipped ??= bad.message
  }

  /** A metric that is the same for every visitor was read from the wrong column, or measures nothing. */
  private checkVariation(metrics: VisitorsRead['metrics']): void {
    this.located.plan.metrics.forEach((metric, index) => {
      const all = mergeAll(metrics[index]!.arms)
      const values = this.talliedMetrics[index]!.values
      const varies = values.some((_, value) => comoment(all, value, value) > 0)
      if (!varies) {
        const { position, name } = this.layout!.numbers[values[0]!]!
        throw this.problem(
          1,
          position + 1,
          `every visitor has the value ${all.means[0]} in "${name}", so the metric "${metric.name}" has nothing to compare. Check the column, or leave the metric out.`,
        )
      }
    })
  }

  private problem(line: number, column: number, what: string): HumanError {
    return new HumanError(`${this.file}, line ${line}, column ${column}: ${what}`, 2)
  }
}

function isBlank(row: string[]): boolean {
  return row.length === 1 && row[0]!.trim() === ''
}

/** Lines of the file that a row takes: one, and one more for each line break within its fields. */
function linesOf(row: string[]): number {
  let lines = 1
  for (const field of row) {
    for (let at = field.indexOf('\n'); at >= 0; at = field.indexOf('\n', at + 1)) lines++
  }
  return lines
}

/** Digits with a sign, a point and an exponent, as they may be; NaN for anything else, blank fields among it. */
function readNumber(text: string): number {
  const plain = text.trim()
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain) ? Number(plain) : NaN
}
