import type { HypothesisView } from '~~/shared/hypotheses/replies'
import type { Strength } from '~~/core/hypotheses/pastLifts'
import { STAGES, type Stage } from '~~/shared/hypotheses/hypothesis'

/** What somebody writes of a hypothesis. Numbers as they are typed, where they are none; tags separated by commas. */
export interface HypothesisDraft {
  title: string
  change: string
  reason: string
  /** null while it is put together from the parts. */
  statement: string | null
  /** As filters write them; empty for all. */
  pages: string
  audience: string
  metric: string
  direction: 'up' | 'down'
  low: number | string | null
  likely: number | string | null
  high: number | string | null
  effortDays: number | string | null
  strength: Strength
  tags: string
  owner: string
  findings: number[]
  scores: Record<string, number | string>
}

export const newHypothesisDraft = (findings: number[] = []): HypothesisDraft => ({
  title: '',
  change: '',
  reason: '',
  statement: null,
  pages: '',
  audience: '',
  metric: '',
  direction: 'up',

  low: null,
  likely: null,
  high: null,
  effortDays: null,
  strength: 'fair',
  tags: '',
  owner: '',
  scores: {},
  findings,
})

export const draftOfHypothesis = (from: HypothesisView): HypothesisDraft => ({
  title: from.title,
  change: from.change,
  reason: from.reason,
  statement: from.statement,

  pages: from.pages ?? '',
  audience: from.audience ?? '',
  metric: from.metric ?? '',
  direction: from.direction,

  low: from.low,
  likely: from.likely,
  high: from.high,
  effortDays: from.effortDays,
  strength: from.strength,

  tags: from.tags.join(', '),
  owner: from.owner ? String(from.owner.id) : '',
  scores: { ...from.scores },
  findings: from.findings.map(({ id }) => id),
})

/** The draft as the server takes it. */
export function hypothesisBody({
  pages,
  audience,
  metric,
  owner,
  tags,
  statement,
  scores,
  ...fields
}: HypothesisDraft) {
  const listed = tags
    .split(',')
    .map((tag) => tag.trim().toLowerCase())
    .filter(Boolean)
  const given = Object.entries(scores).filter(([, score]) => score !== '')
  return {
    ...fields,

    pages: pages || null,
    audience: audience || null,
    metric: metric || null,
    owner: owner ? Number(owner) : null,

    tags: [...new Set(listed)],
    statement: statement?.trim() || null,
    scores: Object.fromEntries(given.map(([id, score]) => [id, Number(score)])),
  }
}

export const STRENGTH_CHOICES: readonly { value: Strength; label: string }[] = [
  { value: 'weak', label: 'weak' },
  { value: 'fair', label: 'fair' },
  { value: 'strong', label: 'strong' },
]
export const STAGE_CHOICES: readonly { value: Stage; label: string }[] = STAGES.map((value) => ({
  value,
  label: value,
}))
