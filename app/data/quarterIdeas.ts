import type { QuarterTerms, TestableIdea } from '~~/core/hypotheses/quarter'
import { matchesPage, matchesPageRule, type PageRule } from '~~/core/targeting/pageRule'
import { readPage } from '~~/shared/evidence/filter'
import type { HypothesisSummary } from '~~/shared/hypotheses'
import type { ExperimentSummary } from '~~/shared/experiment'

/** A test that runs already, and the pages that it has. */
export type RunningTest = Pick<ExperimentSummary, 'id' | 'name' | 'startedAt' | 'longestWeeks'> & { rules: PageRule[] }

const WEEK = 7 * 86_400_000
const addressOf = (page: string) => `https://site.invalid${page.startsWith('/') ? page : `/${page}`}`

/** Pages of the site that a rule is about; a rule that no known page fulfils stands for itself. */
export function pagesOf(pages: string | null, known: readonly string[]): string[] {
  const rule = pages === null ? null : readPage(pages)
  if (!rule) return [...known]
  const found = known.filter((page) => matchesPageRule(rule, addressOf(page)))
  return found.length > 0 ? found : [rule.value]
}

/** Ideas that are worth a test and can be tested, as the choice takes them: worth what they bring in a month. */
export function testableIdeas(hypotheses: readonly HypothesisSummary[], known: readonly string[]): TestableIdea[] {
  return hypotheses.flatMap(({ id, stage, pages, effortDays, assessment }) => {
    const { worth, cost, untestable } = assessment ?? {}
    const money = worth?.money?.expected
    const isOpen = stage === 'new' || stage === 'worth testing'
    if (!isOpen || !cost?.weeks || untestable || !money || money <= 0) return []
    return [{ id, weeks: cost.weeks, worth: money, effortDays: effortDays ?? 0, pages: pagesOf(pages, known) }]
  })
}

/** Why an idea is not among those that are chosen from; null where it is. */
export function whyNotTestable({ stage, assessment, likely, effortDays }: HypothesisSummary): string | null {
  if (stage !== 'new' && stage !== 'worth testing') return null
  if (!assessment) return 'has no metric or figures yet'
  if (likely === null || effortDays === null) return 'does not say what is expected'
  if (assessment.untestable) return assessment.untestable
  if (!assessment.worth?.money) return 'has no value in money: say what one is worth under “Ranked by” in the list'
  return assessment.worth.money.expected <= 0 ? 'is not expected to bring anything' : null
}

/** Weeks in which pages are taken by tests that run, counted from the beginning of the plan. */
export function takenWeeks(
  tests: readonly RunningTest[],
  known: readonly string[],
  begin: number,
  weeks: number,
): QuarterTerms['taken'] {
  return tests.flatMap(({ startedAt, longestWeeks, rules }) => {
    const end = (startedAt ? Date.parse(startedAt) : begin) + longestWeeks * WEEK
    const until = Math.min(weeks, Math.max(0, Math.ceil((end - begin) / WEEK)))
    if (until === 0) return []
    return known.filter((page) => matchesPage(rules, addressOf(page))).map((page) => ({ page, from: 0, until }))
  })
}
