import type { HypothesisSummary } from '~~/shared/hypotheses/replies'
import type { ExperimentSummary } from '~~/shared/experiments/replies'
import type { QuarterTerms, TestableIdea } from '~~/core/hypotheses/quarter'
import { LASTING, visitorParts } from '~~/core/hypotheses/visitorParts'
import { audienceOfSegment } from '~~/core/targeting/audienceOfSegment'
import type { Group } from '~~/core/targeting/condition'
import { matchesPage, matchesPageRule, type PageRule } from '~~/core/targeting/pageRule'
import { readPage, readSegment } from '~~/shared/evidence/filter'
import { DAY } from '~~/core/time/units'

/** A test that runs already, with the pages that it has, and of whom. */
export type RunningTest = Pick<ExperimentSummary, 'id' | 'name' | 'startedAt' | 'longestWeeks'> & {
  rules: PageRule[]
  audience: Group | null
}

const WEEK = 7 * DAY
const addressOf = (page: string) => `https://site.invalid${page.startsWith('/') ? page : `/${page}`}`

/** Pages of the site that a rule is about; a rule that no known page fulfils stands for itself. */
export function pagesOf(pages: string | null, known: readonly string[]): string[] {
  const rule = pages === null ? null : readPage(pages)
  if (!rule) return [...known]
  const found = known.filter((page) => matchesPageRule(rule, addressOf(page)))
  return found.length > 0 ? found : [rule.value]
}

/** What the quarter is chosen from: ideas that are worth a test and can be tested, and what has pages already. */
export interface QuarterQuestion {
  ideas: TestableIdea[]
  taken: QuarterTerms['taken']
}

/**
 * Ideas and running tests with what each needs of whom: tests collide where they need the same part of the visitors of
 * a page. Ideas are worth what they bring in a month.
 */
export function quarterQuestion(
  hypotheses: readonly HypothesisSummary[],
  tests: readonly RunningTest[],
  known: readonly string[],
  { begin, weeks }: { begin: number; weeks: number },
): QuarterQuestion {
  const open = hypotheses.flatMap(({ id, stage, pages, audience, effortDays, assessment }) => {
    const { worth, cost, untestable } = assessment ?? {}
    const money = worth?.money?.expected
    const isOpen = stage === 'new' || stage === 'worth testing'
    if (!isOpen || !cost?.weeks || untestable || !money || money <= 0) return []
    return [
      { id, weeks: cost.weeks, worth: money, effortDays: effortDays ?? 0, pages: pagesOf(pages, known), audience },
    ]
  })
  const parts = visitorParts([
    ...open.map(({ audience }) => lastingAudience(audience)),
    ...tests.map((test) => test.audience),
  ])
  const needed = (pages: readonly string[], index: number) =>
    pages.flatMap((page) => parts[index]!.map((part) => `${page} ${part}`))
  return {
    ideas: open.map(({ audience: _, ...idea }, index) => ({ ...idea, pages: needed(idea.pages, index) })),
    taken: tests.flatMap((test, index) => {
      const until = untilWeek(test, begin, weeks)
      if (until === 0) return []
      const pages = known.filter((page) => matchesPage(test.rules, addressOf(page)))
      return needed(pages, open.length + index).map((page) => ({ page, from: 0, until }))
    }),
  }
}

/** Of a segment of reports what visitors are for good; null where it asks for nothing of that. */
function lastingAudience(segment: string | null): Group | null {
  const parts = (segment === null ? null : readSegment(segment)) ?? []
  return audienceOfSegment(parts.filter(({ name }) => LASTING.some((fact) => fact === name)))
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

/** The week before which a test that runs has ended at the latest, counted from the beginning of the plan. */
export function untilWeek({ startedAt, longestWeeks }: RunningTest, begin: number, weeks: number): number {
  const end = (startedAt ? Date.parse(startedAt) : begin) + longestWeeks * WEEK
  return Math.min(weeks, Math.max(0, Math.ceil((end - begin) / WEEK)))
}
