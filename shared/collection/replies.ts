import type { CollectionView } from './collection'
import type { PageRule } from '../../core/targeting/pageRule'
import { amount, exactly, id, listOf, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

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
export const pageRuleReply = exactly<PageRule>(pageRuleFields)

export const collectionReply = exactly<CollectionView>({
  behavior: exactly<CollectionView['behavior']>({ share: whole(), pages: listOf(pageRuleReply) }),
  recording: exactly<CollectionView['recording']>({
    share: whole(),
    pages: listOf(pageRuleReply),
    masksText: yesOrNo(),
    days: whole(),
    megabytes: whole(),
  }),
  asksConsent: yesOrNo(),
  retentionDays: whole(),
  recordedBytes: amount(),
  lately: exactly<CollectionView['lately']>({
    visitors: whole(),
    behaving: whole(),
    events: whole(),
    recordings: whole(),
    asked: whole(),
  }),
  surveys: listOf(
    exactly<CollectionView['surveys'][number]>({
      id: id(),
      name: text(),
      pages: listOf(pageRuleReply),
      share: whole(),
    }),
  ),
})
