import { durationInWords } from '~/data/durations'
import type { CandidateRule } from '~~/core/evidence/candidates/candidates'
import type { Share } from '~~/core/statistics/newcombe'
import { pageText, type FilterQuery } from '~~/shared/evidence/filter'
import type { CandidatesView } from '~~/shared/evidence/reports'
import type { FrozenReport } from '~~/shared/findings/finding'

/** Something worth a look, as it is read, and the view that shows it. */
export interface ShownCandidate {
  key: string
  rule: CandidateRule
  page: string
  title: string
  why: string
  /** Within Evidence. */
  place: string
  report: FrozenReport
  question: object
  focus: string | null
}

export const RULE_WORDS: Record<CandidateRule, string> = {
  slowFields: 'Fields that take phones at least three times as long',
  leftFields: 'Fields where phones leave more often, by at least ten points',
  deadElements: 'Elements that do nothing when they are clicked',
  risingExits: 'Pages that end more sessions than before, by two points at least',
}

const rate = ({ count, of }: Share) => `${formatShare(of === 0 ? null : count / of, 1)} of ${formatCount(of)}`
const address = (filter: FilterQuery, more: Record<string, string>) =>
  new URLSearchParams({ ...(filter as unknown as Record<string, string>), ...more }).toString()

/** All that stands out, rule by rule. */
export function candidatesInWords(found: CandidatesView, filter: FilterQuery): ShownCandidate[] {
  const form = ({ page, form: own }: { page: string; form: string }) => {
    const focus = `${page} ${own}`
    const place = `forms?${address(filter, { form: focus, segment: 'device:phone' })}`
    return { page, place, report: 'forms' as const, focus, question: { ...filter, segment: 'device:phone' } }
  }
  return [
    ...found.slowFields.map((each) => ({
      ...form(each),
      rule: 'slowFields' as const,
      key: `slow ${each.page} ${each.form} ${each.field}`,
      title: `Phones take ${(each.median / Math.max(1, each.otherMedian)).toFixed(1)} times as long at “${each.field}” on ${each.page}`,
      why: `Median ${durationInWords(each.median)} of ${formatCount(each.visitors)} visitors on phones, against ${durationInWords(each.otherMedian)} of ${formatCount(each.others)} elsewhere.`,
    })),
    ...found.leftFields.map((each) => ({
      ...form(each),
      rule: 'leftFields' as const,
      key: `left ${each.page} ${each.form} ${each.field}`,
      title: `Phones leave the form on ${each.page} at “${each.field}”`,
      why: `${rate(each.marked)} who began it on phones left there, against ${rate(each.others)} elsewhere.`,
    })),
    ...found.deadElements.map((each) => {
      const of = pageText({ match: 'exact', value: each.page })
      const question = { ...filter, of, kind: 'dead', widthFrom: 0, widthBelow: 100_000 }
      return {
        rule: 'deadElements' as const,
        key: `dead ${each.page} ${each.path}`,
        page: each.page,
        title: `“${each.element}” on ${each.page} does nothing when it is clicked`,
        why: `${rate(each.marked)} visitors who clicked it got no answer; of the other elements of the page ${rate(each.others)}.`,
        place: `heatmap?${address(filter, { of, layer: 'dead' })}`,

        report: 'clicks' as const,
        focus: null,
        question,
      }
    }),
    ...found.risingExits.map((each) => ({
      rule: 'risingExits' as const,
      key: `exits ${each.page}`,
      page: each.page,
      title: `More sessions end on ${each.page} than before`,
      why: `${rate(each.marked)} sessions with a view of it ended there, against ${rate(each.others)} in the previous period.`,
      place: `page?${address(filter, { of: each.page })}`,

      report: 'pages' as const,
      focus: each.page,
      question: { ...filter },
    })),
  ]
}
