import { readFile } from 'node:fs/promises'
import {
  findNodeAtLocation,
  parseTree,
  printParseErrorCode,
  type JSONPath,
  type Node,
  type ParseError,
} from 'jsonc-parser'
import { ValidationError } from 'yup'
import { analysisPlanSchema, type AnalysisPlan } from '../../shared/experiments/analysisPlan'
import { HumanError } from '../HumanError'
import { pathFromCaller } from '../pathFromCaller'

const DEFAULT_ALPHA = 0.05

/** A plan, and where in its file each part stands. */
export interface LocatedPlan {
  plan: AnalysisPlan
  /** An error that names file, line and column of the part. */
  problemAt: (path: JSONPath, message: string) => HumanError
}

/** Reads and checks a plan; every mistake is named with its line and column. */
export async function readPlan(file: string): Promise<LocatedPlan> {
  const text = await readFile(pathFromCaller(file), 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new HumanError(
      error.code === 'ENOENT' ? `There is no file ${file}.` : `${file} cannot be read: ${error.message}`,
      2,
    )
  })
  const tree = parse(file, text)
  const problemAt = (path: JSONPath, message: string) =>
    new HumanError(`${file}, ${lineAndColumn(text, locate(tree, path).offset)}: ${message}`, 2)
  const plan = check(tree, problemAt)
  checkSense(plan, problemAt)
  return { plan, problemAt }
}

function parse(file: string, text: string): Node {
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false, allowEmptyContent: false })
  const [first] = errors
  if (first) {
    const what = printParseErrorCode(first.error)
      .replace(/([a-z])([A-Z])/g, '$1 $2')
      .toLowerCase()
    throw new HumanError(`${file}, ${lineAndColumn(text, first.offset)}: this is not JSON (${what}).`, 2)
  }
  if (tree?.type !== 'object')
    throw new HumanError(
      `${file}, line 1, column 1: the plan is a JSON object, such as { "control": "control", "weights": …, "metrics": … }.`,
      2,
    )
  return tree
}

function check(tree: Node, problemAt: LocatedPlan['problemAt']): AnalysisPlan {
  try {
    const plan = analysisPlanSchema.validateSync(valueOf(tree), { abortEarly: false }) as Omit<
      AnalysisPlan,
      'alpha'
    > & { alpha?: number }
    return { ...plan, alpha: plan.alpha ?? DEFAULT_ALPHA }
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    const problems = (error.inner.length > 0 ? error.inner : [error]).map((each) => {
      const path = pathOf(each.path ?? '')
      return { path, offset: locate(tree, path).offset, message: each.message }
    })
    const first = problems.reduce((earliest, each) => (each.offset < earliest.offset ? each : earliest))
    throw problemAt(first.path, first.message)
  }
}

/** What a schema of single fields cannot see. */
function checkSense(plan: AnalysisPlan, problemAt: LocatedPlan['problemAt']): void {
  const arms = Object.keys(plan.weights)
  if (!arms.includes(plan.control))
    throw problemAt(
      ['control'],
      `The control "${plan.control}" has no weight. The arms with a weight are: ${arms.join(', ')}.`,
    )
  const names = plan.metrics.map((metric) => metric.name)
  const repeated = names.findIndex((name, index) => names.indexOf(name) < index)
  if (repeated >= 0) throw problemAt(['metrics', repeated, 'name'], `Two metrics are named "${names[repeated]}".`)
  const primaries = plan.metrics.flatMap((metric, index) => (metric.role === 'primary' ? [index] : []))
  if (primaries.length > 1)
    throw problemAt(['metrics', primaries[1]!, 'role'], 'A plan has one primary metric. Make this one secondary.')
  for (const [factor, levels] of Object.entries(plan.factors ?? {})) {
    if (new Set(levels).size < levels.length)
      throw problemAt(['factors', factor], `The factor "${factor}" names a level twice.`)
  }
}

/** Plain data of a syntax tree. Own keys only: "__proto__" in a file must stay a key. */
function valueOf(node: Node): unknown {
  if (node.type === 'array') return (node.children ?? []).map(valueOf)
  if (node.type !== 'object') return node.value
  const value: Record<string, unknown> = {}
  for (const property of node.children ?? []) {
    const [key, content] = property.children ?? []
    if (key && content)
      Object.defineProperty(value, key.value as string, {
        value: valueOf(content),
        enumerable: true,
        writable: true,
        configurable: true,
      })
  }
  return value
}

/** The node at a path, or its closest ancestor where it is missing. */
function locate(tree: Node, path: JSONPath): Node {
  for (let length = path.length; length > 0; length--) {
    const node = findNodeAtLocation(tree, path.slice(0, length))
    if (node) return node
  }
  return tree
}

/** `metrics[1].kind` and `weights["a.b"]` as a list of keys. */
function pathOf(text: string): JSONPath {
  return [...text.matchAll(/\["([^"]*)"\]|\[(\d+)\]|([^.[\]]+)/g)].map(([, quoted, index, plain]) =>
    index !== undefined ? Number(index) : (quoted ?? plain)!,
  )
}

function lineAndColumn(text: string, offset: number): string {
  const before = text.slice(0, offset)
  return `line ${before.split('\n').length}, column ${offset - before.lastIndexOf('\n')}`
}
