import type { MetricRole } from '../analysis/analysis'
import type { EditContent, EditMarks } from '../edits/content'
import { editName, editProblems } from '../edits/edit'
import type { MetricDefinition, MetricSource } from '../measurement/metric'
import { LEAST_SHARE, type Purpose, type SheetFactor, type SheetPlan } from '../sheet/content'
import { MOST_HELD_BACK } from '../sheet/heldBack'
import { rampProblem } from '../sheet/ramp'
import type { SheetTerms } from '../sheet/terms'
import type { Group } from '../targeting/condition'
import { conditionProblems } from '../targeting/conditionProblems'
import { isSameRule, matchesPage, namedPath, type PageRule } from '../targeting/pageRule'
import type { DecisionPlan } from '../verdict/verdict'
import { changedLevels, factorFindings } from './factorFindings'

/** The section of the sheet in which a finding can be mended. */
export type SheetSection = 'why' | 'what' | 'who' | 'measured' | 'decided'

export interface PreflightFinding {
  section: SheetSection
  /** What is missing or wrong, and what to do. */
  text: string
  /** Keeps from starting; anything else is told. */
  isStop: boolean
}

export interface PreflightInput {
  purpose?: Purpose
  /** Origin of the site, to which the paths of page rules belong. */
  siteAddress: string
  pageRules: readonly PageRule[]
  /** Conditions on visitors; null for everybody. */
  audience?: Group | null
  share: number
  terms?: SheetTerms
  variants: readonly {
    name: string
    weight: number
    edits: readonly (EditContent & EditMarks)[]
    /** Of a personalization, whom this wording is for. */
    audience?: Group | null
  }[]
  /** Of a multivariate test. */
  factors?: readonly SheetFactor[]
  combinationsOff?: readonly { id: string }[]
  /** The primary metric first. */
  metrics: readonly (MetricDefinition & { name: string; role: MetricRole })[]
  plan: Omit<DecisionPlan, 'plannedVisitors'> & Pick<SheetPlan, 'split' | 'leastShare' | 'adjustedBy'>
  isInstalled: boolean
  /** Whether variants may bring scripts of their own. */
  allowsScripts: boolean
}

/**
 * What still keeps an experiment from starting, in the order of the sheet.
 *
 * @returns an empty list when it may start
 */
export function preflight(input: PreflightInput): PreflightFinding[] {
  return [
    ...checkVariants(input),
    ...checkAudience(input),
    ...checkMetrics(input),
    ...(input.purpose === 'serve' ? checkServed(input) : [...checkPlan(input.plan), ...checkSplit(input)]),
  ]
}

/** What a personalization asks for, and a test does not: wordings that somebody gets, for most of its visitors. */
function checkServed({ variants, factors = [], plan }: PreflightInput): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  if (factors.length > 0)
    findings.push({ section: 'what', isStop: true, text: 'What is served has no factors. Make wordings instead.' })
  if (plan.split === 'moving')
    findings.push({
      section: 'decided',
      isStop: true,
      text: 'A personalization keeps its split. Choose the split “as set”.',
    })
  const wordings = variants.slice(1)
  for (const { name, audience } of wordings)
    for (const { text } of audience ? conditionProblems(audience) : [])
      findings.push({ section: 'what', isStop: true, text: `${name}: ${text}` })
  const open = wordings.findIndex(({ audience }) => !audience)
  const unreached = open < 0 ? undefined : wordings[open + 1]
  if (unreached)
    findings.push({
      section: 'what',
      isStop: true,
      text: `“${wordings[open]!.name}” is for everybody, so that nobody gets “${unreached.name}”. Change their order, or say whom the first is for.`,
    })
  if ((variants[0]?.weight ?? 0) > MOST_HELD_BACK)
    findings.push({
      section: 'who',
      isStop: true,
      text: 'More than half are held back. Lower the share, or make it an experiment.',
    })
  if (!(plan.smallestLift > 0))
    findings.push({
      section: 'measured',
      isStop: true,
      text: 'Say which lift would be worth having: a number above 0 %.',
    })
  return findings
}

function checkVariants({
  purpose,
  variants,
  factors = [],
  combinationsOff = [],
  allowsScripts,
}: PreflightInput): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  const add = (text: string) => findings.push({ section: 'what', isStop: true, text })
  if (variants.length < 2)
    add(purpose === 'serve' ? 'Add what is served.' : 'Add a variant to compare with the control.')
  const [control, ...others] = variants
  const isMultivariate = factors.length > 0
  if (!isMultivariate && control && control.edits.length > 0) add('The control is the page as it is: remove its edits.')
  for (const variant of isMultivariate ? changedLevels(factors) : others) {
    const edits = variant.edits.filter(({ isOff }) => !isOff)
    if (edits.length === 0)
      add(`${variant.name} changes nothing yet. Open the page and point at what it should change.`)
    if (!allowsScripts && edits.some(({ kind }) => kind === 'script'))
      add(`${variant.name} brings a script, which an owner of the site has forbidden. Take it out, or ask an owner.`)
    for (const edit of edits)
      for (const problem of editProblems(edit)) add(`${variant.name}, ${editName(edit)}: ${problem}`)
  }
  const names = variants.map((variant) => variant.name.trim().toLowerCase())
  if (!isMultivariate && new Set(names).size < names.length) add('Two variants have the same name. Rename one.')
  return [...findings, ...factorFindings(factors, combinationsOff)]
}

function checkAudience({
  purpose,
  pageRules,
  audience,
  share,
  terms,
  variants,
  isInstalled,
}: PreflightInput): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  const add = (text: string) => findings.push({ section: 'who', isStop: true, text })
  if (pageRules.length === 0)
    add(purpose === 'serve' ? 'Name the page that it is served on.' : 'Name the page that the experiment runs on.')
  for (const { text } of audience ? conditionProblems(audience) : []) add(text)
  if (share <= 0) add('No visitor takes part. Raise the traffic share above 0 %.')
  const problem = rampProblem(terms?.ramp ?? [], share)
  if (share > 0 && problem) add(problem)
  if (purpose !== 'serve' && variants.some((variant) => variant.weight <= 0))
    add('Every variant needs a weight above zero.')
  if (!isInstalled)
    add('No visitor has reported from the site yet. Put the script line on its pages and check the installation.')
  return findings
}

function checkMetrics({ purpose, variants, metrics, pageRules, siteAddress }: PreflightInput): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  const add = (text: string) => findings.push({ section: 'measured', isStop: true, text })
  const primary = metrics.find(({ role }) => role === 'primary')
  const others = metrics.filter((metric) => metric !== primary)
  const isMeasured = purpose !== 'serve' || (variants[0]?.weight ?? 0) > 0
  if (!primary) {
    if (isMeasured)
      add(purpose === 'serve' ? 'Choose the metric that it should move.' : 'Choose the metric that decides.')
  } else if (countsTestedPage(primary.source, pageRules, siteAddress))
    add(
      'The metric counts visits of the tested page itself, so every visitor would convert. Choose a page that comes after it.',
    )
  for (const { name, kind, source } of others) {
    if (kind === 'conversion' && countsTestedPage(source, pageRules, siteAddress))
      add(
        `“${name}” counts visits of the tested page itself, so it can show no difference. Choose another page, or remove it.`,
      )
  }
  const names = metrics.map(({ name }) => name.trim().toLowerCase())
  if (new Set(names).size < names.length) add('Two metrics have the same name. Rename one.')
  return findings
}

function countsTestedPage(source: MetricSource, pageRules: readonly PageRule[], siteAddress: string): boolean {
  if (source.type !== 'visit') return false
  const path = namedPath(source.page)
  const firesAtOnce = path !== null && matchesPage(pageRules, siteAddress + path)
  return firesAtOnce || pageRules.some((rule) => isSameRule(rule, source.page))
}

function checkPlan(plan: PreflightInput['plan']): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  const add = (text: string) => findings.push({ section: 'decided', isStop: true, text })
  if (!(plan.smallestLift > 0)) add('Say which lift would be worth having: a number above 0 %.')
  if (plan.longestWeeks < plan.leastWeeks) add('The longest run is shorter than the least run.')
  return findings
}

/** What a split that moves cannot be joined with. */
function checkSplit({ plan, variants, metrics, factors = [], terms }: PreflightInput): PreflightFinding[] {
  if (plan.split !== 'moving') return []
  const problems: [isSo: boolean, text: string][] = [
    [
      (plan.leastShare ?? LEAST_SHARE) * variants.length > 1,
      `The least share leaves nothing to move: ${variants.length} variants can keep at most ${percent(1 / variants.length)} each.`,
    ],
    [
      variants.some(({ weight }) => weight === 0),
      'A split that moves gives each variant visitors. Set no weight to 0.',
    ],
    [factors.length > 0, 'The split of a multivariate test cannot move. Let it stay as set.'],
    [terms?.unit === 'person', 'A split that moves is drawn by the visitor. Let it stay as set, or assign by visitor.'],
    [plan.adjustedBy === 'past', 'A plan cannot move its split and adjust as well. Choose one of them.'],
    [
      metrics[0]?.kind === 'ratio',
      'A split cannot follow a ratio. Choose another primary metric, or let it stay as set.',
    ],
  ]
  return problems.flatMap(([isSo, text]) => (isSo ? [{ section: 'decided' as const, text, isStop: true }] : []))
}

function percent(share: number): string {
  return `${Math.floor(share * 1000) / 10} %`
}
