import type { InferType } from '../yup'
import { amount, deciding, exactly, id, listOf, oneOf, text, whole, yesOrNo } from '../api/replyPieces'
import type { PageRule } from '../../core/targeting/pageRule'

/** Fields of a rule on addresses. */
export const pageRuleFields = {
  match: oneOf<PageRule['match']>('exact', 'begins', 'contains', 'ends', 'wildcards', 'regex', 'present'),
  value: text(),
  part: text().nullable().optional(),
  parameter: text().nullable().optional(),
  isExcluded: yesOrNo().nullable().optional(),
  ignoresCase: yesOrNo().nullable().optional(),
  isStrictSlash: yesOrNo().nullable().optional(),
}
export const pageRuleReply = deciding<PageRule>(exactly(pageRuleFields))

export const collectionReply = exactly({
  behavior: exactly({ share: whole(), pages: listOf(pageRuleReply) }),
  recording: exactly({
    share: whole(),
    pages: listOf(pageRuleReply),
    masksText: yesOrNo(),
    days: whole(),
    megabytes: whole(),
  }),
  asksConsent: yesOrNo(),
  retentionDays: whole(),
  /** All recordings that are kept, in bytes. */
  recordedBytes: amount(),
  /** Of the last seven days. */
  lately: exactly({
    visitors: whole(),
    behaving: whole(),
    events: whole(),
    recordings: whole(),
    asked: whole(),
  }),
  /** Those that are shown. */
  surveys: listOf(
    exactly({
      id: id(),
      name: text(),
      pages: listOf(pageRuleReply),
      share: whole(),
    }),
  ),
})
export type CollectionView = InferType<typeof collectionReply>
