import type { FindingSource, FindingState, Severity } from '~~/shared/findings/finding'

/** What somebody writes of a finding. Tags as they are typed, separated by commas. */
export interface FindingDraft {
  title: string
  words: string
  severity: Severity
  tags: string
  page: string
}
export const newFindingDraft = (page = ''): FindingDraft => ({
  title: '',
  words: '',
  severity: 'medium',
  tags: '',
  page,
})

/** The draft as the server takes it. */
export function findingBody({ title, words, severity, tags, page }: FindingDraft) {
  const listed = tags
    .split(',')
    .map((tag) => tag.trim().toLowerCase())
    .filter(Boolean)
  return { title, words, severity, tags: [...new Set(listed)], page: page.trim() || null }
}

export const SEVERITY_CHOICES: readonly { value: Severity; label: string }[] = [
  { value: 'low', label: 'low' },
  { value: 'medium', label: 'medium' },
  { value: 'high', label: 'high' },
]
export const STATE_CHOICES: readonly { value: FindingState; label: string }[] = [
  { value: 'open', label: 'open' },
  { value: 'taken up', label: 'taken up' },
  { value: 'set aside', label: 'set aside' },
]
export const SOURCE_WORDS: Record<FindingSource, string> = {
  view: 'a view',
  page: 'the page',
  note: 'a note',
}
